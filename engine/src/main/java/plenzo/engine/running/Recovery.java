package plenzo.engine.running;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.RunMark;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.engine.setup.Targets;

/**
 * Finds out what an interrupted run did, by asking every target, and ends it truthfully: nothing
 * applied, all applied, or some, which are then switched back (rules B5 to B7). Repeatable; it may
 * itself be killed at any point.
 */
final class Recovery {
  static final String SWITCH = "switch";
  private static final String UNDO = "undo";
  private static final String APPLIED = "applied";

  private final Targets targets;
  private final RunBook book;
  private final Proof proof;
  private final Ending ending;

  /** Why runs of this process are interrupted whose targets cannot be asked yet. */
  private final Map<Long, String> reasons = new ConcurrentHashMap<>();

  Recovery(Targets targets, RunBook book, Proof proof, Ending ending) {
    this.targets = targets;
    this.book = book;
    this.proof = proof;
    this.ending = ending;
  }

  static RunMark mark(Run run, int attempt) {
    return new RunMark(
        run.number(), SWITCH, attempt, run.version(), run.fingerprint(), run.startedBy());
  }

  /** Whether the journal knows of a target that has switched. */
  boolean anyApplied(long number) {
    return book.journal(number).stream()
        .anyMatch(
            j ->
                j.step().equals(SWITCH)
                    && j.type() == JournalEntry.Type.OUTCOME
                    && j.text().equals(APPLIED));
  }

  /**
   * @param why what happened; null after a restart, and when it is asked again
   * @return true when every target has switched and the run goes on with its checks
   * @throws TargetFailed when a target cannot be asked now; nothing is decided then
   */
  boolean recover(Run run, @Nullable String why) {
    long number = run.number();
    if (why != null) {
      reasons.put(number, why);
    }
    boolean goesOn =
        settleAll(run, reasons.getOrDefault(number, "Plenzo was stopped in the middle of the run"));
    reasons.remove(number);
    return goesOn;
  }

  private boolean settleAll(Run run, String reason) {
    long number = run.number();
    List<Targets.At> planned = planned(run);
    List<Targets.At> applied = new ArrayList<>();
    for (Targets.At at : planned) {
      if (settle(run, at)) {
        applied.add(at);
      }
    }
    proof.forget(number, run.site());
    if (applied.isEmpty()) {
      boolean undone = book.journal(number).stream().anyMatch(j -> j.step().equals(UNDO));
      discard(run, planned);
      ending.open(run);
      if (undone) {
        ending.putBack(number, reason);
      } else {
        ending.stopped(number, reason, List.of(), false);
      }
      return false;
    }
    if (applied.size() == planned.size()) {
      for (Targets.At at : applied) {
        run.step(Act.SWITCH, at.holder())
            .ifPresent(
                s ->
                    book.step(
                        number, s.number(), RunStep.State.DONE, "Committed, as the target says"));
      }
      book.say(number, "The target says that the switch was applied; going on with the checks");
      discard(run, planned);
      return true;
    }
    return back(run, planned, applied, reason);
  }

  private List<Targets.At> planned(Run run) {
    return run.steps().stream()
        .filter(s -> s.act() == Act.SWITCH && s.holder() != null)
        .map(s -> targets.find(run.site(), Objects.requireNonNull(s.holder())).orElseThrow())
        .toList();
  }

  /** Asks one target about every try; true when one was applied and is still there. */
  private boolean settle(Run run, Targets.At at) {
    List<JournalEntry> journal =
        book.journal(run.number()).stream().filter(j -> j.target().equals(at.shown())).toList();
    List<JournalEntry> attempts =
        journal.stream()
            .filter(j -> j.step().equals(SWITCH) && j.type() == JournalEntry.Type.INTENT)
            .toList();
    boolean undone =
        journal.stream()
            .anyMatch(j -> j.step().equals(UNDO) && j.type() == JournalEntry.Type.OUTCOME);
    if (attempts.isEmpty() || undone) {
      return false;
    }
    List<String> sessions =
        attempts.stream().map(JournalEntry::session).filter(Objects::nonNull).toList();
    boolean applied = false;
    try (Changing session = targets.change(at)) {
      for (JournalEntry j : attempts) {
        boolean was = session.settle(mark(run, j.attempt()), sessions);
        book.outcome(
            run.number(),
            SWITCH,
            j.attempt(),
            at.shown(),
            was ? "settled: applied" : "settled: void");
        applied |= was;
      }
    }
    return applied;
  }

  private void discard(Run run, List<Targets.At> planned) {
    for (Targets.At at : planned) {
      try (Changing session = targets.change(at)) {
        session.discard(run.number());
      }
    }
  }

  /** Switches back what has switched, in reverse order; a target that was touched since stays. */
  private boolean back(Run run, List<Targets.At> planned, List<Targets.At> applied, String reason) {
    long number = run.number();
    List<Targets.At> reverse = new ArrayList<>(applied);
    Collections.reverse(reverse);
    List<String> stays = new ArrayList<>();
    for (Targets.At at : reverse) {
      if (at.holder() == Holder.DATABASE) {
        throw new IllegalStateException(
            "The database is switched last: nothing goes back after it");
      }
      int attempt = lastAttempt(number, at);
      book.intent(number, UNDO, attempt, at.shown(), null, "Switch back");
      try (ItemsChanging session = (ItemsChanging) targets.change(at)) {
        session.undo(mark(run, attempt));
        book.outcome(number, UNDO, attempt, at.shown(), "switched back");
        book.say(number, at.shown() + " is switched back");
        run.step(Act.SWITCH, at.holder())
            .ifPresent(s -> book.step(number, s.number(), RunStep.State.FAILED, "Switched back"));
      } catch (SwitchRefused e) {
        stays.add(
            at.shown()
                + " keeps "
                + run.version()
                + ": "
                + e.getMessage()
                + (e.details().isEmpty() ? "" : " (" + String.join(", ", e.details()) + ")"));
      }
    }
    if (stays.isEmpty()) {
      discard(run, planned);
      ending.open(run);
      ending.putBack(number, reason);
    } else {
      ending.halfWritten(number, reason, stays);
    }
    return false;
  }

  private int lastAttempt(long number, Targets.At at) {
    return book.journal(number).stream()
        .filter(
            j ->
                j.step().equals(SWITCH)
                    && j.target().equals(at.shown())
                    && j.type() == JournalEntry.Type.OUTCOME
                    && j.text().endsWith(APPLIED))
        .mapToInt(JournalEntry::attempt)
        .max()
        .orElse(1);
  }

  /** Says that the truth is not known yet. */
  void unknown(long number, String why) {
    Run run = book.get(number);
    int step =
        run.steps().stream()
            .filter(s -> s.state() == RunStep.State.RUNNING)
            .mapToInt(RunStep::number)
            .findFirst()
            .orElse(run.step(Act.SWITCH, null).map(RunStep::number).orElse(1));
    book.step(number, step, RunStep.State.UNKNOWN, run.site() + " cannot be asked: " + why);
    book.say(
        number,
        "What happened at "
            + run.site()
            + " is not known until it can be asked; asking again every few seconds");
  }
}
