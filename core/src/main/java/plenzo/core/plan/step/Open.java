package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;

/** Lets everybody in again, the other way round. */
final class Open implements PlannedStep {
  @Override
  public Act act() {
    return Act.OPEN;
  }

  @Override
  public List<Words> of(PlanCase c) {
    if (c.delta().isEmpty()) {
      return List.of();
    }
    List<PlanCase.Place> places = new ArrayList<>(c.closing());
    Collections.reverse(places);
    return places.stream()
        .map(
            p ->
                new Words(
                    p,
                    switch (p.holder()) {
                      case HOST -> "Open";
                      case DIRECTORY -> "Open files";
                      case DATABASE -> "Open database";
                    },
                    c.shown(p),
                    p.holder() == Holder.HOST
                        ? "Maintenance off"
                        : p.holder() == Holder.DATABASE
                            ? "Let " + String.join(", ", p.doors().names()) + " in again"
                            : "Take " + p.doors().names().get(0) + " away",
                    "nothing to undo"))
        .toList();
  }
}
