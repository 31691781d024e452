package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.SiteDelta;
import plenzo.core.words.Words;

/** The switch of one target after the other. */
final class Switch implements PlannedStep {
  @Override
  public Act act() {
    return Act.SWITCH;
  }

  @Override
  public List<Words> of(PlanCase c) {
    if (c.delta().isEmpty()) {
      return List.of(
          new Words(null, "Switch", c.everywhere(), "Nothing to change", "nothing to undo"));
    }
    List<Words> out = new ArrayList<>();
    boolean alone = c.delta().touched().size() < 2;
    for (Holder holder : c.delta().touched()) {
      PlanCase.Place at = c.touched(holder);
      out.add(
          new Words(
              at,
              alone ? "Switch" : "Switch " + at.key(),
              c.shown(at),
              what(holder, c.delta()),
              alone
                  ? "rolled back until it is sent; after it, only by going back"
                  : at.can().contains(Capability.UNDO)
                      ? "switched back, as long as nobody touched what it wrote"
                      : "rolled back until it is sent; if it fails, the others are switched"
                          + " back"));
    }
    return out;
  }

  private static String what(Holder holder, SiteDelta delta) {
    String words = Objects.requireNonNull(delta.of(holder)).words();
    return switch (holder) {
      case DATABASE ->
          "One transaction: lock, compare, write "
              + delta.tables().written()
              + ", read back, commit";
      case DIRECTORY -> "Compare once more, then exchange " + words;
      case HOST -> "One call: compare, exchange " + words;
    };
  }
}
