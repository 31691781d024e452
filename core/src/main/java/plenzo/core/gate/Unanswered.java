package plenzo.core.gate;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.promotion.Question;

/** Somebody who may say yes asked something before, and nobody answered yet. */
public record Unanswered(List<Question> questions) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          return Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          List<Question> open = c.promotion().questions().stream().filter(Question::open).toList();
          return open.isEmpty() || c.agreedBefore()
              ? Optional.empty()
              : Optional.of(new Unanswered(open));
        }
      };

  public Unanswered {
    questions = List.copyOf(questions);
  }

  @Override
  public String code() {
    return "unanswered";
  }

  @Override
  public String words() {
    return questions.stream()
        .map(q -> "question " + q.number() + " of " + q.by() + " is not answered")
        .collect(Collectors.joining(", "));
  }

  @Override
  public Right mover() {
    return Right.PREPARE;
  }
}
