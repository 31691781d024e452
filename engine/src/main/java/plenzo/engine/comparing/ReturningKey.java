package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/**
 * A foreign key whose columns come back, and the values of it that point at nothing by now.
 *
 * @param from where its values come from
 * @param free columns of it that need no value
 */
record ReturningKey(
    Before.Table from,
    List<String> columns,
    List<String> free,
    Set<List<@Nullable String>> pointless) {
  /**
   * @param from tables of before from which columns come back, by column
   */
  static List<ReturningKey> of(
      Fitting fitting, TablesDelta.TableDelta t, Map<String, Before.Table> from) {
    List<ReturningKey> out = new ArrayList<>();
    TableStructure result = Objects.requireNonNull(t.result());
    for (Constraint k : result.foreignKeys()) {
      Before.Table had = from.get(k.columns().get(0));
      TableName other = k.references();
      if (had != null
          && other != null
          && k.columns().stream().allMatch(c -> had.equals(from.get(c)))
          && has(fitting.compared().tables().get(other), k.referencedColumns())) {
        Set<List<@Nullable String>> values = values(had.rows().get(), k.columns());
        forget(values, fitting.looking().allRows(other, List.of()), k.referencedColumns());
        fitting
            .compared()
            .coming(
                new ComponentKey(Kind.RECORDS, other.componentName()),
                row -> values.remove(some(row, k.referencedColumns())));
        List<String> free =
            k.columns().stream().filter(c -> !result.column(c).orElseThrow().notNull()).toList();
        out.add(new ReturningKey(had, k.columns(), free, values));
      }
    }
    return out;
  }

  private static boolean has(@Nullable TableStructure s, List<String> columns) {
    return s != null && columns.stream().allMatch(c -> s.column(c).isPresent());
  }

  /** Of more than can be kept none: the rules count those that point at nothing. */
  private static Set<List<@Nullable String>> values(RowReader rows, List<String> columns) {
    Set<List<@Nullable String>> out = new HashSet<>();
    try (rows) {
      for (Row row = rows.next(); row != null; row = rows.next()) {
        List<@Nullable String> tuple = some(row, columns);
        if (!tuple.contains(null)) {
          out.add(tuple);
        }
        if (out.size() > Question.Tuples.MOST) {
          return new HashSet<>();
        }
      }
    }
    return out;
  }

  private static void forget(
      Set<List<@Nullable String>> values, RowReader there, List<String> columns) {
    try (there) {
      for (Row row = values.isEmpty() ? null : there.next(); row != null; row = there.next()) {
        values.remove(some(row, columns));
      }
    }
  }

  private static List<@Nullable String> some(Row row, List<String> columns) {
    List<@Nullable String> out = new ArrayList<>();
    columns.forEach(c -> out.add(row.get(row.header().position(c))));
    return out;
  }

  boolean pointsAtNothing(@Nullable Row was) {
    return was != null && pointless.contains(some(was, columns));
  }
}
