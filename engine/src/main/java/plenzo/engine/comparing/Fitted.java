package plenzo.engine.comparing;

import java.util.List;
import java.util.Map;
import java.util.Set;
import plenzo.core.comparison.Counts;
import plenzo.core.component.TableName;
import plenzo.core.records.LongValues;
import plenzo.core.target.TablesDelta;

/**
 * What a way back does to one table's rows so that they fit (see {@link Fitting}).
 *
 * @param parts sets of rows among the comparison's files; a row may be in several
 * @param settled places at which every row that the structure cannot hold was looked at, as in
 *     {@link TablesDelta.Fitted}
 * @param touched digest of everything that is written or removed
 * @param returned how many rows get back a column's values, by column; by "" how many rows come
 *     back
 * @param lost what goes with it, place by place
 * @param longValues where long values are that the rows name
 */
record Fitted(
    TableName table,
    List<Part> parts,
    Set<String> settled,
    String touched,
    Map<String, Long> returned,
    List<Losses.Item> lost,
    LongValues longValues) {
  Fitted {
    parts = List.copyOf(parts);
    settled = Set.copyOf(settled);
    returned = Map.copyOf(returned);
    lost = List.copyOf(lost);
  }

  /**
   * Rows that get one column's value, rows that go, or rows that come back.
   *
   * @param place of the files in the comparison
   */
  record Part(int place, Counts counts) {}
}
