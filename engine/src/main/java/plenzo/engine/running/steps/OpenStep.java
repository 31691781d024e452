package plenzo.engine.running.steps;

import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.engine.running.Maintenance;
import plenzo.engine.running.RunContext;

/** Lets everybody in again. */
final class OpenStep implements Step {
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
    Maintenance.end(c);
    return "Everybody is let in again";
  }
}
