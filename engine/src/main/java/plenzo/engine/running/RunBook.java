package plenzo.engine.running;

import java.io.UncheckedIOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.engine.Tools;

/**
 * Records of runs: every change goes through here and is told to who listens; progress stays in
 * memory.
 */
final class RunBook {
  private final Tools tools;
  private final RunListener listener;
  private final Map<Long, long[]> progress = new ConcurrentHashMap<>();
  private final Set<Long> toAbort = ConcurrentHashMap.newKeySet();

  RunBook(Tools tools, RunListener listener) {
    this.tools = tools;
    this.listener = listener;
  }

  Run get(long number) {
    return find(number).orElseThrow(() -> new IllegalStateException("No run R-" + number));
  }

  Optional<Run> find(long number) {
    return tools.keeper().read(kept -> kept.runs().find(String.valueOf(number))).map(this::live);
  }

  /** The run with its progress of this moment. */
  Run live(Run run) {
    long[] p = progress.get(run.number());
    return p == null || run.state().ended() ? run : run.withProgress(p[0], p[1]);
  }

  /** Changes a run; tried again when another thread changed it meanwhile. */
  Run change(long number, UnaryOperator<Run> change) {
    for (int attempt = 1; ; attempt++) {
      Optional<Run> changed =
          tools
              .keeper()
              .write(
                  kept -> {
                    Run next = change.apply(kept.runs().find(String.valueOf(number)).orElseThrow());
                    return kept.runs().update(next)
                        ? kept.runs().find(String.valueOf(number))
                        : Optional.empty();
                  });
      if (changed.isPresent()) {
        if (changed.get().abortAsked() && !changed.get().state().ended()) {
          toAbort.add(number);
        }
        listener.changed(live(changed.get()));
        return changed.get();
      }
      if (attempt == 20) {
        throw new IllegalStateException("R-" + number + " is changed by too many at once");
      }
    }
  }

  void step(long number, int step, RunStep.State state, @Nullable String note) {
    Instant now = tools.now();
    change(
        number,
        run -> {
          return run.withStep(run.steps().get(step - 1).to(state, now, note));
        });
  }

  void rows(long number, long done, long toDo) {
    progress.put(number, new long[] {done, toDo});
    find(number).ifPresent(listener::changed);
  }

  /** Whether somebody asked to abort; costs nothing, so it may be asked for every file and row. */
  boolean abortAsked(long number) {
    return toAbort.contains(number);
  }

  void forget(long number) {
    progress.remove(number);
    toAbort.remove(number);
  }

  void say(long number, String line) {
    String text = tools.now() + " " + line.replace("\n", " ") + "\n";
    try {
      tools.files().append(logName(number), text);
    } catch (UncheckedIOException e) {
      // a full disk must not keep a run from its end; listeners still hear the line
      System.getLogger(RunBook.class.getName())
          .log(System.Logger.Level.WARNING, "The log of R-" + number + " misses: " + line, e);
    }
    find(number).ifPresent(run -> listener.said(run, text.strip()));
  }

  static String logName(long number) {
    return "log/R-" + number + ".log";
  }

  JournalEntry intent(
      long run, String step, int attempt, String target, @Nullable String session, String text) {
    return tools
        .keeper()
        .write(
            kept ->
                kept.journal(
                    run,
                    step,
                    attempt,
                    JournalEntry.Type.INTENT,
                    target,
                    session,
                    text,
                    tools.now()));
  }

  JournalEntry outcome(long run, String step, int attempt, String target, String text) {
    return tools
        .keeper()
        .write(
            kept ->
                kept.journal(
                    run,
                    step,
                    attempt,
                    JournalEntry.Type.OUTCOME,
                    target,
                    null,
                    text,
                    tools.now()));
  }

  List<JournalEntry> journal(long run) {
    return tools.keeper().read(kept -> kept.journal(run));
  }

  List<Run> inState(String state) {
    return new ArrayList<>(tools.keeper().read(kept -> kept.runs().list(Kept.Filter.state(state))));
  }
}
