package plenzo.engine.running;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.run.Settlement;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetId;
import plenzo.engine.setup.Targets;

/**
 * Settles a run that was interrupted: asks every target that may have switched, lets core say what
 * follows, journals that, and acts on it (rules B5 to B7). Repeatable; it may itself be killed at
 * any point.
 */
final class Recovery {
  private final Ending ending;

  /** Why runs of this process are interrupted whose targets cannot be asked yet. */
  private final Map<Long, RunStopped> reasons = new ConcurrentHashMap<>();

  Recovery(Ending ending) {
    this.ending = ending;
  }

  /**
   * @param why what happened; null after a restart, and when it is asked again
   * @return true when every target has switched and the run goes on with its checks
   * @throws TargetFailed when a target cannot be asked now; nothing is decided then
   */
  boolean recover(RunContext c, @Nullable RunStopped why) {
    if (why != null) {
      reasons.put(c.number(), why);
    }
    RunStopped reason =
        reasons.getOrDefault(
            c.number(), RunStopped.because("Plenzo was stopped in the middle of the run"));
    Map<TargetId, Holder> planned = planned(c);
    List<Settlement.Planned> order =
        planned.entrySet().stream()
            .map(e -> new Settlement.Planned(e.getKey(), undoable(c, e.getValue())))
            .toList();
    Journal journal = c.book().journal(c.number());
    Map<TargetId, Settlement.Answer> answers = new HashMap<>();
    TargetFailed silent = null;
    for (TargetId target : Settlement.toAsk(order, journal)) {
      try {
        answers.put(target, ask(c, Objects.requireNonNull(planned.get(target)), journal));
      } catch (TargetFailed e) {
        answers.put(target, Settlement.Answer.CANNOT_BE_ASKED);
        silent = e;
      }
    }
    Settlement decided = Settlement.of(order, journal, answers);
    if (decided instanceof Settlement.Unknown) {
      throw Objects.requireNonNull(silent);
    }
    c.book()
        .outcome(c.number(), Deed.SETTLE, 1, null, decided.outcome(), "decided from their answers");
    boolean goesOn =
        decided.match(
            unknown -> false,
            nothing -> {
              ending.nothing(c, reason, nothing.putBack());
              return false;
            },
            all -> {
              goOn(c);
              return true;
            },
            back -> {
              back(c, back.targets(), planned, reason);
              return false;
            },
            half -> {
              ending.halfWritten(c, reason, half.targets().stream().map(t -> keeps(c, t)).toList());
              return false;
            });
    reasons.remove(c.number());
    return goesOn;
  }

  private static String keeps(RunContext c, TargetId target) {
    return shown(c, target) + " keeps " + c.run().version();
  }

  private static String shown(RunContext c, TargetId target) {
    return c.run().goal().targets().stream()
        .filter(t -> t.id().equals(target))
        .map(plenzo.core.run.Run.Place::shown)
        .findFirst()
        .orElse(target.text());
  }

  private static boolean undoable(RunContext c, Holder holder) {
    return c.run()
        .place(holder)
        .map(plenzo.core.run.Run.Place::undoable)
        .orElseGet(() -> c.targets().can(c.place(holder), Capability.UNDO));
  }

  /** What the plan switches, by id, in its order. */
  private static Map<TargetId, Holder> planned(RunContext c) {
    Map<TargetId, Holder> out = new java.util.LinkedHashMap<>();
    for (Holder holder : c.switched()) {
      out.put(
          c.run()
              .place(holder)
              .map(plenzo.core.run.Run.Place::id)
              .orElseGet(() -> c.place(holder).id()),
          holder);
    }
    return out;
  }

  /** Asks one target about every try: applied when one was. */
  private static Settlement.Answer ask(RunContext c, Holder holder, Journal journal) {
    Targets.At at = c.place(holder);
    List<JournalEntry> tries = journal.tries(at.id());
    List<String> sessions =
        tries.stream().map(JournalEntry::session).filter(Objects::nonNull).toList();
    boolean applied = false;
    try (Changing session = c.targets().change(at)) {
      for (JournalEntry j : tries) {
        Settled said = session.settle(c.mark(j.attempt()), sessions);
        if (said == Settled.ANOTHER) {
          c.say(
              at.shown()
                  + " remembers a run R-"
                  + c.number()
                  + " of another plan: Plenzo's records are older than it is. This run changed"
                  + " nothing there.");
        }
        c.book()
            .outcome(
                c.number(),
                Deed.SWITCH,
                j.attempt(),
                at.id(),
                said == Settled.APPLIED ? Outcome.APPLIED : Outcome.VOID,
                switch (said) {
                  case APPLIED -> "settled: applied";
                  case VOID -> "settled: void";
                  case ANOTHER -> "settled: void; another plan's run has this number there";
                });
        applied |= said == Settled.APPLIED;
      }
    }
    return applied ? Settlement.Answer.APPLIED : Settlement.Answer.VOID;
  }

  private void goOn(RunContext c) {
    for (Holder holder : c.switched()) {
      c.step(Act.SWITCH, holder)
          .ifPresent(
              s ->
                  c.book()
                      .step(
                          c.number(),
                          s.number(),
                          RunStep.State.DONE,
                          "It is there, as the target says"));
    }
    c.say("Every target says that the switch was applied; going on with the checks");
    ending.forget(c);
  }

  /** Switches back what has switched, in that order; a target that was touched since stays. */
  private void back(
      RunContext c, List<TargetId> order, Map<TargetId, Holder> planned, RunStopped reason) {
    List<String> stays = new ArrayList<>();
    for (TargetId target : order) {
      Holder holder = Objects.requireNonNull(planned.get(target));
      Targets.At at = c.place(holder);
      int attempt = c.book().journal(c.number()).appliedTry(target);
      c.book().intent(c.number(), Deed.UNDO, attempt, target, null, "Switch back");
      try (ItemsChanging session = (ItemsChanging) c.targets().change(at)) {
        session.undo(c.mark(attempt));
        c.book().outcome(c.number(), Deed.UNDO, attempt, target, Outcome.UNDONE, "switched back");
        c.say(at.shown() + " is switched back");
        c.step(Act.SWITCH, holder)
            .ifPresent(
                s -> c.book().step(c.number(), s.number(), RunStep.State.FAILED, "Switched back"));
      } catch (SwitchRefused e) {
        c.book()
            .outcome(
                c.number(),
                Deed.UNDO,
                attempt,
                target,
                Outcome.REFUSED,
                "refused: " + e.getMessage());
        stays.add(
            keeps(c, target)
                + ": "
                + e.getMessage()
                + (e.details().isEmpty() ? "" : " (" + String.join(", ", e.details()) + ")"));
      }
    }
    if (stays.isEmpty()) {
      ending.nothing(c, reason, /* putBack= */ true);
    } else {
      ending.halfWritten(c, reason, stays);
    }
  }

  /**
   * Says that the truth is not known yet.
   *
   * @param reason why the run was interrupted, null when that was said before
   */
  void unknown(RunContext c, @Nullable RunStopped reason, String why) {
    if (reason != null) {
      reasons.put(c.number(), reason);
    }
    int step =
        c.now().steps().stream()
            .filter(s -> s.state() == RunStep.State.RUNNING || s.state() == RunStep.State.UNKNOWN)
            .mapToInt(RunStep::number)
            .findFirst()
            .orElse(c.step(Act.SWITCH, null).map(RunStep::number).orElse(1));
    String note = c.run().site() + " cannot be asked: " + why;
    boolean said =
        c.now().steps().stream()
            .anyMatch(s -> s.state() == RunStep.State.UNKNOWN && note.equals(s.note()));
    if (said) {
      return;
    }
    c.book().step(c.number(), step, RunStep.State.UNKNOWN, note);
    c.say(
        "What happened at "
            + c.run().site()
            + " is not known until it can be asked ("
            + why
            + "); asking again every few seconds");
  }
}
