package plenzo.core.target;

import org.jspecify.annotations.Nullable;

/**
 * What a run left in a target beside its content, and that nothing needs once the run is over.
 *
 * @param name as the target has it; what is cleared is named by it
 * @param run number of the run, or of the rehearsal, that left it
 * @param bytes what it takes there; null when the target does not tell
 */
public record Leftover(Sort sort, String name, long run, @Nullable Long bytes) {
  /** What it is. */
  public enum Sort {
    /** What was put beside the present content before a switch. */
    PREPARED,
    /** Rows or a tree as they were before a switch. */
    BEFORE,
    /** The place in which a backup was restored to prove it. */
    SCRATCH,
    /** The place in which a plan was rehearsed. */
    REHEARSAL
  }
}
