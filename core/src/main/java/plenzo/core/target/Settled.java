package plenzo.core.target;

/** What a target says of a run, in a way that makes it final. */
public enum Settled {
  /** It was applied. */
  APPLIED,
  /** It was not, and never can be. */
  VOID,
  /**
   * A run of that number was applied, and its plan was another one: the records are older than the
   * target. This run was not applied, and never can be.
   */
  ANOTHER
}
