package plenzo.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** One step of a run as people see it. */
public record RunStep(
    int number,
    String name,
    State state,
    @Nullable Instant began,
    @Nullable Instant ended,
    @Nullable String note) {
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
