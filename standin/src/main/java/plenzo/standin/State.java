package plenzo.standin;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.hostprotocol.HostProtocol.Announcement;
import plenzo.hostprotocol.HostProtocol.Marker;
import plenzo.hostprotocol.HostProtocol.Prepare;
import plenzo.hostprotocol.HostProtocol.Switch;

/**
 * Everything that the host holds; written whole, so that it is the old or the new one.
 *
 * @param nextRevision revisions are never used twice
 * @param announced what people are told before they are kept out; null when nothing is
 */
record State(
    String instance,
    @Nullable Marker marker,
    Map<String, Held> definitions,
    Map<String, Value> inputs,
    Map<Long, Run> runs,
    boolean maintenance,
    String notice,
    long nextRevision,
    @Nullable Announcement announced) {
  State {
    definitions = new TreeMap<>(definitions);
    inputs = new TreeMap<>(inputs);
    runs = new TreeMap<>(runs);
  }

  /**
   * One definition: its document as text, and who changed it last, null for a run of Plenzo.
   *
   * @param at when it was changed, null in a state of before
   */
  record Held(
      String revision, String text, boolean active, @Nullable String by, @Nullable String at) {}

  record Value(String value, boolean secret) {}

  /** What stood at one place before a run, null when nothing did, and the revision it wrote. */
  record Before(String key, @Nullable Held held, @Nullable String wrote) {}

  /**
   * A run as the host remembers it.
   *
   * @param phase prepared, applied, void, undone or discarded
   * @param inputsBefore values before the run, null for those that it brought
   * @param told what came with the switch, null before
   */
  record Run(
      String phase,
      String at,
      @Nullable Prepare prepared,
      List<Before> before,
      Map<String, @Nullable Value> inputsBefore,
      @Nullable Switch told) {
    Run phase(String next) {
      return new Run(
          next, at, next.equals("prepared") ? prepared : null, before, inputsBefore, told);
    }

    /** Fingerprint of the plan whose switch was applied, null when none was. */
    @Nullable String fingerprint() {
      return told == null ? null : told.fingerprint();
    }
  }

  /** The same for a place of its own: nobody's yet, and without runs. */
  State apart() {
    return new State(
        instance + "/apart",
        /* marker= */ null,
        definitions,
        inputs,
        Map.of(),
        /* maintenance= */ false,
        "",
        nextRevision,
        /* announced= */ null);
  }

  State withMarker(Marker next) {
    return new State(
        instance, next, definitions, inputs, runs, maintenance, notice, nextRevision, announced);
  }

  State withMaintenance(boolean on, String said) {
    // who is kept out needs no word of it, and who is let in is told nothing old
    return new State(
        instance, marker, definitions, inputs, runs, on, said, nextRevision, /* announced= */ null);
  }

  State withAnnounced(@Nullable Announcement next) {
    return new State(
        instance, marker, definitions, inputs, runs, maintenance, notice, nextRevision, next);
  }

  State withRun(long number, Run run) {
    Map<Long, Run> next = new TreeMap<>(runs);
    next.put(number, run);
    return new State(
        instance, marker, definitions, inputs, next, maintenance, notice, nextRevision, announced);
  }

  State with(Map<String, Held> now, Map<String, Value> given, long revision) {
    return new State(instance, marker, now, given, runs, maintenance, notice, revision, announced);
  }
}
