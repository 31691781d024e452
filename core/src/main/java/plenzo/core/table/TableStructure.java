package plenzo.core.table;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * The structure of one table: what is compared, sealed and rebuilt. Lists are kept by name, because
 * the order of columns is never a difference.
 */
public record TableStructure(
    List<Column> columns,
    List<Constraint> constraints,
    List<Index> indexes,
    @Nullable String comment) {
  public TableStructure {
    columns = columns.stream().sorted(Comparator.comparing(Column::name)).toList();
    constraints = constraints.stream().sorted(Comparator.comparing(Constraint::name)).toList();
    indexes = indexes.stream().sorted(Comparator.comparing(Index::name)).toList();
  }

  public static final TableStructure EMPTY =
      new TableStructure(List.of(), List.of(), List.of(), null);

  public Optional<Column> column(String name) {
    return columns.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  public Optional<Constraint> constraint(String name) {
    return constraints.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  public Optional<Constraint> primaryKey() {
    return constraints.stream().filter(c -> c.type() == Constraint.Type.PRIMARY).findFirst();
  }

  public List<Constraint> foreignKeys() {
    return constraints.stream().filter(c -> c.type() == Constraint.Type.FOREIGN).toList();
  }

  /** The content that digests are taken of. */
  public String canonical() {
    return Json.object(
            "columns",
            list(columns, Column::toJson),
            "constraints",
            list(constraints, Constraint::toJson),
            "indexes",
            list(indexes, Index::toJson),
            "comment",
            comment)
        .canonical();
  }

  private static <T> Json list(List<T> items, Function<T, Json> toJson) {
    return new Json.Arr(items.stream().map(toJson).toList());
  }

  /** Reads what {@link #canonical()} wrote. */
  public static TableStructure of(String canonical) {
    Json.Obj j = (Json.Obj) Json.parse(canonical);
    return new TableStructure(
        j.list("columns").stream().map(c -> Column.of((Json.Obj) c)).toList(),
        j.list("constraints").stream().map(c -> Constraint.of((Json.Obj) c)).toList(),
        j.list("indexes").stream().map(c -> Index.of((Json.Obj) c)).toList(),
        j.findText("comment"));
  }
}
