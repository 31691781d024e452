package plenzo.engine.comparing;

import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/**
 * Rows that a comparison found the same. They are only counted when it is made, so they are what
 * the version brings and no class of the comparison has; one pass over both, in constant memory.
 */
public final class SameRows implements AutoCloseable {
  private final RowReader incoming;
  private final ComparisonFiles.Merged differing;
  private @Nullable RowDifference at;

  SameRows(RowReader incoming, ComparisonFiles.Merged differing) {
    this.incoming = incoming;
    this.differing = differing;
    this.at = differing.next();
  }

  /** The next one; null at the end. */
  public @Nullable RowDifference next() {
    for (Row row = incoming.next(); row != null; row = incoming.next()) {
      while (at != null && at.any().compareKey(row) < 0) {
        at = differing.next();
      }
      if (at == null || at.any().compareKey(row) != 0) {
        return new RowDifference(Difference.SAME, null, row, row);
      }
    }
    return null;
  }

  @Override
  public void close() {
    incoming.close();
    differing.close();
  }
}
