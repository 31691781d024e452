package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.words.Words;

/** Lets everybody in again. */
final class Open implements PlannedStep {
  @Override
  public Act act() {
    return Act.OPEN;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return c.delta().isEmpty()
        ? List.of()
        : c
            .host(Capability.MAINTENANCE)
            .map(
                host ->
                    new Words(host, "Open", c.shown(host), "Maintenance off", "nothing to undo"))
            .stream()
            .toList();
  }
}
