package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.calendar.Openings;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;

/**
 * The stage is frozen, or outside its windows. Time opens it, so a plan does not fall under it: a
 * yes stands, whatever the calendar says next.
 */
public record NotNow(Openings.Closed closed) implements Gate {
  public static final String CODE = "calendar";

  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          Openings.Closed closed = c.closed();
          // one may always go back
          return closed == null || c.promotion().bringsBack()
              ? Optional.empty()
              : Optional.of(new NotNow(closed));
        }
      };

  @Override
  public String code() {
    return CODE;
  }

  @Override
  public String words() {
    return closed.why();
  }

  @Override
  public Right mover() {
    return Right.ADMINISTER;
  }
}
