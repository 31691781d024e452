package plenzo.engine.running;

import plenzo.core.run.RunStep;

/** A run that ends where it stands, with users out, to be gone back from by itself. */
public final class RunGoesBack extends RuntimeException {
  private final RunStep step;

  public RunGoesBack(RunStep step, String why) {
    super(why);
    this.step = step;
  }

  RunStep step() {
    return step;
  }
}
