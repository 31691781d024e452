package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;

/**
 * Adds to the backup what people changed until they were kept out, so that no way back loses it.
 */
final class AddMoved implements PlannedStep {
  @Override
  public Act act() {
    return Act.ADD_MOVED;
  }

  @Override
  public List<Words> of(PlanCase c) {
    if (c.delta().tables().tables().isEmpty() || c.closing().isEmpty()) {
      return List.of();
    }
    PlanCase.Place database = c.touched(Holder.DATABASE);
    return List.of(
        new Words(
            database,
            "Add what moved",
            c.shown(database),
            "Read its tables once more; what people changed since the backup joins it",
            "the backup stays as it was"));
  }
}
