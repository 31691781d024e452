package plenzo.core.gate;

import java.util.Optional;
import java.util.regex.Pattern;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.version.SemVer;

/** The version names a task that looks as the leg asks. */
public record TaskNamed(SemVer version, String pattern) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        private boolean asks(GateCase c) {
          return !c.leg().task().isEmpty() && c.promotion().brings();
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          String pattern = c.leg().task();
          return asks(c)
              ? Optional.of(new Condition("task:" + pattern, "a task like " + pattern))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          return !asks(c) || c.tasks().stream().anyMatch(t -> matches(c.leg().task(), t))
              ? Optional.empty()
              : Optional.of(new TaskNamed(c.promotion().version(), c.leg().task()));
        }
      };

  private static boolean matches(String pattern, String task) {
    return Pattern.compile(pattern).matcher(task).matches();
  }

  @Override
  public String code() {
    return "task";
  }

  @Override
  public String words() {
    return version + " names no task like " + pattern;
  }

  @Override
  public Right mover() {
    return Right.AUTHOR;
  }
}
