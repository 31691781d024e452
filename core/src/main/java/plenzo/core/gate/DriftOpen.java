package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.words.Words;

/** The site differs from its record, and its stage takes nothing until that is settled. */
public record DriftOpen(long parts) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        private boolean asks(GateCase c) {
          return c.stage().driftCloses() && c.promotion().brings();
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          return asks(c)
              ? Optional.of(new Condition("drift", "what differs at the site is settled"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          return asks(c) && c.drift() > 0
              ? Optional.of(new DriftOpen(c.drift()))
              : Optional.empty();
        }
      };

  @Override
  public String code() {
    return "drift";
  }

  @Override
  public String words() {
    return Words.partsOrRows(parts)
        + (parts == 1 ? " differs" : " differ")
        + " from the record: put back, taken into a version or left with a reason first";
  }

  @Override
  public Right mover() {
    return Right.PREPARE;
  }
}
