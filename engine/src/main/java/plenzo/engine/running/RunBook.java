package plenzo.engine.running;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.retention.Sort;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.JournalEntry.Type;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.TargetId;
import plenzo.engine.Tools;
import plenzo.engine.keeping.Cleared;

/**
 * Records of runs: every change goes through here and is told to who listens; progress stays in
 * memory.
 */
public final class RunBook {
  private final Tools tools;
  private final RunListener listener;
  private final Map<Long, long[]> progress = new ConcurrentHashMap<>();
  private final Set<Long> toAbort = ConcurrentHashMap.newKeySet();
  private final Map<Long, Asked> toPause = new ConcurrentHashMap<>();
  private final Map<Long, Changing> working = new ConcurrentHashMap<>();

  RunBook(Tools tools, RunListener listener) {
    this.tools = tools;
    this.listener = listener;
  }

  /** Who wants a run to pause, and why. */
  record Asked(String by, String reason) {}

  public Run get(long number) {
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

  /** Changes a run; begun anew when another thread changed it meanwhile. */
  public Run change(long number, UnaryOperator<Run> change) {
    return change(number, null, change);
  }

  /**
   * @param said in the history, in the same transaction; null for nothing
   */
  Run change(long number, HistoryEntry.@Nullable Event said, UnaryOperator<Run> change) {
    Run changed =
        tools
            .keeper()
            .writeAgain(
                kept -> {
                  String id = String.valueOf(number);
                  kept.runs().replace(change.apply(kept.runs().find(id).orElseThrow()));
                  if (said != null) {
                    kept.note(said, tools.now());
                  }
                  return kept.runs().find(id).orElseThrow();
                });
    if (changed.abortAsked() && !changed.state().ended()) {
      toAbort.add(number);
    }
    listener.changed(live(changed));
    return changed;
  }

  /** Tells who listens how a run is now. */
  public void tell(long number) {
    listener.changed(live(get(number)));
  }

  public void step(long number, int step, RunStep.State state, @Nullable String note) {
    Instant now = tools.now();
    change(
        number,
        run -> {
          return run.withStep(run.steps().get(step - 1).to(state, now, note));
        });
  }

  public void rows(long number, long done, long toDo) {
    progress.put(number, new long[] {done, toDo});
    find(number).ifPresent(listener::changed);
  }

  /** Whether somebody asked to abort; costs nothing, so it may be asked for every file and row. */
  public boolean abortAsked(long number) {
    return toAbort.contains(number);
  }

  /** The run pauses before its next step that can wait. */
  void askToPause(long number, Asked asked) {
    toPause.put(number, asked);
  }

  /** Who asked it to pause; asked once, it is answered once. */
  Optional<Asked> pauseAsked(long number) {
    return Optional.ofNullable(toPause.remove(number));
  }

  public void forget(long number) {
    toPause.remove(number);
    progress.remove(number);
    toAbort.remove(number);
  }

  public void say(long number, String line) {
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

  /** The last megabyte of a run's log; empty when there is none yet. */
  String log(long number) {
    String name = logName(number);
    if (!tools.files().exists(name)) {
      return Cleared.sentence(tools, Sort.LOG, "R-" + number).orElse("");
    }
    long skip = Math.max(0, tools.files().size(name) - (1 << 20));
    try (InputStream in = tools.files().open(name, skip)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("The log of R-" + number + " cannot be read", e);
    }
  }

  private static String logName(long number) {
    return "log/R-" + number + ".log";
  }

  public void intent(
      long run, Deed deed, int attempt, TargetId target, @Nullable String session, String text) {
    entry(run, deed, attempt, Type.INTENT, target, null, session, text);
  }

  /**
   * @param target null for a decision about the whole run
   * @param text for people
   */
  public void outcome(
      long run, Deed deed, int attempt, @Nullable TargetId target, Outcome outcome, String text) {
    entry(run, deed, attempt, Type.OUTCOME, target, outcome, null, text);
  }

  private void entry(
      long run,
      Deed deed,
      int attempt,
      Type type,
      @Nullable TargetId target,
      @Nullable Outcome outcome,
      @Nullable String session,
      String text) {
    JournalEntry entry =
        new JournalEntry(0, run, deed, attempt, type, target, outcome, session, text, tools.now());
    tools.keeper().write(kept -> kept.journal(entry));
  }

  public Journal journal(long run) {
    return tools.keeper().read(kept -> kept.journal(run));
  }

  List<Run> inState(RunState state) {
    return new ArrayList<>(
        tools.keeper().read(kept -> kept.runs().list(Kept.Filter.state(state.code()))));
  }

  /** The session that works for a run now, so that its statement can be stopped; null for none. */
  public void working(long run, @Nullable Changing session) {
    if (session == null) {
      working.remove(run);
    } else {
      working.put(run, session);
    }
  }

  @Nullable Changing working(long run) {
    return working.get(run);
  }
}
