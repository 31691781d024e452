package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.impact.Finding;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.words.Words;

/** Findings that can only be put right. */
public record Blockers(long count) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.of(new Condition("blockers", "no blocker"));
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          long count =
              c.promotion().findings().stream()
                  .filter(f -> f.severity() == Finding.Severity.BLOCKER)
                  .count();
          return count == 0 ? Optional.empty() : Optional.of(new Blockers(count));
        }
      };

  @Override
  public String code() {
    return "blockers";
  }

  @Override
  public String words() {
    return Words.count(count, "blocker") + " to put right";
  }

  @Override
  public Right mover() {
    return Right.PREPARE;
  }
}
