package plenzo.core.gate;

import java.util.List;
import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.version.SemVer;

/** The version is at every site of the stage before. */
public record EverySiteBefore(SemVer version, List<String> without) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        private boolean asks(GateCase c) {
          return c.leg().everySite() && c.promotion().brings();
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          return asks(c)
              ? Optional.of(new Condition("every-site-before", "at every site of the stage before"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          GateCase.Before before = c.before();
          return !asks(c) || before == null || before.without().isEmpty()
              ? Optional.empty()
              : Optional.of(new EverySiteBefore(c.promotion().version(), before.without()));
        }
      };

  public EverySiteBefore {
    without = List.copyOf(without);
  }

  @Override
  public String code() {
    return "every-site-before";
  }

  @Override
  public String words() {
    return version + " is not at " + String.join(", ", without) + " yet";
  }

  @Override
  public Right mover() {
    return Right.RUN;
  }
}
