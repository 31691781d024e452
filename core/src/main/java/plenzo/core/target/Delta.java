package plenzo.core.target;

/** Everything that a run changes in one target. */
public sealed interface Delta permits TablesDelta, ItemsDelta {
  boolean isEmpty();

  /** Rows, files or definitions that are written. */
  long writes();

  /** "3 rows", "1 file": what is written, in words. */
  String words();
}
