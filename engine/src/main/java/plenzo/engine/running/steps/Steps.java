package plenzo.engine.running.steps;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import plenzo.core.plan.Plan.Act;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Proof;
import plenzo.engine.running.steps.Step.Phase;

/** Every step by its act. */
public final class Steps {
  private final Map<Act, Step> all = new EnumMap<>(Act.class);

  public Steps(Proof proof, Promotions promotions) {
    for (Step s :
        List.of(
            new ByHandStep(Act.BY_HAND_BEFORE, Phase.BEFORE),
            new LookAgainStep(),
            new BackUpStep(),
            new ProveStep(proof),
            new PrepareStep(),
            new AskBeforeStep(),
            new AnnounceStep(),
            new CloseStep(),
            new ByHandStep(Act.BY_HAND_CLOSED, Phase.BEFORE),
            new AddMovedStep(),
            new SwitchStep(),
            new ByHandStep(Act.BY_HAND_SWITCHED, Phase.AFTER),
            new ReadBackStep(),
            new RefreshStep(),
            new AskAfterStep(),
            new OpenStep(),
            new RecordStep(promotions),
            new ByHandStep(Act.BY_HAND_AFTER, Phase.AFTER))) {
      if (all.put(s.act(), s) != null) {
        throw new IllegalStateException("Two steps for " + s.act());
      }
    }
    for (Act act : Act.values()) {
      if (!all.containsKey(act)) {
        throw new IllegalStateException("No step for " + act);
      }
    }
  }

  public Step of(Act act) {
    return java.util.Objects.requireNonNull(all.get(act));
  }
}
