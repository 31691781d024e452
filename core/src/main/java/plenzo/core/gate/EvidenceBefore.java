package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;

/** A test report of the version without a failure must have been given at the stage before. */
public record EvidenceBefore(String stage, String newest) implements Gate {
  static final String CODE = "evidence-before";

  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return asks(c)
              ? Optional.of(
                  new Condition(CODE, "a test report without a failure at the stage before"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          GateCase.Before before = c.before();
          return !asks(c) || before == null || before.shown()
              ? Optional.empty()
              : Optional.of(new EvidenceBefore(before.stage(), before.report()));
        }
      };

  private static boolean asks(GateCase c) {
    return c.promotion().brings() && c.leg().asksEvidence();
  }

  @Override
  public String code() {
    return CODE;
  }

  @Override
  public String words() {
    return newest.isEmpty()
        ? "no test report of it was given at " + stage
        : "the newest test report of it at " + stage + " says " + newest;
  }

  @Override
  public Right mover() {
    return Right.JUDGE;
  }
}
