package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;

/** Lets a host refresh what it keeps of what changed there: caches, lists. */
final class Refresh implements PlannedStep {
  @Override
  public Act act() {
    return Act.REFRESH;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return !c.delta().touched().contains(Holder.HOST)
        ? List.of()
        : c
            .host(Capability.REFRESH)
            .map(
                host ->
                    new Words(
                        host,
                        "Refresh",
                        c.shown(host),
                        "Let it refresh what it keeps of what changed",
                        "nothing to undo"))
            .stream()
            .toList();
  }
}
