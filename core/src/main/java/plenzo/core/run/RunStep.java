package plenzo.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.plan.Plan;

/**
 * One step of a run as people see it.
 *
 * @param holder the target that it works on, null for all of them or none
 */
public record RunStep(
    int number,
    Plan.Act act,
    Kind.@Nullable Holder holder,
    String name,
    State state,
    @Nullable Instant began,
    @Nullable Instant ended,
    @Nullable String note) {
  /** The same in another state; a step that begins has not ended. */
  public RunStep to(State next, Instant now, @Nullable String said) {
    boolean begins = next == State.RUNNING;
    return new RunStep(
        number,
        act,
        holder,
        name,
        next,
        begins ? now : began,
        begins || next == State.LEFT_OUT ? null : now,
        said != null ? said : note);
  }

  /** State of a step; UNKNOWN only until the target was asked. */
  public enum State {
    TO_COME("to come"),
    RUNNING("running"),
    DONE("done"),
    FAILED("failed"),
    LEFT_OUT("left out"),
    UNKNOWN("unknown");

    private final String code;

    State(String code) {
      this.code = code;
    }

    public String code() {
      return code;
    }
  }
}
