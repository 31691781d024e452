package plenzo.engine.running;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.function.UnaryOperator;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.steps.Step;
import plenzo.engine.running.steps.Steps;

/**
 * The ends that a run may come to without having brought its version (decision D20), each recorded
 * in one transaction.
 */
public final class Ending {
  private final Tools tools;
  private final Promotions promotions;
  private final RunBook book;
  private final Steps steps;

  Ending(Tools tools, Promotions promotions, RunBook book, Steps steps) {
    this.tools = tools;
    this.promotions = promotions;
    this.book = book;
    this.steps = steps;
  }

  /** What a run that came through says of itself; one that ends with users out says that first. */
  public static String sentence(Promotion p, Run run, List<String> looks) {
    if (run.course().endsHere() && p.brings()) {
      return p.version()
          + " came to "
          + p.site()
          + ", and nobody was let in: "
          + String.join(". ", looks)
          + ".";
    }
    String came = Arrived.words(p);
    return looks.isEmpty() ? came : came + " To look at: " + String.join(". ", looks) + ".";
  }

  /** A run that came through, ended. */
  public static Run ended(Run run, String sentence, Instant now) {
    return run.withState(
        run.course().looks().isEmpty() ? RunState.DONE : RunState.DONE_TO_LOOK_AT, now, sentence);
  }

  /** Everything is there and recorded, and the work by hand that came after it is over. */
  void done(RunContext c) {
    long number = c.number();
    String sentence = sentence(c.promotion(), c.now(), c.now().course().looks());
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Run run = kept.runs().find(String.valueOf(number)).orElseThrow();
              kept.runs().replace(ended(run, sentence, tools.now()));
              kept.note(event(run, "work by hand over", sentence), tools.now());
              if (!run.course().looks().isEmpty()) {
                kept.sites()
                    .find(run.application() + "@" + run.site())
                    .filter(
                        r ->
                            r.lastPlacement()
                                .filter(p -> p.run() != null && p.run() == number)
                                .isPresent())
                    .ifPresent(
                        r ->
                            kept.sites()
                                .replace(
                                    r.withToLookAt(
                                        new SiteRecord.Placement.Looked(number, tools.now()))));
              }
              return null;
            });
    book.tell(number);
    c.say(sentence);
    book.forget(number);
  }

  /** Undoes the steps that may have begun, the last first. */
  private void undo(RunContext c) {
    List<RunStep> reverse = new ArrayList<>(c.run().steps());
    Collections.reverse(reverse);
    for (RunStep s : reverse) {
      Step step = steps.of(s.act());
      if (step.phase() == Step.Phase.BEFORE) {
        step.undo(c);
      }
    }
  }

  /** Takes away what was prepared and restored, of a run that goes on with its checks. */
  void forget(RunContext c) {
    for (plenzo.core.plan.Plan.Act act :
        List.of(plenzo.core.plan.Plan.Act.PROVE, plenzo.core.plan.Plan.Act.PREPARE)) {
      if (c.step(act, null).isPresent()) {
        steps.of(act).undo(c);
      }
    }
  }

  /**
   * No target has it, as they say; whatever was left outside is taken back first.
   *
   * @throws plenzo.core.target.TargetFailed when it cannot be taken back yet; nothing is ended then
   */
  void nothing(RunContext c, RunStopped why, boolean putBack) {
    if (!putBack) {
      stopped(c, why);
      return;
    }
    undo(c);
    end(
        c,
        RunState.PUT_BACK,
        why.whole() + ". Everything that had switched was switched back.",
        "run put back",
        r -> r.withFailed(c.run().shown()),
        PromotionState.PREPARING);
  }

  /**
   * The run changed nothing: take back what it left, say why, and open the promotion again.
   *
   * @throws plenzo.core.target.TargetFailed when it cannot be taken back yet; nothing is ended then
   */
  void stopped(RunContext c, RunStopped why) {
    undo(c);
    why.details().forEach(c::say);
    boolean aborted = why.wasAborted();
    end(
        c,
        RunState.STOPPED,
        aborted
            ? "Aborted by " + c.now().abortedBy() + "; nothing was changed."
            : why.whole() + ". Nothing was changed.",
        aborted ? "run aborted" : "run stopped",
        r -> r.withFailed(aborted ? null : c.run().shown()),
        PromotionState.PREPARING);
  }

  /** Some targets have the version and some have not; maintenance stays on. */
  void halfWritten(RunContext c, RunStopped why, List<String> stays) {
    boolean closed = book.journal(c.number()).closed();
    end(
        c,
        RunState.HALF_WRITTEN,
        why.whole()
            + ". "
            + c.run().site()
            + " is half written: "
            + String.join("; ", stays)
            + ". "
            + (closed ? "Maintenance stays on. " : "")
            + (c.promotion().purpose().rollback()
                ? "Next: look at the ways back again; what is back stays so."
                : "Next: prepare the promotion again to finish it, or go back."),
        "half written",
        r ->
            r.withHalfWritten()
                .withFailed(c.run().shown())
                .closedBy(closed ? c.run().shown() : null),
        PromotionState.FAILED);
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

  private void end(
      RunContext c,
      RunState state,
      String sentence,
      String event,
      UnaryOperator<SiteRecord> record,
      PromotionState next) {
    long number = c.number();
    Promotion reopened =
        tools
            .keeper()
            .writeAgain(
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
                      .replace(
                          (state == RunState.STOPPED ? ended.withNoReturn(null) : ended)
                              .withState(state, tools.now(), sentence));
                  kept.note(event(run, event, sentence), tools.now());
                  kept.sites()
                      .find(run.application() + "@" + run.site())
                      .ifPresent(r -> kept.sites().replace(record.apply(r)));
                  c.work().bindings().forget(kept, number);
                  Promotion p =
                      kept.promotions().find(String.valueOf(run.promotion())).orElseThrow();
                  kept.promotions().replace(p.change().state(next).done());
                  return p;
                });
    book.tell(number);
    c.say(sentence);
    book.forget(number);
    if (next == PromotionState.PREPARING) {
      promotions.compareSoon(reopened.number());
    }
  }
}
