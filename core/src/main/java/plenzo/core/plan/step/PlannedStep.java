package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.manual.Asked;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;

/** One sort of step: whether a plan takes it, and its words. What it does is the engine's. */
public interface PlannedStep {
  Act act();

  /** As many as the plan takes of it, in order; none where it is not needed. */
  List<Words> of(PlanCase c);

  /**
   * A step in words.
   *
   * @param place the target that it works on, null for all of them or none
   * @param what it does
   * @param undo how that is undone
   * @param manual what people do; null for what Plenzo does
   */
  record Words(
      PlanCase.@Nullable Place place,
      String name,
      String target,
      String what,
      String undo,
      @Nullable Asked manual) {
    Words(PlanCase.@Nullable Place place, String name, String target, String what, String undo) {
      this(place, name, target, what, undo, null);
    }
  }

  /** The order of every plan; nobody else knows one. */
  List<PlannedStep> ORDER =
      List.of(
          new ByHand(Act.BY_HAND_BEFORE, When.BEFORE),
          new LookAgain(),
          new BackUp(),
          new ProveBackup(),
          new Prepare(),
          new AskBefore(),
          new Announce(),
          new Close(),
          new ByHand(Act.BY_HAND_CLOSED, When.CLOSED),
          new AddMoved(),
          new Switch(),
          new ByHand(Act.BY_HAND_SWITCHED, When.SWITCHED),
          new ReadBack(),
          new Refresh(),
          new AskAfter(),
          new Open(),
          new Record(),
          new ByHand(Act.BY_HAND_AFTER, When.AFTER));

  /** The steps of a plan, numbered from 1. */
  static List<Plan.Step> plan(PlanCase c) {
    List<Plan.Step> out = new ArrayList<>();
    for (PlannedStep step : ORDER) {
      for (Words w : step.of(c)) {
        PlanCase.Place place = w.place();
        out.add(
            new Plan.Step(
                out.size() + 1,
                step.act(),
                place == null ? null : place.holder(),
                place == null ? null : place.id(),
                w.name(),
                w.target(),
                w.what(),
                w.undo(),
                w.manual()));
      }
    }
    return out;
  }
}
