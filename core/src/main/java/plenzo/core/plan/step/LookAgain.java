package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.words.Words;

/** Compares once more; what the plan touches must not have moved. */
final class LookAgain implements PlannedStep {
  @Override
  public Act act() {
    return Act.LOOK_AGAIN;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(
            null,
            "Look again",
            c.everywhere(),
            "Compare once more; stop if anything that the plan touches moved",
            "nothing to undo"));
  }
}
