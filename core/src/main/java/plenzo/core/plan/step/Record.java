package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.words.Words;

/** Records what is there. */
final class Record implements PlannedStep {
  @Override
  public Act act() {
    return Act.RECORD;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(
            null,
            "Record",
            "Plenzo",
            "Record " + c.version() + " as present at " + c.site(),
            "nothing to undo"));
  }
}
