package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.impact.Finding;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.words.Words;

/** In production every risk is accepted by a person. */
public record Risks(long count) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return c.stage().production()
              ? Optional.of(new Condition("risks", "every risk accepted"))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          if (!c.stage().production() || c.agreedBefore()) {
            return Optional.empty();
          }
          long count =
              c.promotion().findings().stream()
                  .filter(f -> f.severity() == Finding.Severity.RISK && f.accepted() == null)
                  .count();
          return count == 0 ? Optional.empty() : Optional.of(new Risks(count));
        }
      };

  @Override
  public String code() {
    return "risks";
  }

  @Override
  public String words() {
    return Words.count(count, "risk") + " to accept";
  }

  @Override
  public Right mover() {
    return Right.APPROVE;
  }
}
