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
    return c.questions().isEmpty()
        ? List.of()
        : c
            .host(Capability.PROBE)
            .map(
                host ->
                    new Words(
                        host,
                        "Ask after",
                        c.shown(host),
                        "The same again, and compare the answers",
                        "nothing to undo"))
            .stream()
            .toList();
  }
}
