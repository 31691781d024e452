package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.words.Words;

/** Asks it the same again. */
final class AskAfter implements PlannedStep {
  @Override
  public Act act() {
    return Act.ASK_AFTER;
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
            "Ask after",
            host == null ? c.site().toString() : c.shown(host),
            "The same again, and compare the answers",
            "nothing to undo"));
  }
}
