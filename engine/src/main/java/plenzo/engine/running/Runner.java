package plenzo.engine.running;

import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.problem.Problem;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.steps.Step;
import plenzo.engine.running.steps.Step.Phase;
import plenzo.engine.running.steps.Steps;
import plenzo.engine.setup.Targets;

/**
 * How a run goes, through crashes too: step by step in the plan's order, each with its intent and
 * outcome on the disk. Everything slow is prepared on every target first; then the targets are
 * switched, the database last because it alone cannot be switched back without loss. After any
 * error or restart {@link Recovery} asks the targets, which makes their outcome final, and only
 * then decides.
 */
final class Runner {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final RunBook book;
  private final Steps steps;
  private final Ending ending;
  private final Recovery recovery;

  Runner(Tools tools, Targets targets, CaseWork work, Promotions promotions, RunBook book) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.book = book;
    this.steps = new Steps(new Proof(), promotions);
    this.ending = new Ending(tools, promotions, book, steps);
    this.recovery = new Recovery(ending);
  }

  private RunContext context(Run run) {
    return new RunContext(tools, targets, work, book, run);
  }

  /** Carries a run from its first step to its end; never throws. */
  void execute(Run run) {
    long number = run.number();
    try (Watchdog dog =
            new Watchdog(
                tools,
                targets,
                run.site(),
                () -> book.abortAsked(number),
                line -> book.say(number, line));
        RunContext c = context(run)) {
      try {
        c.alive(); // somebody may have aborted it while it was paused
        through(c, step -> true);
      } catch (RunPaused e) {
        pause(c, e);
      } catch (RunStopped e) {
        c.release();
        stop(c, e);
      } catch (TargetFailed | SwitchRefused | Problem e) {
        c.release();
        afterFailure(c, RunStopped.because(String.valueOf(e.getMessage())));
      } catch (RuntimeException e) {
        System.getLogger(Runner.class.getName())
            .log(System.Logger.Level.ERROR, "R-" + number + " failed", e);
        c.release();
        afterFailure(c, RunStopped.because("Plenzo could not go on: " + e.getMessage()));
      }
    }
  }

  private void through(RunContext c, Predicate<Step> which) {
    try {
      each(c, which);
    } catch (RunGoesBack e) {
      endsHere(c, e);
      each(c, which);
    }
    over(c);
  }

  private void each(RunContext c, Predicate<Step> which) {
    for (RunStep s : c.now().steps()) {
      if (which.test(steps.of(s.act()))) {
        take(c, s);
      }
    }
  }

  /** Nobody is let in: what is there is recorded, and gone back from when the run has ended. */
  private void endsHere(RunContext c, RunGoesBack e) {
    String why = String.valueOf(e.getMessage());
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Run run = kept.runs().find(String.valueOf(c.number())).orElseThrow();
              RunStep asked =
                  run.steps().get(e.step().number() - 1).to(RunStep.State.FAILED, tools.now(), why);
              kept.runs().replace(Steering.endedHere(run.withStep(asked), why, tools.now()));
              ByItself.wanted(kept, c.number());
              kept.note(
                  Steering.event(run.inCharge(), "going back by itself", run, why), tools.now());
              return null;
            });
    book.tell(c.number());
    c.say("Users stay out, and it is gone back by itself: " + why);
  }

  private void take(RunContext c, RunStep s) {
    Step step = steps.of(s.act());
    if (s.state().over() && !step.again(c)) {
      return;
    }
    if (c.nothingToDo() && !step.withoutChanges()) {
      book.step(c.number(), s.number(), RunStep.State.LEFT_OUT, "Nothing to change");
      return;
    }
    if (step.phase() == Phase.AFTER) {
      // nothing of what was written is held while the site is read back
      c.sessions().forEach(session -> session.discard(c.number()));
      c.release();
    } else {
      c.alive();
    }
    mayPause(c, s, step);
    go(c, s, step);
  }

  /** Between two targets that switch nothing waits: the site is neither old nor new there. */
  private void mayPause(RunContext c, RunStep s, Step step) {
    if (step.phase() == Phase.SWITCH && c.now().noReturnAt() != null) {
      return;
    }
    book.pauseAsked(c.number())
        .ifPresent(
            asked -> {
              throw RunPaused.by(asked.by(), s, asked.reason());
            });
  }

  /** Leaves a run as it stands until a person says how it goes on; a restart changes nothing. */
  private void pause(RunContext c, RunPaused e) {
    c.release();
    Course.Pause why = e.pause(tools.now());
    boolean paused =
        tools
            .keeper()
            .writeAgain(
                kept -> {
                  Run run = kept.runs().find(String.valueOf(c.number())).orElseThrow();
                  if (run.abortAsked() && run.noReturnAt() == null) {
                    return false;
                  }
                  Run waiting = run;
                  for (RunStep s : run.steps()) {
                    boolean asked =
                        why.why() == Course.Why.BY_HAND
                            && s.act() == e.step().act()
                            && !s.state().over();
                    if (asked) {
                      waiting = waiting.withStep(s.with(s.requireManual().asked(why.since())));
                    }
                  }
                  kept.runs().replace(waiting.paused(why));
                  kept.note(
                      Steering.event(
                          why.by().equals("plenzo") ? run.inCharge() : why.by(),
                          "run paused",
                          run,
                          "Before step " + why.step() + ": " + why.reason()),
                      tools.now());
                  return true;
                });
    if (!paused) {
      stop(c, RunStopped.aborted());
      return;
    }
    book.tell(c.number());
    c.say("Paused before step " + why.step() + ": " + why.reason());
  }

  /** A run whose last steps were work by hand ends when that is over. */
  private void over(RunContext c) {
    if (!c.now().state().ended()) {
      ending.done(c);
    }
  }

  private void go(RunContext c, RunStep s, Step step) {
    book.step(c.number(), s.number(), RunStep.State.RUNNING, null);
    c.say("Step " + s.number() + ": " + s.name());
    String note = step.take(c, s);
    if (note != null) {
      book.step(c.number(), s.number(), RunStep.State.DONE, note);
      c.say(note);
    }
  }

  /** What is done once every target has switched; also after a restart. */
  private void after(RunContext c) {
    try {
      through(c, step -> step.phase() == Phase.AFTER);
    } catch (RunPaused e) {
      pause(c, e);
    }
  }

  private void stop(RunContext c, RunStopped e) {
    if (book.journal(c.number()).anyApplied()) {
      afterFailure(c, e);
      return;
    }
    try {
      ending.stopped(c, e);
    } catch (TargetFailed | Problem cannot) {
      recovery.unknown(c, e, String.valueOf(cannot.getMessage()));
    }
  }

  /** After an error: ask the targets, which makes the outcome final, and act on what they say. */
  private void afterFailure(RunContext c, RunStopped why) {
    c.say(why.whole());
    try {
      settle(c, why);
    } catch (TargetFailed | Problem e) {
      recovery.unknown(c, why, String.valueOf(e.getMessage()));
    }
  }

  private void settle(RunContext c, @Nullable RunStopped why) {
    // what is recorded was settled before, and a run without changes left no trace to settle by
    if (c.now().recorded() || recovery.recover(c, why)) {
      after(c);
    }
  }

  /**
   * Finds out the truth about a run that was interrupted and ends it. Repeatable.
   *
   * @throws TargetFailed when a target cannot be asked now; nothing is decided then
   */
  void recover(Run run) {
    try (RunContext c = context(run)) {
      try {
        settle(c, null);
      } catch (TargetFailed | Problem e) {
        recovery.unknown(c, null, String.valueOf(e.getMessage()));
        throw e;
      }
    }
  }

  /** A queued run that was aborted before it began. */
  void neverBegan(Run run) {
    try (RunContext c = context(run)) {
      ending.stopped(c, RunStopped.aborted());
    }
  }

  /** Stops the statement that a run is executing, when there is one. */
  void interrupt(long run) {
    Changing session = book.working(run);
    if (session != null) {
      session.abort();
    }
  }
}
