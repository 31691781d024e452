package plenzo.engine.running.steps;

import java.util.Objects;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.Delta;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.running.RunWatch;
import plenzo.engine.setup.Targets;

/** Puts everything slow beside what is present, target by target, out of people's sight. */
final class PrepareStep implements Step {
  @Override
  public Act act() {
    return Act.PREPARE;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public boolean again(RunContext c) {
    return c.changesNothingYet();
  }

  @Override
  public String take(RunContext c, RunStep step) {
    long number = c.number();
    try {
      for (Holder holder : c.delta().touched()) {
        Targets.At at = c.place(holder);
        Delta delta = Objects.requireNonNull(c.delta().of(holder));
        c.book()
            .intent(
                number,
                Deed.PREPARE,
                1,
                at.id(),
                null,
                "Put " + delta.words() + " beside the present ones");
        Changing session = c.opened(holder, c.targets().change(at));
        c.book().working(number, session);
        session.claim();
        if (step.state().over()) { // of before it was paused
          session.discard(number);
        }
        session.prepare(number, delta, new RunWatch(c, c.delta().writes()));
        c.book().outcome(number, Deed.PREPARE, 1, at.id(), Outcome.PREPARED, "prepared");
      }
    } catch (SwitchRefused e) {
      throw RunStopped.of(e);
    }
    return c.delta().words() + (c.delta().writes() == 1 ? " is prepared" : " are prepared");
  }

  @Override
  public void undo(RunContext c) {
    for (Holder holder : c.switched()) {
      Targets.At at;
      try {
        at = c.place(holder);
      } catch (TargetFailed e) {
        if (e.notReachable()) {
          throw e;
        }
        c.say("What was prepared may be left there: " + e.getMessage());
        continue;
      }
      try (Changing session = c.targets().change(at)) {
        session.discard(c.number());
      }
    }
  }
}
