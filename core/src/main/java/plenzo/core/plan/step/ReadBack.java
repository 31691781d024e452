package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.words.Words;

/** Compares what is there with what was planned, from outside. */
final class ReadBack implements PlannedStep {
  @Override
  public Act act() {
    return Act.READ_BACK;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(
            null,
            "Read back",
            c.everywhere(),
            (c.locked().after().isEmpty()
                    ? ""
                    : "Look, while people go on working, "
                        + plenzo.core.words.Words.and(c.locked().after())
                        + ". ")
                + "Compare what is there now with what was planned, and the rest of what is looked at"
                + " with what was there before",
            "nothing to undo"));
  }
}
