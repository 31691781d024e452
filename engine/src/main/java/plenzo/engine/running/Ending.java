package plenzo.engine.running;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.UnaryOperator;
import plenzo.core.component.Kind.Holder;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.Targets;

/** The ends that a run may come to (decision D20), each recorded in one transaction. */
final class Ending {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final Promotions promotions;
  private final RunBook book;

  Ending(Tools tools, Targets targets, CaseWork work, Promotions promotions, RunBook book) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.promotions = promotions;
    this.book = book;
  }

  /** Reads the site once more from outside; returns how many places are not as planned. */
  long readBack(Run run, Promotion p) {
    long number = run.number();
    int step = run.step(Act.READ_BACK, null).map(RunStep::number).orElseThrow();
    book.step(number, step, RunStep.State.RUNNING, null);
    book.say(number, "Step " + step + ": Read back");
    String note = "What is there is what was planned";
    long odd;
    try {
      CaseWork.Outcome now = work.work(p);
      odd = odd(now.delta());
      work.comparer().files().remove(now.compared().id());
      if (odd > 0) {
        note = odd + " to look at: somebody wrote right after the run";
      }
    } catch (RuntimeException e) {
      odd = 1;
      note = "Reading back failed: " + e.getMessage();
    }
    book.step(number, step, RunStep.State.DONE, note);
    book.say(number, note);
    return odd;
  }

  private static long odd(SiteDelta delta) {
    return delta.touched().stream()
            .mapToLong(h -> Objects.requireNonNull(delta.of(h)).writes())
            .sum()
        + delta.tables().tables().stream().filter(TablesDelta.TableDelta::structureChanges).count();
  }

  /** Ends maintenance where the run began it; every end but half written comes through here. */
  void open(Run run) {
    long number = run.number();
    boolean closed = book.journal(number).stream().anyMatch(j -> j.step().equals("close"));
    boolean opened =
        book.journal(number).stream()
            .anyMatch(j -> j.step().equals("open") && j.type() == JournalEntry.Type.OUTCOME);
    if (!closed || opened) {
      return;
    }
    Targets.At host = targets.find(run.site(), Holder.HOST).orElseThrow();
    run.step(Act.OPEN, null)
        .ifPresent(s -> book.step(number, s.number(), RunStep.State.RUNNING, null));
    book.intent(number, "open", 1, host.shown(), null, "Maintenance off");
    try (ItemsChanging session = (ItemsChanging) targets.change(host)) {
      session.maintenance(false, number, "");
    }
    book.outcome(number, "open", 1, host.shown(), "maintenance is off");
    run.step(Act.OPEN, null)
        .ifPresent(
            s -> book.step(number, s.number(), RunStep.State.DONE, "Everybody is let in again"));
    book.say(number, "Everybody is let in again");
  }

  /**
   * @param asked what the host answered otherwise than before; empty when nothing
   */
  void record(long number, Promotion p, long odd, String asked) {
    Run at = book.get(number);
    int step = at.step(Act.RECORD, null).map(RunStep::number).orElseThrow();
    book.step(number, step, RunStep.State.RUNNING, null);
    List<String> looks = new ArrayList<>();
    if (odd > 0) {
      looks.add(odd + " to look at: somebody wrote right after the run");
    }
    if (!asked.isEmpty()) {
      looks.add(asked);
    }
    Map<String, Long> given = bound(p);
    String sentence = looks.isEmpty() ? sentence(p) : String.join(". ", looks);
    tools
        .keeper()
        .write(
            kept -> {
              Run run = kept.runs().find(String.valueOf(number)).orElseThrow();
              place(kept, run, p, given);
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions().update(now.change().state(PromotionState.DONE).done());
              RunState state = looks.isEmpty() ? RunState.DONE : RunState.DONE_TO_LOOK_AT;
              Run ended =
                  run.withStep(
                          run.steps().get(step - 1).to(RunStep.State.DONE, tools.now(), "Recorded"))
                      .withState(state, tools.now(), sentence);
              kept.runs().update(ended);
              kept.note(
                  event(run, p.rollback() ? "rolled back" : "run done", sentence), tools.now());
              return null;
            });
    book.change(number, r -> r);
    book.say(number, sentence(p));
    book.forget(number);
    promotions.compareOthers(p);
  }

  private void place(Kept kept, Run run, Promotion p, Map<String, Long> given) {
    SiteRecord record = kept.sites().find(p.application() + "@" + p.site()).orElseThrow();
    SiteRecord.Placement placed =
        new SiteRecord.Placement(
            p.version(),
            p.rollback() ? "rollback" : "run",
            run.number(),
            tools.now(),
            run.startedBy());
    List<String> exceptions =
        p.way() == Plan.Way.BACKUP ? record.exceptions() : CaseWork.exceptions(p.decisions());
    SiteRecord next = record.placed(placed, exceptions, p.rollback() ? record.present() : null);
    if (!kept.sites().update(next.withBound(given))) {
      throw new IllegalStateException("The record of " + record.id() + " moved");
    }
  }

  private Map<String, Long> bound(Promotion p) {
    return targets.find(p.site(), Holder.HOST).isEmpty() ? Map.of() : work.stamps(p);
  }

  private static String sentence(Promotion p) {
    return p.rollback()
        ? p.site() + " is back at " + p.version() + "."
        : p.version() + " is at " + p.site() + ".";
  }

  private static Event event(Run run, String what, String text) {
    return new Event(
        run.startedBy(),
        what,
        run.application(),
        run.site().stage(),
        run.site().site(),
        run.version(),
        run.promotion(),
        run.number(),
        text);
  }

  /** The run changed nothing: discard what it prepared, say why, and open the promotion again. */
  void stopped(long number, String why, List<String> details, boolean aborted) {
    Run run = book.get(number);
    for (Targets.At at : targets.all(run.site())) {
      if (run.step(Act.SWITCH, at.holder()).isEmpty()) {
        continue;
      }
      try (Changing session = targets.change(at)) {
        session.discard(number);
      } catch (TargetFailed e) {
        book.say(number, "What was prepared could not be discarded yet: " + e.getMessage());
      }
    }
    open(run);
    details.forEach(d -> book.say(number, d));
    String sentence =
        aborted
            ? "Aborted by " + book.get(number).abortedBy() + "; nothing was changed."
            : why
                + (details.isEmpty() ? "" : ": " + String.join("; ", details))
                + ". Nothing was changed.";
    end(
        number,
        RunState.STOPPED,
        sentence,
        aborted ? "run aborted" : "run stopped",
        r -> r.withFailed(aborted ? null : run.shown()),
        PromotionState.PREPARING);
  }

  /** Some targets had switched and all of them are switched back. */
  void putBack(long number, String why) {
    end(
        number,
        RunState.PUT_BACK,
        why + ". Everything that had switched was switched back.",
        "run put back",
        r -> r.withFailed("R-" + number),
        PromotionState.PREPARING);
  }

  /** Some targets have the version and some have not; maintenance stays on. */
  void halfWritten(long number, String why, List<String> stays) {
    Run run = book.get(number);
    end(
        number,
        RunState.HALF_WRITTEN,
        why
            + ". "
            + run.site()
            + " is half written: "
            + String.join("; ", stays)
            + ". Maintenance stays on. Next: prepare the promotion again to finish it, or go back.",
        "half written",
        r -> r.withHalfWritten().withFailed(run.shown()),
        PromotionState.FAILED);
  }

  private void end(
      long number,
      RunState state,
      String sentence,
      String event,
      UnaryOperator<SiteRecord> record,
      PromotionState next) {
    Promotion reopened =
        tools
            .keeper()
            .write(
                kept -> {
                  Run run = kept.runs().find(String.valueOf(number)).orElseThrow();
                  Run ended = run;
                  for (RunStep s : run.steps()) {
                    boolean open =
                        s.state() == RunStep.State.RUNNING || s.state() == RunStep.State.UNKNOWN;
                    if (open) {
                      ended = ended.withStep(s.to(RunStep.State.FAILED, tools.now(), sentence));
                    } else if (s.state() == RunStep.State.TO_COME) {
                      ended = ended.withStep(s.to(RunStep.State.LEFT_OUT, tools.now(), null));
                    }
                  }
                  kept.runs()
                      .update(
                          (state == RunState.STOPPED ? ended.withNoReturn(null) : ended)
                              .withState(state, tools.now(), sentence));
                  kept.note(event(run, event, sentence), tools.now());
                  kept.sites()
                      .find(run.application() + "@" + run.site())
                      .ifPresent(r -> kept.sites().update(record.apply(r)));
                  Promotion p =
                      kept.promotions().find(String.valueOf(run.promotion())).orElseThrow();
                  kept.promotions().update(p.change().state(next).done());
                  return p;
                });
    book.change(number, r -> r);
    book.say(number, sentence);
    book.forget(number);
    if (next == PromotionState.PREPARING) {
      promotions.compareSoon(reopened.number());
    }
  }
}
