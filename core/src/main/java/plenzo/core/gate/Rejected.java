package plenzo.core.gate;

import java.util.List;
import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.promotion.Promotion;

/** A no to this plan stands; who said it may take it back. */
public record Rejected(List<String> by) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          List<String> no =
              c.promotion().approvals().stream()
                  .filter(Promotion.Approval::rejects)
                  .map(Promotion.Approval::by)
                  .distinct()
                  .toList();
          return no.isEmpty() ? Optional.empty() : Optional.of(new Rejected(no));
        }
      };

  public Rejected {
    by = List.copyOf(by);
  }

  @Override
  public String code() {
    return "rejected";
  }

  @Override
  public String words() {
    return "rejected by " + String.join(", ", by);
  }

  @Override
  public Right mover() {
    return Right.APPROVE;
  }
}
