package plenzo.engine.running;

import plenzo.core.run.Course;
import plenzo.core.run.RunStep;

/** A run that waits for a person before a step; nothing is decided, and nothing is undone. */
public final class RunPaused extends RuntimeException {
  private final Course.Why why;
  private final RunStep step;
  private final String by;

  private RunPaused(Course.Why why, RunStep step, String by, String reason) {
    super(reason);
    this.why = why;
    this.step = step;
    this.by = by;
  }

  /** Until somebody says what came of it. */
  public static RunPaused forWork(RunStep step) {
    return new RunPaused(Course.Why.BY_HAND, step, "plenzo", step.requireManual().step().title());
  }

  /** Until somebody says whether users come in. */
  public static RunPaused forAnswers(RunStep step, String why) {
    return new RunPaused(Course.Why.ANSWERS, step, "plenzo", why);
  }

  static RunPaused by(String login, RunStep before, String reason) {
    return new RunPaused(Course.Why.PERSON, before, login, reason);
  }

  RunStep step() {
    return step;
  }

  Course.Pause pause(java.time.Instant now) {
    return new Course.Pause(why, step.number(), by, now, String.valueOf(getMessage()));
  }
}
