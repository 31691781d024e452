package plenzo.core.target;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.Inheritance;
import plenzo.core.table.Renaming;
import plenzo.core.table.Resting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.words.Words;

/**
 * Everything that a run changes in one database, tables in the order in which they are written.
 *
 * @param reached what the database itself changes with it, through foreign keys that cascade
 * @param renaming tables and columns that get another name first: everything else is told by the
 *     names that they have then
 * @param objects views, routines and whatever else a schema has by name, in no order
 */
public record TablesDelta(
    List<TableDelta> tables, List<Reached> reached, List<ObjectDelta> objects, Renaming renaming)
    implements Delta {
  public static final TablesDelta NONE = new TablesDelta(List.of(), List.of());

  public TablesDelta {
    tables = List.copyOf(tables);
    reached = List.copyOf(reached);
    objects = List.copyOf(objects);
  }

  /** Of tables alone. */
  public TablesDelta(List<TableDelta> tables, List<Reached> reached) {
    this(tables, reached, List.of(), Renaming.NONE);
  }

  /** Without a renamed column. */
  public TablesDelta(List<TableDelta> tables, List<Reached> reached, List<ObjectDelta> objects) {
    this(tables, reached, objects, Renaming.NONE);
  }

  /**
   * Rows that cascades change.
   *
   * @param from position in {@link #staged()} of the rows that go
   * @param path from their table to this one
   */
  public record Reached(TableName table, int from, List<Question.Hop> path) {
    public Reached {
      path = List.copyOf(path);
    }
  }

  /**
   * One table's change. Present and result are equal when only rows change.
   *
   * @param present structure that the plan read; the switch refuses when it moved
   * @param rows what the incoming side writes itself
   * @param fitted what is written beside it so that rows fit the result
   * @param conversions what values of columns that are new or get another type are worked out from
   */
  public record TableDelta(
      TableName table,
      @Nullable TableStructure present,
      @Nullable TableStructure result,
      @Nullable RowsDelta rows,
      Fitted fitted,
      Map<String, Conversion> conversions) {
    public TableDelta {
      conversions = Map.copyOf(conversions);
    }

    public static TableDelta of(
        TableName table,
        @Nullable TableStructure present,
        @Nullable TableStructure result,
        @Nullable RowsDelta rows) {
      return new TableDelta(table, present, result, rows, Fitted.NONE, Map.of());
    }

    public boolean structureChanges() {
      return !java.util.Objects.equals(present, result);
    }

    /** All rows that are written, each set by itself; a row may be in several. */
    public List<RowsDelta> writes() {
      List<RowsDelta> out = new ArrayList<>();
      if (rows != null) {
        out.add(rows);
      }
      out.addAll(fitted.rows());
      return out;
    }

    public TableDelta with(Fitted next) {
      return new TableDelta(table, present, result, rows, next, conversions);
    }

    /** The same with what is stated of columns; of it counts what such a change makes of them. */
    public TableDelta converting(Map<String, Conversion> stated) {
      Map<String, Conversion> some = new TreeMap<>(stated);
      some.keySet().removeIf(column -> !isMade(column));
      return some.isEmpty() ? this : new TableDelta(table, present, result, rows, fitted, some);
    }

    /** Whether the table has rows, and the column is new in it or gets another type. */
    private boolean isMade(String column) {
      Column is = result == null ? null : result.column(column).orElse(null);
      Column was = present == null ? null : present.column(column).orElse(null);
      return present != null
          && is != null
          && !is.isComputed()
          && (was == null || !was.type().equals(is.type()));
    }

    /**
     * Behind a sentence of a column that goes: what is worked out from it; or nothing.
     *
     * @param them what the sentence calls it
     */
    public String alsoReadBy(String column, String them) {
      List<String> by = readers(column);
      return by.isEmpty()
          ? ""
          : "; "
              + String.join(", ", by)
              + (by.size() == 1 ? " is" : " are")
              + " worked out from "
              + them;
    }

    /** Columns that are worked out from one. */
    public List<String> readers(String column) {
      return workedOut().entrySet().stream()
          .filter(w -> w.getValue().reads().containsKey(column))
          .map(Map.Entry::getKey)
          .toList();
    }

    /** What is stated, where the table has all that it reads. */
    public Map<String, Conversion> workedOut() {
      Map<String, Conversion> out = new TreeMap<>(conversions);
      out.values().removeIf(c -> present == null || !c.isFor(present));
      return out;
    }
  }

  /**
   * What a way back does to rows of which its version says nothing: values that a version dropped
   * come back, and what the structure cannot hold goes.
   *
   * @param settled places such as {@code column/note} at which every row that the structure cannot
   *     hold was looked at
   */
  public record Fitted(List<RowsDelta> rows, Set<String> settled) {
    public static final Fitted NONE = new Fitted(List.of(), Set.of());

    public Fitted {
      rows = List.copyOf(rows);
      settled = Set.copyOf(settled);
    }
  }

  /** Rows of one table that are put beside it before they are written. */
  public record Staged(TableDelta table, RowsDelta rows) {}

  /** Every set of rows, in the order of the tables. */
  public List<Staged> staged() {
    List<Staged> out = new ArrayList<>();
    tables.forEach(t -> t.writes().forEach(rows -> out.add(new Staged(t, rows))));
    return out;
  }

  /**
   * The rows to write.
   *
   * @param columns all columns of incoming rows, key first
   * @param mayBeNull columns of the key that may be null, where rows are told apart by all columns
   * @param compared columns that exist before the run, whose values are compared in the switch
   * @param source reads the changes, each time from the start
   */
  public record RowsDelta(
      Header columns,
      Set<String> mayBeNull,
      List<String> compared,
      long removed,
      long changed,
      long added,
      Source source) {
    public RowsDelta {
      mayBeNull = Set.copyOf(mayBeNull);
      compared = List.copyOf(compared);
    }

    public long total() {
      return removed + changed + added;
    }
  }

  /** Opens the row changes; they may come in any order. */
  public interface Source {
    Changes open();

    /** Where long values are that incoming rows name; those that stay are nowhere else. */
    default LongValues longValues() {
      return LongValues.NONE;
    }
  }

  /** Row changes one at a time. */
  public interface Changes extends AutoCloseable {
    @Nullable RowChange next();

    @Override
    void close();
  }

  /** One row: added (no present), changed, or removed (no incoming). */
  public record RowChange(Difference act, @Nullable Row present, @Nullable Row incoming) {}

  public List<StructureChange> structure(StructureChange.Phase phase) {
    List<StructureChange> out =
        new ArrayList<>(
            Inheritance.changes(
                tables.stream()
                    .map(t -> new Inheritance.Change(t.table(), t.present(), t.result()))
                    .toList()));
    tables.forEach(t -> out.addAll(made(t)));
    out.removeIf(c -> c.act().phase() != phase);
    out.sort(java.util.Comparator.comparing(StructureChange::act));
    // what inherits goes before what it inherits from
    List<StructureChange> going = new ArrayList<>(out);
    going.removeIf(c -> c.act() != StructureChange.Act.DROP_TABLE);
    out.removeAll(going);
    java.util.Collections.reverse(going);
    out.addAll(going);
    return out;
  }

  /** What changes of a table, with the foreign keys of it that go and come again. */
  public List<StructureChange> changes(TableDelta t) {
    List<StructureChange> out =
        new ArrayList<>(StructureChange.between(t.table(), t.present(), t.result()));
    out.addAll(made(t));
    return out;
  }

  private List<StructureChange> made(TableDelta t) {
    List<StructureChange> out = new ArrayList<>();
    for (Constraint k : madeAgain(t)) {
      out.add(StructureChange.foreignKey(StructureChange.Act.DROP_FOREIGN_KEY, t.table(), k));
      out.add(StructureChange.foreignKey(StructureChange.Act.ADD_FOREIGN_KEY, t.table(), k));
    }
    return out;
  }

  /** Foreign keys of a table that stay and are made again: see {@link Resting}. */
  public List<Constraint> madeAgain(TableDelta t) {
    TableStructure present = t.present();
    TableStructure result = t.result();
    if (present == null || result == null || present.foreignKeys().isEmpty()) {
      return List.of();
    }
    Set<Constraint> changed = new LinkedHashSet<>();
    StructureChange.between(t.table(), present, result).stream()
        .map(StructureChange::constraint)
        .forEach(changed::add);
    return present.foreignKeys().stream()
        .filter(k -> result.constraints().contains(k) && !changed.contains(k))
        .filter(
            k ->
                find(java.util.Objects.requireNonNull(k.references()))
                    .filter(r -> Resting.renews(r.present(), r.result(), k.referencedColumns()))
                    .isPresent())
        .toList();
  }

  /** Tables that one of these inherits from, before or after. */
  public Set<TableName> parents() {
    Set<TableName> out = new LinkedHashSet<>();
    for (TableDelta t : tables) {
      if (t.present() != null) {
        out.addAll(t.present().inherits());
      }
      if (t.result() != null) {
        out.addAll(t.result().inherits());
      }
    }
    return out;
  }

  public Optional<TableDelta> find(TableName table) {
    return tables.stream().filter(t -> t.table().equals(table)).findFirst();
  }

  /** Tables as they are to be. */
  public Map<TableName, TableStructure> after(Map<TableName, TableStructure> now) {
    Map<TableName, TableStructure> out = new LinkedHashMap<>(now);
    for (TableDelta t : tables) {
      if (t.result() == null) {
        out.remove(t.table());
      } else {
        out.put(t.table(), t.result());
      }
    }
    return out;
  }

  /** Every table that is written to, by the run or by the database with it. */
  public Set<TableName> touched() {
    Set<TableName> out = new LinkedHashSet<>();
    tables.forEach(t -> out.add(t.table()));
    reached.forEach(r -> out.add(r.table()));
    return out;
  }

  public long rows() {
    return staged().stream().mapToLong(s -> s.rows().total()).sum();
  }

  @Override
  public boolean isEmpty() {
    return tables.isEmpty() && objects.isEmpty();
  }

  /** Objects that are another afterwards. */
  public List<ObjectDelta> changedObjects() {
    return objects.stream().filter(ObjectDelta::changes).toList();
  }

  /** Objects that go and are made again, or are filled again, and stay what they were. */
  public List<ObjectDelta> againObjects() {
    return objects.stream().filter(o -> !o.changes()).toList();
  }

  @Override
  public long writes() {
    return rows() + changedObjects().size();
  }

  @Override
  public List<String> parts() {
    int changed = changedObjects().size();
    List<String> out = new ArrayList<>();
    if (changed == 0 || !tables.isEmpty()) {
      out.add(Words.count(rows(), "row"));
    }
    if (changed > 0) {
      out.add(Words.count(changed, "schema object"));
    }
    return out;
  }

  /**
   * What a switch writes, for people: structures, rows, columns whose values the database works
   * out, and schema objects; "0 rows" where it is none of these.
   */
  public String written() {
    List<String> out = new ArrayList<>();
    count(out, tables.stream().filter(TableDelta::structureChanges).count(), "table structure");
    count(out, rows(), "row");
    long workedOut = tables.stream().mapToLong(t -> t.workedOut().size()).sum();
    if (workedOut > 0) {
      out.add("the values of " + Words.count(workedOut, "column") + " for every row");
    }
    count(out, changedObjects().size(), "schema object");
    return out.isEmpty() ? Words.count(0, "row") : Words.and(out);
  }

  private static void count(List<String> out, long many, String one) {
    if (many > 0) {
      out.add(Words.count(many, one));
    }
  }
}
