package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;

/** Tells people at the host that they will be kept out, and waits until then. */
final class Announce implements PlannedStep {
  @Override
  public Act act() {
    return Act.ANNOUNCE;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return c.delta().isEmpty() || c.minutesBefore() == 0
        ? List.of()
        : c
            .host(Capability.MAINTENANCE)
            .map(
                host ->
                    new Words(
                        host,
                        "Tell people",
                        c.shown(host),
                        "Say that it closes in " + c.minutesBefore() + " min, and wait until then",
                        "taking that back"))
            .stream()
            .toList();
  }
}
