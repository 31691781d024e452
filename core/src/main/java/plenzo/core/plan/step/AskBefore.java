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
    return c.questions().isEmpty()
        ? List.of()
        : c
            .host(Capability.PROBE)
            .map(
                host ->
                    new Words(
                        host,
                        "Ask before",
                        c.shown(host),
                        "Ask " + String.join(", ", c.questions()) + " and keep the answers",
                        "nothing to undo"))
            .stream()
            .toList();
  }
}
