package plenzo.hostprotocol;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Messages between Plenzo and an application host, version 1. Every call is JSON over HTTP below
 * {@link #ROOT}, with a bearer token.
 */
public interface HostProtocol {
  int VERSION = 1;

  String ROOT = "/plenzo-host/v1";

  /**
   * Who the host is.
   *
   * @param instance identity of the installation itself; a copy has the same until it is told
   *     otherwise
   * @param marker what Plenzo wrote there, null before
   * @param release of the product, three numbers with dots; null when it is not told
   * @param refreshes whether it keeps something that must be refreshed after a switch; null for not
   * @param spaces whether it makes places of their own in which definitions are tried; null for not
   */
  record Identity(
      int protocol,
      String product,
      String instance,
      @Nullable Marker marker,
      @Nullable String release,
      @Nullable Boolean refreshes,
      @Nullable Boolean spaces) {}

  /**
   * How a place of its own begins.
   *
   * @param empty without definitions and values; else with copies of all that are there
   */
  record Space(boolean empty) {}

  /** Names of the places that are there. */
  record Spaces(List<String> spaces) {
    public Spaces {
      spaces = List.copyOf(spaces);
    }
  }

  /** Times are RFC 3339. */
  record Marker(String service, String stage, String site, String target, String since) {}

  record Inventory(List<Component> components) {
    public Inventory {
      components = List.copyOf(components);
    }
  }

  /**
   * One definition.
   *
   * @param kind rule, form or integration
   * @param revision changes whenever the document does, and never comes again
   * @param unbound names of its inputs that have no value
   * @param visible whether people can reach it, such as a form that stands in some menu; null when
   *     the host does not tell
   * @param changedBy who changed the document last; null when it is not known
   */
  record Component(
      String kind,
      String name,
      String revision,
      boolean active,
      List<String> unbound,
      @Nullable Boolean visible,
      @Nullable String changedBy,
      @Nullable String changedAt) {
    public Component {
      unbound = List.copyOf(unbound);
    }
  }

  /** Text is the component document as JSON. */
  record Document(String kind, String name, String revision, String text) {}

  /**
   * What a run brings. A later call for the same run replaces an earlier one.
   *
   * @param inputs values that the host keeps from the switch on
   */
  record Prepare(List<Change> changes, List<Input> inputs) {
    public Prepare {
      changes = List.copyOf(changes);
      inputs = List.copyOf(inputs);
    }
  }

  /**
   * @param present revision that must be there at the switch, null when nothing may be there
   * @param document what comes, null when the component goes
   * @param activate whether it is switched on; else a new one arrives off, another keeps its state
   */
  record Change(
      String kind,
      String name,
      @Nullable String present,
      @Nullable String document,
      boolean activate) {}

  /** A value that holds from the switch on; null: there is none any more. */
  record Input(String name, @Nullable String value, boolean secret) {
    @Override
    public String toString() {
      return name + "=" + (secret ? "(secret)" : value);
    }
  }

  /**
   * @param anchor head of Plenzo's history, which the host keeps with the run and gives back; null
   *     when there is none
   */
  record Switch(String version, String fingerprint, String person, @Nullable String anchor) {}

  /** Numbers of runs that are prepared and were neither applied, made void nor discarded. */
  record PreparedRuns(List<Long> runs) {
    public PreparedRuns {
      runs = List.copyOf(runs);
    }
  }

  /** Runs that were applied and not undone, the newest first. */
  record Ran(List<RanOnce> runs) {
    public Ran {
      runs = List.copyOf(runs);
    }
  }

  /** A run as its switch told it. */
  record RanOnce(long run, String version, String fingerprint, @Nullable String anchor) {}

  /**
   * How a call for a run ended.
   *
   * @param outcome prepared, applied, refused, void, undone or discarded
   * @param why moved, touched, busy or void when refused; null otherwise
   * @param details components that moved, kind/name
   * @param fingerprint of the plan whose switch was applied under that number; null when none was,
   *     or the host does not tell it
   */
  record Outcome(
      String outcome, @Nullable String why, List<String> details, @Nullable String fingerprint) {
    public Outcome {
      details = List.copyOf(details);
    }

    public static Outcome of(String outcome) {
      return new Outcome(outcome, null, List.of(), null);
    }

    public static Outcome of(String outcome, @Nullable String fingerprint) {
      return new Outcome(outcome, null, List.of(), fingerprint);
    }

    public static Outcome refused(String why, List<String> details) {
      return new Outcome("refused", why, details, null);
    }
  }

  /**
   * People are those signed in who are no operators. Announced is what they are told before they
   * are kept out, null when nothing is.
   */
  record Work(
      List<WorkItem> running, long people, boolean maintenance, @Nullable Announcement announced) {
    public Work {
      running = List.copyOf(running);
    }
  }

  /** Component is the definition that the work is in the middle of, kind/name. */
  record WorkItem(String id, String what, String person, String component) {}

  record Maintenance(boolean on, long run, String notice) {}

  /** What people are told before they are kept out; at is an RFC 3339 time, null takes it back. */
  record Announcement(String notice, @Nullable String at) {}

  record Refresh(long run) {}

  /** What was refreshed, and what people must do themselves, both in words. */
  record Refreshed(List<String> done, List<String> people) {
    public Refreshed {
      done = List.copyOf(done);
      people = List.copyOf(people);
    }
  }

  record Activation(String kind, String name, boolean active) {}

  /** Question and answer are JSON texts whose meaning is the host's own. */
  record Probe(String question) {}

  record Answer(String answer) {}

  /** Why a call was not understood or could not be served; status 4xx or 5xx. */
  record Trouble(String code, String message) {}
}
