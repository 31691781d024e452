package plenzo.core.gate;

import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;

/**
 * Nothing goes over a connection that is not tested, or whose test is red.
 *
 * @param connection null where the site has no target
 * @param found what the red test found; null when it was never tested
 */
public record Tests(@Nullable String connection, @Nullable String found) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.of(new Condition("tests", "connections tested green"));
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          // going back inside what was agreed is not stopped by a red test (decision D11)
          return c.agreedBefore()
              ? Optional.empty()
              : c.notGreen().stream().findFirst().map(n -> new Tests(n.connection(), n.found()));
        }
      };

  @Override
  public String code() {
    return "tests";
  }

  @Override
  public String words() {
    if (connection == null) {
      return String.valueOf(found);
    }
    return found == null
        ? "The connection " + connection + " was not tested"
        : "The test of the connection " + connection + " is red: " + found;
  }

  @Override
  public Right mover() {
    return Right.OPERATE;
  }
}
