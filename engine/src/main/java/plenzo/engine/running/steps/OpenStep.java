package plenzo.engine.running.steps;

import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.engine.running.Maintenance;
import plenzo.engine.running.RunContext;

/** Lets everybody in again. */
final class OpenStep implements Step {
  static final String EVERYBODY = "Everybody is let in again";

  @Override
  public Act act() {
    return Act.OPEN;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    if (step.holder() == null) {
      Maintenance.end(c);
    } else {
      Maintenance.end(c, step.holder());
    }
    return c.book().journal(c.number()).closed() ? "Users are let in here" : EVERYBODY;
  }
}
