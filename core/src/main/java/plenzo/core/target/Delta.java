package plenzo.core.target;

import java.util.List;
import plenzo.core.words.Words;

/** Everything that a run changes in one target. */
public sealed interface Delta permits TablesDelta, ItemsDelta {
  boolean isEmpty();

  /** Rows, files or definitions that are written. */
  long writes();

  /** "3 rows", "1 file": what is written, in words, a sort each. */
  List<String> parts();

  /** The same as one. */
  default String words() {
    return Words.and(parts());
  }
}
