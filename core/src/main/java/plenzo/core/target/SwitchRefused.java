package plenzo.core.target;

import java.util.List;

/**
 * The target refused the switch and changed nothing: something moved, is locked, or the run was
 * aborted.
 */
public final class SwitchRefused extends RuntimeException {
  /** Why. */
  public enum Why {
    /** What the plan read is no longer there. */
    MOVED,
    /** Somebody holds a lock; trying again may help. */
    LOCKED,
    /** A person asked to abort. */
    ABORTED,
    /** The target's engine refused a statement. */
    REFUSED,
    /** What was read back is not what was planned. */
    NOT_AS_PLANNED
  }

  private final Why why;
  private final List<String> details;

  public SwitchRefused(Why why, String message, List<String> details) {
    super(message);
    this.why = why;
    this.details = List.copyOf(details);
  }

  public Why why() {
    return why;
  }

  /** The objects or rows, one a line. */
  public List<String> details() {
    return details;
  }
}
