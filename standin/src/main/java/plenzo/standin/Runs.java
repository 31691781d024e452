package plenzo.standin;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import plenzo.hostprotocol.HostProtocol.Change;
import plenzo.hostprotocol.HostProtocol.Input;
import plenzo.hostprotocol.HostProtocol.Outcome;
import plenzo.hostprotocol.HostProtocol.Prepare;
import plenzo.hostprotocol.HostProtocol.PreparedRuns;
import plenzo.hostprotocol.HostProtocol.Ran;
import plenzo.hostprotocol.HostProtocol.RanOnce;
import plenzo.hostprotocol.HostProtocol.Switch;
import plenzo.standin.State.Before;
import plenzo.standin.State.Held;
import plenzo.standin.State.Run;
import plenzo.standin.State.Value;

/**
 * What Plenzo's runs do here. Each call is one change of the state: it has happened when it is
 * answered, and a repeated one returns what the first did.
 */
final class Runs {
  /** How long runs are remembered; the protocol asks for at least 400 days. */
  private static final Duration REMEMBERED = Duration.ofDays(500);

  private final StateFile file;
  private final Clock clock;

  Runs(StateFile file, Clock clock) {
    this.file = file;
    this.clock = clock;
  }

  /** Lets a change of the state say how it ended. */
  private interface Act {
    State on(State state, Outcome[] outcome);
  }

  private Outcome act(Act act) {
    Outcome[] outcome = new Outcome[1];
    file.change(state -> act.on(state, outcome));
    return Objects.requireNonNull(outcome[0]);
  }

  Outcome prepare(long number, Prepare asked) {
    return act(
        (state, out) -> {
          Run run = state.runs().get(number);
          if (run != null && !run.phase().equals("prepared") && !run.phase().equals("discarded")) {
            out[0] =
                run.phase().equals("applied")
                    ? Outcome.of("applied", run.fingerprint())
                    : Outcome.refused("void", List.of());
            return state;
          }
          boolean busy =
              state.runs().entrySet().stream()
                  .anyMatch(e -> e.getKey() != number && e.getValue().phase().equals("prepared"));
          if (busy) {
            out[0] = Outcome.refused("busy", List.of());
            return state;
          }
          out[0] = Outcome.of("prepared");
          return forget(state)
              .withRun(
                  number,
                  new Run(
                      "prepared", clock.instant().toString(), asked, List.of(), Map.of(), null));
        });
  }

  private State forget(State state) {
    Instant oldest = clock.instant().minus(REMEMBERED);
    Map<Long, Run> kept = new TreeMap<>(state.runs());
    kept.values().removeIf(r -> Instant.parse(r.at()).isBefore(oldest));
    return new State(
        state.instance(),
        state.marker(),
        state.definitions(),
        state.inputs(),
        kept,
        state.maintenance(),
        state.notice(),
        state.nextRevision(),
        state.announced());
  }

  Outcome switchOver(long number, Switch told) {
    return act(
        (state, out) -> {
          Run run = state.runs().get(number);
          if (run == null || run.phase().equals("discarded")) {
            out[0] = Outcome.refused("not prepared", List.of());
            return state;
          }
          if (!run.phase().equals("prepared")) {
            out[0] =
                run.phase().equals("applied")
                    ? Outcome.of("applied", run.fingerprint())
                    : Outcome.refused("void", List.of());
            return state;
          }
          Prepare prepared = Objects.requireNonNull(run.prepared());
          List<String> moved = moved(state, prepared.changes());
          if (!moved.isEmpty()) {
            out[0] = Outcome.refused("moved", moved);
            return state;
          }
          out[0] = Outcome.of("applied", told.fingerprint());
          return applied(state, number, run, prepared, told, clock.instant().toString());
        });
  }

  private static List<String> moved(State state, List<Change> changes) {
    List<String> out = new ArrayList<>();
    for (Change c : changes) {
      Held held = state.definitions().get(key(c));
      if (!Objects.equals(held == null ? null : held.revision(), c.present())) {
        out.add(key(c));
      }
    }
    return out;
  }

  private static String key(Change c) {
    return c.kind() + "/" + c.name();
  }

  private static State applied(
      State state, long number, Run run, Prepare prepared, Switch told, String at) {
    Map<String, Held> definitions = new TreeMap<>(state.definitions());
    Map<String, Value> inputs = new TreeMap<>(state.inputs());
    List<Before> before = new ArrayList<>();
    Map<String, Value> inputsBefore = new HashMap<>();
    long revision = state.nextRevision();
    for (Change c : prepared.changes()) {
      Held was = definitions.get(key(c));
      String text = c.document();
      if (text == null) {
        definitions.remove(key(c));
        before.add(new Before(key(c), was, null));
        continue;
      }
      String wrote = "r" + revision++;
      boolean active = c.activate() || (was != null && was.active());
      definitions.put(key(c), new Held(wrote, text, active, null, at));
      before.add(new Before(key(c), was, wrote));
    }
    for (Input i : prepared.inputs()) {
      Value was =
          i.value() == null
              ? inputs.remove(i.name())
              : inputs.put(i.name(), new Value(i.value(), i.secret()));
      inputsBefore.put(i.name(), was);
    }
    return state
        .with(definitions, inputs, revision)
        .withRun(number, new Run("applied", run.at(), null, before, inputsBefore, told));
  }

  Outcome makeVoid(long number) {
    return act(
        (state, out) -> {
          Run run = state.runs().get(number);
          if (run != null && (run.phase().equals("applied") || run.phase().equals("undone"))) {
            out[0] = Outcome.of(run.phase(), run.fingerprint());
            return state;
          }
          out[0] = Outcome.of("void");
          return run != null && run.phase().equals("void")
              ? state
              : state.withRun(
                  number,
                  new Run("void", clock.instant().toString(), null, List.of(), Map.of(), null));
        });
  }

  Outcome undo(long number) {
    return act(
        (state, out) -> {
          Run run = state.runs().get(number);
          if (run == null || !run.phase().equals("applied")) {
            out[0] = Outcome.of(run == null ? "void" : run.phase());
            return state;
          }
          List<String> touched = new ArrayList<>();
          for (Before b : run.before()) {
            Held now = state.definitions().get(b.key());
            if (!Objects.equals(now == null ? null : now.revision(), b.wrote())) {
              touched.add(b.key());
            }
          }
          if (!touched.isEmpty()) {
            out[0] = Outcome.refused("touched", touched);
            return state;
          }
          out[0] = Outcome.of("undone");
          return undone(state, number, run);
        });
  }

  private static State undone(State state, long number, Run run) {
    Map<String, Held> definitions = new TreeMap<>(state.definitions());
    Map<String, Value> inputs = new TreeMap<>(state.inputs());
    long revision = state.nextRevision();
    for (Before b : run.before()) {
      Held was = b.held();
      if (was == null) {
        definitions.remove(b.key());
      } else {
        // a revision never comes again, so that nobody takes this text for one not touched since
        definitions.put(
            b.key(), new Held("r" + revision++, was.text(), was.active(), was.by(), was.at()));
      }
    }
    run.inputsBefore()
        .forEach(
            (name, value) -> {
              if (value == null) {
                inputs.remove(name);
              } else {
                inputs.put(name, value);
              }
            });
    return state.with(definitions, inputs, revision).withRun(number, run.phase("undone"));
  }

  /** Runs that were applied and not undone, the newest first. */
  Ran ran(int limit) {
    List<RanOnce> out = new ArrayList<>();
    file.now()
        .runs()
        .forEach(
            (number, run) -> {
              Switch told = run.told();
              if (run.phase().equals("applied") && told != null) {
                out.add(0, new RanOnce(number, told.version(), told.fingerprint(), told.anchor()));
              }
            });
    return new Ran(out.subList(0, Math.min(limit, out.size())));
  }

  PreparedRuns prepared() {
    return new PreparedRuns(
        file.now().runs().entrySet().stream()
            .filter(e -> e.getValue().phase().equals("prepared"))
            .map(Map.Entry::getKey)
            .toList());
  }

  Outcome discard(long number) {
    return act(
        (state, out) -> {
          Run run = state.runs().get(number);
          out[0] = Outcome.of(run == null ? "discarded" : run.phase());
          if (run == null || !run.phase().equals("prepared")) {
            return state;
          }
          out[0] = Outcome.of("discarded");
          return state.withRun(number, run.phase("discarded"));
        });
  }
}
