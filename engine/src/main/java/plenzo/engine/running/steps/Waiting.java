package plenzo.engine.running.steps;

import plenzo.core.target.TargetFailed;

/** A moment between two looks at what is waited for. */
final class Waiting {
  private static final int MILLIS = 200;

  private Waiting() {}

  static void pause() {
    try {
      Thread.sleep(MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new TargetFailed("Interrupted", false, e);
    }
  }
}
