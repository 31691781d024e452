package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.words.Words;

/** Lets only operators in and waits for running work. */
final class Close implements PlannedStep {
  @Override
  public Act act() {
    return Act.CLOSE;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return c.delta().isEmpty()
        ? List.of()
        : c
            .host(Capability.MAINTENANCE)
            .map(
                host ->
                    new Words(
                        host,
                        "Close",
                        c.shown(host),
                        "Maintenance on; wait for running work to end",
                        "maintenance off"))
            .stream()
            .toList();
  }
}
