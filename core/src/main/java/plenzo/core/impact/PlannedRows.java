package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.records.Row;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.TablesDelta;

/**
 * The rows that a run would write, in the form in which a target is asked about them: what is
 * counted is the state after the run, not the one before it.
 */
final class PlannedRows {
  private PlannedRows() {}

  /** Keys of all rows that are written or removed; empty when there are too many to name. */
  static Optional<Tuples> touched(TablesDelta.@Nullable TableDelta table) {
    return keys(table, /* onlyRemoved= */ false);
  }

  /** Keys of the rows that are removed; empty when there are too many to name. */
  static Optional<Tuples> removed(TablesDelta.@Nullable TableDelta table) {
    return keys(table, /* onlyRemoved= */ true);
  }

  private static Optional<Tuples> keys(
      TablesDelta.@Nullable TableDelta table, boolean onlyRemoved) {
    List<TablesDelta.RowsDelta> sets = table == null ? List.of() : table.writes();
    long count = sets.stream().mapToLong(r -> onlyRemoved ? r.removed() : r.total()).sum();
    if (count > Tuples.MOST) {
      return Optional.empty();
    }
    if (count == 0) {
      return Optional.of(Tuples.NONE);
    }
    Header header = sets.get(0).columns();
    List<String> key = header.names().subList(0, header.keyColumns());
    List<List<@Nullable String>> values = new ArrayList<>();
    for (TablesDelta.RowsDelta rows : sets) {
      each(
          rows,
          change -> {
            if (!onlyRemoved || change.act() == Difference.REMOVED) {
              Row row = some(change);
              List<@Nullable String> of = new ArrayList<>();
              key.forEach(k -> of.add(row.get(row.header().position(k))));
              values.add(of);
            }
          });
    }
    return Optional.of(new Tuples(key, header.types().subList(0, header.keyColumns()), values));
  }

  static void each(TablesDelta.RowsDelta rows, Consumer<TablesDelta.RowChange> use) {
    try (TablesDelta.Changes changes = rows.source().open()) {
      for (TablesDelta.RowChange c = changes.next(); c != null; c = changes.next()) {
        use.accept(c);
      }
    }
  }

  static Row some(TablesDelta.RowChange change) {
    return Objects.requireNonNull(change.incoming() != null ? change.incoming() : change.present());
  }

  /** Which side of a change, for what is asked. */
  interface Side {
    @Nullable Row of(TablesDelta.RowChange change);
  }

  /**
   * Values of the columns, with the key behind them where asked, in chunks; rows with a null among
   * them point at nothing and are left out, as are long values: no index has room for one.
   */
  static void values(
      TablesDelta.RowsDelta rows,
      List<String> columns,
      boolean withKey,
      Side side,
      Consumer<Tuples> chunk) {
    Header header = rows.columns();
    if (columns.stream().anyMatch(c -> header.position(c) < 0)) {
      return;
    }
    List<String> names = new ArrayList<>(columns);
    if (withKey) {
      names.addAll(header.names().subList(0, header.keyColumns()));
    }
    List<String> types = names.stream().map(n -> header.types().get(header.position(n))).toList();
    List<List<@Nullable String>> values = new ArrayList<>();
    each(
        rows,
        change -> {
          Row row = side.of(change);
          if (row != null) {
            List<@Nullable String> tuple = tuple(row, names);
            if (!tuple.subList(0, columns.size()).contains(null) && !isLong(tuple)) {
              values.add(tuple);
            }
          }
          if (values.size() == Tuples.MOST) {
            chunk.accept(new Tuples(names, types, List.copyOf(values)));
            values.clear();
          }
        });
    if (!values.isEmpty()) {
      chunk.accept(new Tuples(names, types, List.copyOf(values)));
    }
  }

  /**
   * Values of the columns in every row that is added or changed; empty where one of them is not at
   * hand: a column that a row does not have, or a long value.
   */
  static Optional<Tuples> incoming(TablesDelta.RowsDelta rows, List<String> columns) {
    Header header = rows.columns();
    if (columns.stream().anyMatch(c -> header.position(c) < 0)) {
      return Optional.empty();
    }
    List<List<@Nullable String>> values = new ArrayList<>();
    boolean[] all = {true};
    each(
        rows,
        change -> {
          Row row = change.incoming();
          if (row != null) {
            List<@Nullable String> tuple = tuple(row, columns);
            all[0] &=
                columns.stream().allMatch(c -> row.header().position(c) >= 0) && !isLong(tuple);
            values.add(tuple);
          }
        });
    List<String> types = columns.stream().map(c -> header.types().get(header.position(c))).toList();
    return all[0] ? Optional.of(new Tuples(columns, types, values)) : Optional.empty();
  }

  private static List<@Nullable String> tuple(Row row, List<String> columns) {
    List<@Nullable String> out = new ArrayList<>();
    for (String column : columns) {
      int at = row.header().position(column);
      out.add(at < 0 ? null : row.get(at));
    }
    return out;
  }

  private static boolean isLong(List<@Nullable String> tuple) {
    return tuple.stream().anyMatch(v -> LongValue.of(v).isPresent());
  }
}
