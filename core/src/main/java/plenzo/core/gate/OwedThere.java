package plenzo.core.gate;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;

/**
 * An emergency that ran there still owes its yes: nothing ordinary goes there until it has come.
 */
public record OwedThere(List<Long> promotions) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          return c.owedThere().isEmpty() || !c.promotion().brings() || c.urgent()
              ? Optional.empty()
              : Optional.of(new OwedThere(c.owedThere()));
        }
      };

  public OwedThere {
    promotions = List.copyOf(promotions);
  }

  @Override
  public String code() {
    return "owed-there";
  }

  @Override
  public String words() {
    return promotions.stream().map(n -> "P-" + n).collect(Collectors.joining(", "))
        + (promotions.size() == 1 ? " owes" : " owe")
        + " a yes there: an emergency ran without it";
  }

  @Override
  public Right mover() {
    return Right.APPROVE;
  }
}
