package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.words.Words;

/** Puts everything slow beside what is present, out of sight. */
final class Prepare implements PlannedStep {
  @Override
  public Act act() {
    return Act.PREPARE;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(
            null,
            "Prepare",
            c.everywhere(),
            "Put "
                + c.delta().words()
                + " beside the present ones"
                + (c.locked().before().isEmpty()
                    ? ""
                    : "; build "
                        + plenzo.core.words.Words.and(c.locked().before())
                        + " while people go on working"),
            "what was put there is dropped"));
  }
}
