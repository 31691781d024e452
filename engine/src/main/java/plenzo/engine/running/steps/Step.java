package plenzo.engine.running.steps;

import org.jspecify.annotations.Nullable;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.engine.running.RunContext;

/** What one sort of step does. */
public interface Step {
  Act act();

  Phase phase();

  /** Whether it is taken when there is nothing to change, too. */
  default boolean withoutChanges() {
    return phase() == Phase.AFTER;
  }

  /**
   * Whether it is taken anew when a run goes on that was paused after it, because what it found is
   * known to a run under way alone.
   */
  default boolean again(RunContext c) {
    return false;
  }

  /**
   * Does it; before every act outside an intent is journaled, after it an outcome.
   *
   * @return what is said of it when it is done; null when it has said so itself
   * @throws plenzo.engine.running.RunStopped when the run must not go on
   * @throws plenzo.engine.running.RunPaused when it waits for a person
   * @throws plenzo.core.target.TargetFailed when what happened is unknown until settled
   */
  @Nullable String take(RunContext c, RunStep step);

  /**
   * Takes back what it left outside, for a run that changes nothing in the end. Repeatable; needs
   * no memory of the step.
   *
   * @throws plenzo.core.target.TargetFailed when a target cannot be asked now
   */
  default void undo(RunContext c) {}

  /** Where it stands to the switches. */
  enum Phase {
    /** A failure stops the run, and nothing was changed. */
    BEFORE,
    /** After a failure the targets are asked. */
    SWITCH,
    /** What was switched stays: a failure is something to look at. */
    AFTER
  }
}
