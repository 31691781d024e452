package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.words.Words;

/** Asks the running system before anything changes. */
final class AskBefore implements PlannedStep {
  @Override
  public Act act() {
    return Act.ASK_BEFORE;
  }

  @Override
  public List<Words> of(PlanCase c) {
    if (c.questions().isEmpty()) {
      return List.of();
    }
    PlanCase.Place host = c.host(Capability.PROBE).orElse(null);
    return List.of(
        new Words(
            host,
            "Ask before",
            host == null ? c.site().toString() : c.shown(host),
            "Ask " + String.join(", ", c.questions()) + " and keep the answers",
            "nothing to undo"));
  }
}
