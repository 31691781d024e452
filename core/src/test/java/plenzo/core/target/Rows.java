package plenzo.core.target;

import java.util.Iterator;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.records.Header;

/** Rows that a test would write, out of a list. */
public final class Rows {
  private Rows() {}

  /** As many of each sort as the list has. */
  public static TablesDelta.RowsDelta of(
      Header columns, List<String> compared, List<TablesDelta.RowChange> all) {
    return new TablesDelta.RowsDelta(
        columns,
        java.util.Set.of(),
        compared,
        count(all, Difference.REMOVED),
        count(all, Difference.CHANGED),
        count(all, Difference.ADDED),
        () -> changes(all));
  }

  private static long count(List<TablesDelta.RowChange> all, Difference act) {
    return all.stream().filter(c -> c.act() == act).count();
  }

  private static TablesDelta.Changes changes(List<TablesDelta.RowChange> all) {
    Iterator<TablesDelta.RowChange> at = all.iterator();
    return new TablesDelta.Changes() {
      @Override
      public TablesDelta.@Nullable RowChange next() {
        return at.hasNext() ? at.next() : null;
      }

      @Override
      public void close() {}
    };
  }
}
