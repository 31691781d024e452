package plenzo.core.plan.step;

import java.util.List;
import plenzo.core.plan.Plan.Act;

/** Keeps users out and waits for running work: at the host, then its files, then its database. */
final class Close implements PlannedStep {
  @Override
  public Act act() {
    return Act.CLOSE;
  }

  @Override
  public List<PlannedStep.Words> of(PlanCase c) {
    return c.delta().isEmpty() ? List.of() : c.closing().stream().map(p -> words(c, p)).toList();
  }

  private static PlannedStep.Words words(PlanCase c, PlanCase.Place place) {
    return switch (place.holder()) {
      case HOST ->
          new PlannedStep.Words(
              place,
              "Close",
              c.shown(place),
              "Maintenance on; wait for running work to end",
              "maintenance off");
      case DIRECTORY ->
          new PlannedStep.Words(
              place,
              "Close files",
              c.shown(place),
              "Put " + place.doors().names().get(0) + " beside it, for its web server to show",
              "taking it away");
      case DATABASE ->
          new PlannedStep.Words(
              place,
              "Close database",
              c.shown(place),
              "No new session of "
                  + String.join(", ", place.doors().names())
                  + "; wait for theirs to end"
                  + (place.doors().end() ? ", then end them" : ""),
              "letting them in again");
    };
  }
}
