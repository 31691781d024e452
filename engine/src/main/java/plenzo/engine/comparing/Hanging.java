package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Reach;

/** Rows that go, and the rows of other tables that point at them and would hold them there. */
final class Hanging {
  private final Map<TableName, TableStructure> after;
  private final Map<TableName, List<List<Reach.Edge>>> paths = new HashMap<>();
  private final Map<TableName, Map<String, Row>> gone = new LinkedHashMap<>();
  private long count;

  /**
   * @param after every table as it is to be
   */
  Hanging(Map<TableName, TableStructure> after) {
    this.after = after;
  }

  /**
   * Rows of one table that point at rows that go.
   *
   * @param columns by which they point, of which none needs a value; empty when each needs one
   * @param question counts them
   */
  record Hook(List<String> columns, Question question) {
    Hook {
      columns = List.copyOf(columns);
    }
  }

  /** What leads to the table and does not go along by itself. */
  private List<List<Reach.Edge>> holding(TableName table) {
    return paths.computeIfAbsent(
        table,
        t ->
            Reach.from(t, after).stream()
                .filter(path -> !path.get(path.size() - 1).onDelete())
                .toList());
  }

  boolean holds(TableName table) {
    return !holding(table).isEmpty();
  }

  /** The tables whose rows may point at rows of this one. */
  Set<TableName> pointing(TableName table) {
    Set<TableName> out = new LinkedHashSet<>();
    holding(table).forEach(path -> out.add(path.get(path.size() - 1).hop().table()));
    return out;
  }

  long count() {
    return count;
  }

  /**
   * Remembers a row that goes; of more than can be asked about, no more. One that is pointed at by
   * a column that no side carries cannot be asked about: it stays in the way.
   */
  void goes(TableName table, Row row) {
    if (pointedAt(table).stream().anyMatch(c -> row.header().position(c) < 0)) {
      return;
    }
    Map<String, Row> rows = gone.computeIfAbsent(table, t -> new TreeMap<>());
    String key = row.keyLine();
    if (count < Question.Tuples.MOST && !rows.containsKey(key)) {
      rows.put(key, FittingRows.some(row, FittingRows.header(row, pointedAt(table), null)));
      count++;
    }
  }

  private List<String> pointedAt(TableName table) {
    return holding(table).stream()
        .flatMap(path -> path.get(0).hop().referenced().stream())
        .distinct()
        .toList();
  }

  List<Hook> hooks(TableName pointing) {
    List<Hook> out = new ArrayList<>();
    gone.forEach(
        (table, rows) -> {
          for (List<Reach.Edge> path : holding(table)) {
            Reach.Edge last = path.get(path.size() - 1);
            if (last.hop().table().equals(pointing)) {
              out.add(
                  new Hook(
                      free(last),
                      Question.of(Question.Type.POINTING, table)
                          .along(path.stream().map(Reach.Edge::hop).toList())
                          .given(values(rows, path.get(0).hop().referenced()))));
            }
          }
        });
    return out;
  }

  private List<String> free(Reach.Edge edge) {
    TableStructure s = Objects.requireNonNull(after.get(edge.hop().table()));
    List<String> free =
        edge.hop().columns().stream().filter(c -> !s.column(c).orElseThrow().notNull()).toList();
    boolean all =
        s.foreignKeys().stream()
            .anyMatch(k -> k.name().equals(edge.name()) && k.definition().contains("MATCH FULL"));
    return all && free.size() < edge.hop().columns().size() ? List.of() : free;
  }

  private static Question.Tuples values(Map<String, Row> rows, List<String> columns) {
    List<String> types = new ArrayList<>();
    List<List<@Nullable String>> values = new ArrayList<>();
    for (Row row : rows.values()) {
      List<Integer> at = columns.stream().map(row.header()::position).toList();
      if (types.isEmpty()) {
        at.forEach(n -> types.add(row.header().types().get(n)));
      }
      List<@Nullable String> tuple = new ArrayList<>();
      at.forEach(n -> tuple.add(row.get(n)));
      if (!tuple.contains(null)) {
        values.add(tuple);
      }
    }
    return new Question.Tuples(columns, types, values);
  }
}
