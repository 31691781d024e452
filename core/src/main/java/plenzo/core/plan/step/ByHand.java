package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.plan.Plan.Act;

/** What people do outside Plenzo at one point of a run; the run waits for their word. */
record ByHand(Act act, When when) implements PlannedStep {
  @Override
  public List<Words> of(PlanCase c) {
    return c.manual().stream()
        .filter(m -> m.step().when() == when)
        .map(
            m ->
                new Words(
                    null,
                    "By hand",
                    m.step().who().isEmpty() ? "People" : m.step().who(),
                    m.words(),
                    "by hand too: Plenzo does not know how",
                    m))
        .toList();
  }
}
