package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.version.SemVer;

/** The version was judged good at the stage before. */
public record JudgedBefore(SemVer version, String stage) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        private boolean asks(GateCase c) {
          return c.leg().verdict() && c.promotion().brings();
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          return asks(c)
              ? Optional.of(new Condition("judged-before", "judged good at the stage before"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          GateCase.Before before = c.before();
          return !asks(c) || before == null || before.good()
              ? Optional.empty()
              : Optional.of(new JudgedBefore(c.promotion().version(), before.stage()));
        }
      };

  @Override
  public String code() {
    return "judged-before";
  }

  @Override
  public String words() {
    return version + " is not judged good in " + stage + " yet";
  }

  @Override
  public Right mover() {
    return Right.JUDGE;
  }
}
