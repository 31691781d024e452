package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.IntFunction;
import java.util.stream.IntStream;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.StructureChange;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** The statements of a switch that change structure, before and after its rows are written. */
public final class SwitchSql {
  private final TablesDelta delta;
  private final IntFunction<String> stage;
  private final ObjectsSwitch objects;
  private final NamesTaken names;

  /**
   * @param stage name of the table in which the n-th of {@link TablesDelta#staged()} stands
   */
  public SwitchSql(TablesDelta delta, IntFunction<String> stage) {
    this.delta = delta;
    this.stage = stage;
    this.objects = new ObjectsSwitch(delta);
    this.names = NamesTaken.of(delta);
  }

  /** What gives tables and columns their new names, before anything else is compared or changed. */
  public List<String> renames() {
    List<String> out = new ArrayList<>();
    delta.renaming().tablesInOrder().forEach(n -> rename(n.getKey(), n.getValue(), out));
    delta
        .renaming()
        .columns()
        .keySet()
        .forEach(
            table ->
                delta.renaming().columnsInOrder(table).stream()
                    .filter(n -> !isHandedDown(table, n.getKey(), n.getValue()))
                    .forEach(
                        n ->
                            out.add(
                                "ALTER TABLE "
                                    + Sql.name(table)
                                    + " RENAME COLUMN "
                                    + Sql.name(n.getKey())
                                    + " TO "
                                    + Sql.name(n.getValue()))));
    return out;
  }

  /** By a name that no other has in either schema where both change. */
  private static void rename(TableName was, TableName is, List<String> out) {
    boolean moves = !was.schema().equals(is.schema());
    boolean named = !was.table().equals(is.table());
    TableName now = was;
    if (moves && named) {
      now = new TableName(was.schema(), ObjectSql.MOVING);
      out.add("ALTER TABLE " + Sql.name(was) + " RENAME TO " + Sql.name(now.table()));
    }
    if (moves) {
      out.add("ALTER TABLE " + Sql.name(now) + " SET SCHEMA " + Sql.name(is.schema()));
      now = new TableName(is.schema(), now.table());
    }
    if (named) {
      out.add("ALTER TABLE " + Sql.name(now) + " RENAME TO " + Sql.name(is.table()));
    }
  }

  /** Whether a table that it inherits the column from gives it the new name. */
  private boolean isHandedDown(TableName table, String was, String is) {
    return present(table).inherits().stream()
        .anyMatch(
            p ->
                delta.renaming().columnsInOrder(p).contains(Map.entry(was, is))
                    || isHandedDown(p, was, is));
  }

  public List<String> before() {
    List<String> out = new ArrayList<>(names.first());
    out.addAll(names.in(allBefore()));
    return out;
  }

  private List<String> allBefore() {
    List<StructureChange> structure = delta.structure(StructureChange.Phase.BEFORE_ROWS);
    List<String> out = new ArrayList<>(objects.goFirst());
    structure.stream()
        .filter(c -> c.act().compareTo(Act.CREATE_TABLE) < 0)
        .forEach(c -> add(c, out));
    for (ComponentKey key : objects.come()) {
      if (key.kind() != Kind.TABLE) {
        out.addAll(objects.comes(key));
        continue;
      }
      List<StructureChange> own =
          structure.stream()
              .filter(c -> c.table().componentName().equals(key.name()))
              .filter(c -> c.act().compareTo(Act.CREATE_TABLE) >= 0)
              .filter(c -> c.act() != Act.DROP_COLUMN && c.act() != Act.ADD_COMPUTED)
              .toList();
      own.stream().filter(c -> c.act() != Act.CHANGE_COLUMN).forEach(c -> add(c, out));
      // new columns are worked out from values as they were
      delta.find(TableName.of(key.name())).ifPresent(t -> out.addAll(filling(t)));
      own.stream()
          .filter(c -> c.act() == Act.CHANGE_COLUMN)
          .flatMap(c -> objects.beforeExchange(c).stream())
          .forEach(c -> add(c, out));
    }
    out.addAll(unlabelling());
    out.addAll(objects.exchanged());
    structure.stream().filter(c -> c.act() == Act.ADD_COMPUTED).forEach(c -> add(c, out));
    structure.stream().filter(c -> c.act() == Act.DROP_COLUMN).forEach(c -> add(c, out));
    out.addAll(loosening());
    return out;
  }

  /** Columns that have an enumeration some of whose labels go. */
  private List<ObjectDelta.Column> losing() {
    return delta.objects().stream()
        .filter(o -> !o.columns().isEmpty() && o.was().sort() == SchemaObject.Sort.ENUM)
        .filter(o -> !o.becomes().shape().containsAll(o.was().shape()))
        .flatMap(o -> o.columns().stream())
        .toList();
  }

  private IntStream staged(TableName table) {
    List<TablesDelta.Staged> staged = delta.staged();
    return IntStream.range(0, staged.size())
        .filter(n -> staged.get(n).table().table().equals(table))
        .filter(n -> staged.get(n).table().present() != null);
  }

  private boolean isKey(int n, String column) {
    TablesDelta.Staged s = delta.staged().get(n);
    int at = s.rows().columns().position(column);
    return at >= 0 && at < s.rows().columns().keyColumns() || inPrimary(s, column);
  }

  /** Sets whose rows go before the types are exchanged: their keys hold a label that goes. */
  public Set<Integer> early() {
    Set<Integer> out = new TreeSet<>();
    for (ObjectDelta.Column c : losing()) {
      staged(c.table())
          .filter(n -> isKey(n, c.column()) && delta.staged().get(n).rows().removed() > 0)
          .forEach(out::add);
    }
    return out;
  }

  /** Labels that go are in no row any more when their type is exchanged. */
  private List<String> unlabelling() {
    List<String> out = new ArrayList<>();
    early()
        .forEach(
            n -> {
              TablesDelta.Staged s = delta.staged().get(n);
              out.add(RowsSql.delete(s.table().table(), s.rows(), stage.apply(n)));
            });
    for (ObjectDelta.Column c : losing()) {
      List<String> emptied =
          staged(c.table())
              .filter(n -> !isKey(n, c.column()) && writes(delta.staged().get(n), c.column()))
              .mapToObj(
                  n ->
                      RowsSql.empty(
                          c.table(), c.column(), delta.staged().get(n).rows(), stage.apply(n)))
              .toList();
      if (!emptied.isEmpty() && isNotNull(c)) {
        out.add(notNull(c.table(), c.column(), "DROP"));
      }
      out.addAll(emptied);
    }
    return out;
  }

  private static boolean isNotNull(ObjectDelta.Column c) {
    return c.structure().column(c.column()).orElseThrow().notNull();
  }

  private void add(StructureChange c, List<String> out) {
    List<String> emptying = emptying(c);
    if (!emptying.isEmpty() && Objects.requireNonNull(c.before()).notNull()) {
      out.add(notNull(c, "DROP"));
    }
    out.addAll(emptying);
    Conversion by = delta.find(c.table()).map(t -> t.workedOut().get(c.name())).orElse(null);
    if (by != null && c.act() == Act.ADD_COLUMN) {
      out.addAll(StructureSql.bare(c));
    } else if (by != null && c.act() == Act.CHANGE_COLUMN) {
      out.addAll(StructureSql.convert(c, present(c.table()), by));
    } else {
      out.addAll(StructureSql.statements(c));
    }
  }

  private TableStructure present(TableName table) {
    return delta.find(table).map(TablesDelta.TableDelta::present).orElse(TableStructure.EMPTY);
  }

  private static List<String> filling(TablesDelta.TableDelta t) {
    TableStructure was = t.present();
    TableStructure is = t.result();
    if (was == null || is == null) {
      return List.of();
    }
    List<Column> columns =
        is.inOrder().stream()
            .filter(c -> was.column(c.name()).isEmpty() && t.workedOut().containsKey(c.name()))
            .toList();
    return columns.isEmpty()
        ? List.of()
        : StructureSql.fill(t.table(), was, columns, t.workedOut());
  }

  /**
   * A foreign key whose rows are written while what they pointed at goes, or what they point at
   * comes later.
   *
   * @param holds whether rows that change would hold rows that go
   * @param early whether it must wait for rows that come
   */
  private record Held(
      TablesDelta.Staged staged, int n, Constraint key, boolean holds, boolean early) {
    /** A column that may hold nothing until its row is written. */
    Optional<Column> free() {
      TableStructure is = Objects.requireNonNull(staged.table().result());
      return key.columns().stream()
          .filter(c -> holds)
          .flatMap(c -> is.column(c).stream())
          .filter(c -> !c.notNull() && writes(staged, c.name()))
          .findFirst();
    }

    boolean deferrable() {
      return key.definition().contains("DEFERRABLE");
    }

    /** Whether it is looked at when all rows are written; its restriction of removals never is. */
    boolean waits() {
      boolean restricts = key.definition().contains("ON DELETE RESTRICT");
      return early || free().isEmpty() && !restricts;
    }

    String alter(String how) {
      return "ALTER TABLE "
          + Sql.name(staged.table().table())
          + " ALTER CONSTRAINT "
          + Sql.name(key.name())
          + " "
          + how;
    }
  }

  private List<Held> held() {
    List<Held> out = new ArrayList<>();
    List<TablesDelta.Staged> staged = delta.staged();
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.Staged s = staged.get(n);
      TableStructure was = s.table().present();
      TableStructure is = s.table().result();
      if (was == null || is == null) {
        continue;
      }
      for (Constraint k : is.foreignKeys()) {
        TableName other = k.references();
        if (other != null && was.foreignKeys().contains(k)) {
          boolean changes =
              s.rows().changed() > 0 && k.columns().stream().anyMatch(c -> writes(s, c));
          boolean holds = changes && removes(other);
          boolean early =
              comes(staged, other, changes ? n : s.rows().added() > 0 ? n + 1 : staged.size());
          if (holds || early) {
            out.add(new Held(s, n, k, holds, early));
          }
        }
      }
    }
    return out;
  }

  /** Whether rows of the table are added by the sets from this place on. */
  private static boolean comes(List<TablesDelta.Staged> staged, TableName table, int from) {
    return staged.subList(from, staged.size()).stream()
        .anyMatch(s -> s.table().table().equals(table) && s.rows().added() > 0);
  }

  /** Such rows point at nothing first, or are looked at when all rows are written. */
  private List<String> loosening() {
    Set<String> out = new LinkedHashSet<>();
    for (Held h : held()) {
      TableName table = h.staged().table().table();
      h.free()
          .map(Column::name)
          .ifPresent(c -> out.add(RowsSql.empty(table, c, h.staged().rows(), stage.apply(h.n()))));
      if (h.waits() && h.deferrable()) {
        String key = Sql.name(new TableName(table.schema(), h.key().name()));
        out.add("SET CONSTRAINTS " + key + " DEFERRED");
      } else if (h.waits()) {
        out.add(h.alter("DEFERRABLE INITIALLY DEFERRED"));
      }
    }
    return List.copyOf(out);
  }

  /** The keys as they were. */
  private List<String> tightening() {
    return held().stream()
        .filter(h -> h.waits() && !h.deferrable())
        .map(h -> h.alter("NOT DEFERRABLE"))
        .distinct()
        .toList();
  }

  private boolean removes(TableName table) {
    return delta.find(table).stream()
        .flatMap(t -> t.writes().stream())
        .anyMatch(rows -> rows.removed() > 0);
  }

  public List<String> after() {
    return names.in(allAfter());
  }

  private List<String> allAfter() {
    List<String> out = new ArrayList<>(tightening());
    losing().stream()
        .filter(SwitchSql::isNotNull)
        .filter(c -> staged(c.table()).anyMatch(n -> !isKey(n, c.column())))
        .forEach(c -> out.add(notNull(c.table(), c.column(), "SET")));
    for (StructureChange c : delta.structure(StructureChange.Phase.BEFORE_ROWS)) {
      if (!emptying(c).isEmpty()
          && Objects.requireNonNull(c.before()).notNull()
          && Objects.requireNonNull(c.after()).notNull()) {
        out.add(notNull(c, "SET"));
      }
    }
    delta
        .structure(StructureChange.Phase.AFTER_ROWS)
        .forEach(c -> out.addAll(StructureSql.statements(c)));
    out.addAll(objects.after());
    return out;
  }

  private static String notNull(StructureChange c, String verb) {
    return notNull(c.table(), c.name(), verb);
  }

  private static String notNull(TableName table, String column, String verb) {
    return "ALTER TABLE "
        + Sql.name(table)
        + " ALTER COLUMN "
        + Sql.name(column)
        + " "
        + verb
        + " NOT NULL";
  }

  /** A value that goes or is written anew must not be in the way of its column's new type. */
  private List<String> emptying(StructureChange c) {
    Column before = c.before();
    Column after = c.after();
    if (c.act() != StructureChange.Act.CHANGE_COLUMN
        || before == null
        || after == null
        || before.type().equals(after.type())
        || before.identity() != null
        || before.isComputed()
        || after.isComputed()) {
      return List.of();
    }
    List<TablesDelta.Staged> staged = delta.staged();
    return IntStream.range(0, staged.size())
        .filter(n -> staged.get(n).table().table().equals(c.table()))
        .filter(n -> writes(staged.get(n), c.name()))
        .mapToObj(n -> RowsSql.empty(c.table(), c.name(), staged.get(n).rows(), stage.apply(n)))
        .toList();
  }

  private static boolean inPrimary(TablesDelta.Staged s, String column) {
    return Objects.requireNonNull(s.table().present())
        .primaryKey()
        .map(Constraint::columns)
        .orElse(List.of())
        .contains(column);
  }

  /** Whether values go or are written anew; a key's column cannot be emptied. */
  private static boolean writes(TablesDelta.Staged s, String column) {
    return !inPrimary(s, column)
        && (s.rows().removed() > 0
            || s.rows().changed() > 0 && s.rows().columns().position(column) >= 0);
  }
}
