package plenzo.core.table;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;

/**
 * The structure of one table: what is compared, sealed and rebuilt. Lists are kept by name, because
 * the order of columns is never a difference.
 *
 * @param settings what else is set of it
 * @param places how its columns stand
 */
public record TableStructure(
    List<Column> columns,
    List<Constraint> constraints,
    List<Index> indexes,
    @Nullable String comment,
    ColumnPlaces places,
    List<Setting> settings) {
  public TableStructure {
    settings = settings.stream().sorted(Comparator.comparing(Setting::name)).toList();
    columns = columns.stream().sorted(Comparator.comparing(Column::name)).toList();
    constraints = constraints.stream().sorted(Comparator.comparing(Constraint::name)).toList();
    indexes = indexes.stream().sorted(Comparator.comparing(Index::name)).toList();
  }

  /** In no known order of columns. */
  public TableStructure(
      List<Column> columns,
      List<Constraint> constraints,
      List<Index> indexes,
      @Nullable String comment) {
    this(columns, constraints, indexes, comment, List.of());
  }

  /** Of which it is not known how its columns stand. */
  public TableStructure(
      List<Column> columns,
      List<Constraint> constraints,
      List<Index> indexes,
      @Nullable String comment,
      List<Setting> settings) {
    this(columns, constraints, indexes, comment, ColumnPlaces.NOT_KNOWN, settings);
  }

  /** The same with its columns in an order. */
  public TableStructure ordered(List<String> names) {
    return placed(new ColumnPlaces(names, places.handed(), places.options()));
  }

  /** The same with its columns standing so. */
  public TableStructure placed(ColumnPlaces next) {
    return new TableStructure(columns, constraints, indexes, comment, next, settings);
  }

  /** What else is set, options in the order in which they were set where that is known. */
  List<Setting> settingsInOrder() {
    Map<String, Integer> place = new HashMap<>();
    places.options().forEach(name -> place.putIfAbsent(name, place.size()));
    // options stand together by name
    return settings.stream()
        .sorted(
            Comparator.comparing(
                    (Setting s) -> s.name().startsWith(Setting.OPTION) ? Setting.OPTION : s.name())
                .thenComparing(s -> place.getOrDefault(s.name(), Integer.MAX_VALUE))
                .thenComparing(Setting::name))
        .toList();
  }

  /** Names of the columns as they stand; empty when that is not known. */
  public List<String> order() {
    return places.order();
  }

  /** Columns in the order in which they stand or should stand; those of no known place last. */
  public List<Column> inOrder() {
    Map<String, Integer> place = new HashMap<>();
    order().forEach(name -> place.putIfAbsent(name, place.size()));
    return columns.stream()
        .sorted(Comparator.comparing(c -> place.getOrDefault(c.name(), Integer.MAX_VALUE)))
        .toList();
  }

  /** How columns stand is never a difference: see {@link ColumnPlaces}. */
  @Override
  public boolean equals(@Nullable Object o) {
    return o instanceof TableStructure other
        && columns.equals(other.columns)
        && constraints.equals(other.constraints)
        && indexes.equals(other.indexes)
        && Objects.equals(comment, other.comment)
        && settings.equals(other.settings);
  }

  @Override
  public int hashCode() {
    return Objects.hash(columns, constraints, indexes, comment, settings);
  }

  /** Whether its rows stand in partitions. */
  public boolean isPartitioned() {
    return setting(Setting.PARTITIONED).isPresent();
  }

  /** The tables that it inherits from, in their order. */
  public List<TableName> inherits() {
    return settings.stream()
        .filter(Setting::inherits)
        .sorted(Comparator.comparing(s -> Integer.parseInt(s.value())))
        .map(s -> TableName.of(s.name().substring(Setting.INHERITS.length())))
        .toList();
  }

  /** The same inheriting from these and no others. */
  public TableStructure inheriting(List<TableName> parents) {
    List<Setting> others = new ArrayList<>(settings);
    others.removeIf(Setting::inherits);
    for (TableName p : parents) {
      others.add(
          new Setting(
              Setting.INHERITS + p.componentName(), String.valueOf(parents.indexOf(p) + 1)));
    }
    return new TableStructure(columns, constraints, indexes, comment, places, others);
  }

  /** The same without some of its columns. */
  TableStructure without(Set<String> names) {
    return new TableStructure(
        columns.stream().filter(c -> !names.contains(c.name())).toList(),
        constraints,
        indexes,
        comment,
        places,
        settings);
  }

  /** Its partitions, each behind the one that it is a partition of. */
  public List<Setting> partitions() {
    List<Setting> left = new ArrayList<>();
    settings.stream().filter(s -> s.name().startsWith(Setting.PARTITION)).forEach(left::add);
    List<Setting> out = new ArrayList<>();
    while (!left.isEmpty()) {
      List<Setting> next =
          left.stream().filter(s -> left.stream().noneMatch(o -> o != s && isOf(s, o))).toList();
      List<Setting> some = next.isEmpty() ? List.copyOf(left) : next;
      out.addAll(some);
      left.removeAll(some);
    }
    return out;
  }

  /** Whether a partition is one of another partition. */
  private static boolean isOf(Setting partition, Setting other) {
    TableName name = TableName.of(other.name().substring(Setting.PARTITION.length()));
    return partition
        .value()
        .startsWith(Renaming.quoted(name.schema()) + "." + Renaming.quoted(name.table()) + " ");
  }

  public static final TableStructure EMPTY =
      new TableStructure(List.of(), List.of(), List.of(), null);

  public Optional<Column> column(String name) {
    return columns.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  public Optional<Constraint> constraint(String name) {
    return constraints.stream().filter(c -> c.name().equals(name)).findFirst();
  }

  public Optional<Setting> setting(String name) {
    return settings.stream().filter(s -> s.name().equals(name)).findFirst();
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
            comment,
            "settings",
            settings.isEmpty() ? null : list(settings, Setting::toJson))
        .canonical();
  }

  private static <T> Json list(List<T> items, Function<T, Json> toJson) {
    return new Json.Arr(items.stream().map(toJson).toList());
  }

  /** Reads what {@link #canonical()} wrote. */
  public static TableStructure of(String canonical) {
    Json.Obj j = Json.parseObject(canonical);
    return new TableStructure(
        j.list("columns").stream().map(c -> Column.of(c.asObject())).toList(),
        j.list("constraints").stream().map(c -> Constraint.of(c.asObject())).toList(),
        j.list("indexes").stream().map(c -> Index.of(c.asObject())).toList(),
        j.findText("comment"),
        j.list("settings").stream().map(c -> Setting.of(c.asObject())).toList());
  }
}
