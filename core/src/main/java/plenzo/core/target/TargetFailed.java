package plenzo.core.target;

/** A target could not be asked or did not answer; what happened there is unknown until settled. */
public final class TargetFailed extends RuntimeException {
  private final boolean notReachable;

  public TargetFailed(String message, boolean notReachable, Throwable cause) {
    super(message, cause);
    this.notReachable = notReachable;
  }

  public boolean notReachable() {
    return notReachable;
  }
}
