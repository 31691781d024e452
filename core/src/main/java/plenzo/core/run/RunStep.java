package plenzo.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.manual.Handed;
import plenzo.core.plan.Plan;

/**
 * One step of a run as people see it.
 *
 * @param holder the target that it works on, null for all of them or none
 * @param manual what people do in it; null for what Plenzo does
 */
public record RunStep(
    int number,
    Plan.Act act,
    Kind.@Nullable Holder holder,
    String name,
    State state,
    @Nullable Instant began,
    @Nullable Instant ended,
    @Nullable String note,
    @Nullable Handed manual) {
  /** One that is still to come. */
  public static RunStep toCome(Plan.Step s) {
    return new RunStep(
        s.number(),
        s.act(),
        s.holder(),
        s.name(),
        State.TO_COME,
        null,
        null,
        null,
        s.manual() == null ? null : Handed.of(s.manual()));
  }

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
        said != null ? said : note,
        manual);
  }

  /** The same in another run, where it has another number. */
  public RunStep at(int place) {
    return new RunStep(place, act, holder, name, state, began, ended, note, manual);
  }

  /** The same with what is said of work by hand. */
  public RunStep with(Handed handed) {
    return new RunStep(number, act, holder, name, state, began, ended, note, handed);
  }

  /**
   * @throws IllegalStateException when Plenzo does it
   */
  public Handed requireManual() {
    if (manual == null) {
      throw new IllegalStateException("Step " + number + " is done by Plenzo");
    }
    return manual;
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

    /** Whether a run that goes on goes past it; one that failed after the switch stays so. */
    public boolean over() {
      return this == DONE || this == LEFT_OUT || this == FAILED;
    }
  }
}
