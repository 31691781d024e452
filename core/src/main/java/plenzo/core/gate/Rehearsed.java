package plenzo.core.gate;

import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.rehearsal.Rehearsal.Result;

/** The plan must have been carried out on a copy, and taken back there. */
public record Rehearsed(@Nullable Rehearsal newest, boolean ofThisPlan) implements Gate {
  static final String CODE = "rehearsal";

  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return asks(c)
              ? Optional.of(
                  new Condition(CODE, "its plan rehearsed on a copy, and taken back there"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          Rehearsal newest = c.rehearsal();
          boolean ofThis = newest != null && newest.isOf(c.promotion().plan());
          return !asks(c) || ofThis && newest.result() == Result.PROVEN
              ? Optional.empty()
              : Optional.of(new Rehearsed(newest, ofThis));
        }
      };

  private static boolean asks(GateCase c) {
    return c.promotion().brings() && c.leg().asksRehearsal();
  }

  @Override
  public String code() {
    return CODE;
  }

  @Override
  public String words() {
    if (newest == null) {
      return "its plan was not rehearsed";
    }
    if (!ofThisPlan) {
      return newest.shown() + " rehearsed another plan than this one";
    }
    return switch (newest.result()) {
      case GOING_ON -> newest.shown() + " is going on";
      case FAILED -> newest.shown() + " did not come through";
      case STOPPED -> newest.shown() + " was stopped";
      case CARRIED_OUT -> newest.shown() + " could not try a way back";
      case PROVEN -> newest.shown() + " came through";
    };
  }

  @Override
  public Right mover() {
    return Right.PREPARE;
  }
}
