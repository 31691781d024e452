package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.Index;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.TablesDelta;

/**
 * A question about rows that stay and that a structure to come would not hold. The rules count its
 * answers; a way back also reads the rows.
 *
 * @param place the part of the table, such as {@code column/note}
 * @param columns whose values are in the way
 * @param whole whether all rows that are written could be left out of the question
 */
public record Unheld(
    Why why,
    StructureChange change,
    String place,
    List<String> columns,
    Question question,
    boolean whole) {
  /** An index over whole columns, without a condition. */
  public Unheld {
    columns = List.copyOf(columns);
  }

  /** What is wrong with the rows. */
  public enum Why {
    /** A value that the column's new type cannot hold. */
    NO_FIT,
    /** No value where there must be one. */
    NO_VALUE,
    /** Equal to another row in columns that must be unique. */
    TWICE,
    /** Against a check. */
    UNMET,
    /** Points at nothing. */
    ORPHAN
  }

  /**
   * @param tables every table as it is now
   * @param wanted the sorts that are asked for: naming rows that are written costs reading them
   */
  public static List<Unheld> of(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      Map<TableName, TableStructure> tables,
      Set<Why> wanted) {
    List<Unheld> out = new ArrayList<>();
    TableStructure present = t.present();
    if (present == null) {
      return out;
    }
    for (StructureChange c : StructureChange.between(t.table(), present, t.result())) {
      Why why = why(c);
      if (why == null || !wanted.contains(why)) {
        continue;
      }
      switch (c.act()) {
        case CHANGE_COLUMN -> noFit(delta, t, c).ifPresent(out::add);
        case SET_NOT_NULL -> noValue(delta, t, c).ifPresent(out::add);
        case ADD_INDEX ->
            plain(Objects.requireNonNull(c.index()))
                .flatMap(columns -> twice(delta, t, c, "index", columns))
                .ifPresent(out::add);
        case ADD_CONSTRAINT -> {
          if (!Coming.names(delta, Objects.requireNonNull(c.constraint()).definition())) {
            constraint(delta, t, c).ifPresent(out::add);
          }
        }
        case ADD_FOREIGN_KEY -> orphan(delta, t, c, tables).ifPresent(out::add);
        default -> {}
      }
    }
    return out;
  }

  /**
   * Rows whose value a type of theirs, which becomes another under the same name, does not hold.
   *
   * @param table as it is and stays, but for its rows
   */
  public static List<Unheld> byType(TablesDelta delta, TablesDelta.TableDelta table) {
    List<Unheld> out = new ArrayList<>();
    TableStructure is = table.result();
    if (is == null || table.present() == null) {
      return out;
    }
    for (Unsuited u : Unsuited.of(delta, table.table(), is)) {
      if (u.marks()) {
        String name = u.column().name();
        out.add(
            of(
                Why.NO_FIT,
                StructureChange.changed(table.table(), u.column(), u.column()),
                "column",
                List.of(name),
                u.question(),
                filled(table, name)));
      }
    }
    return out;
  }

  /** Tables of which a column has such a type. */
  public static Set<TableName> typed(TablesDelta delta, Map<TableName, TableStructure> tables) {
    return Unsuited.tables(delta, tables);
  }

  private static @Nullable Why why(StructureChange c) {
    return switch (c.act()) {
      case CHANGE_COLUMN -> Why.NO_FIT;
      case SET_NOT_NULL -> Why.NO_VALUE;
      case ADD_INDEX -> Why.TWICE;
      case ADD_FOREIGN_KEY -> Why.ORPHAN;
      case ADD_CONSTRAINT ->
          Objects.requireNonNull(c.constraint()).type() == Constraint.Type.CHECK
              ? Why.UNMET
              : Why.TWICE;
      default -> null;
    };
  }

  /** The columns of an index over whole columns; empty of one over expressions or a part. */
  public static Optional<List<String>> plain(Index index) {
    return index.unique() ? IndexKeys.of(index).flatMap(IndexKeys::columns) : Optional.empty();
  }

  private static Unheld of(
      Why why,
      StructureChange c,
      String part,
      List<String> columns,
      Question question,
      Optional<Tuples> left) {
    return new Unheld(
        why,
        c,
        part + "/" + c.name(),
        columns,
        question.without(left.orElse(Tuples.NONE)),
        left.isPresent());
  }

  private static Optional<Unheld> noFit(
      TablesDelta delta, TablesDelta.TableDelta t, StructureChange c) {
    Column before = Objects.requireNonNull(c.before());
    Column after = Objects.requireNonNull(c.after());
    if (t.workedOut().containsKey(c.name())) {
      return Optional.empty(); // what is stated is held against every row by a rule of its own
    }
    if (Coming.names(delta, after.type())) {
      return Coming.enumeration(delta, after.type())
          .map(
              e ->
                  of(
                      Why.NO_FIT,
                      c,
                      "column",
                      List.of(c.name()),
                      Question.noLabel(c.table(), c.name(), e.shape()),
                      filled(t, c.name())));
    }
    return before.type().equals(after.type())
        ? Optional.empty()
        : Optional.of(
            of(
                Why.NO_FIT,
                c,
                "column",
                List.of(c.name()),
                Question.notFitting(c.table(), c.name(), after.type(), before.type()),
                filled(t, c.name())));
  }

  private static Optional<Unheld> noValue(
      TablesDelta delta, TablesDelta.TableDelta t, StructureChange c) {
    Column after = Objects.requireNonNull(c.after());
    if (t.workedOut().containsKey(c.name())) {
      Question q = Question.of(Question.Type.NULLS, c.table(), c.name());
      return converted(delta, t, List.of(c.name()))
          .map(
              m ->
                  new Unheld(
                      Why.NO_VALUE,
                      c,
                      "column/" + c.name(),
                      List.of(c.name()),
                      q.converting(m).without(filled(t, c.name()).orElse(Tuples.NONE)),
                      filled(t, c.name()).isPresent()));
    }
    if (c.before() == null && (after.defaultExpression() != null || after.identity() != null)) {
      return Optional.empty();
    }
    return Optional.of(
        of(
            Why.NO_VALUE,
            c,
            "column",
            List.of(c.name()),
            c.before() == null
                ? Question.of(Question.Type.ROWS, c.table())
                : Question.of(Question.Type.NULLS, c.table(), c.name()),
            filled(t, c.name())));
  }

  /** Keys of the present rows that are removed, or whose column is written. */
  static Optional<Tuples> filled(TablesDelta.TableDelta t, String column) {
    return t.writes().stream().anyMatch(r -> r.columns().position(column) >= 0)
        ? PlannedRows.touched(t)
        : PlannedRows.removed(t);
  }

  private static Optional<Unheld> constraint(
      TablesDelta delta, TablesDelta.TableDelta t, StructureChange c) {
    Constraint k = Objects.requireNonNull(c.constraint());
    return switch (k.type()) {
      case UNIQUE, PRIMARY -> twice(delta, t, c, "constraint", k.columns());
      case CHECK -> unmet(delta, t, c, k);
      case FOREIGN, EXCLUDE -> Optional.empty();
    };
  }

  private static boolean has(TablesDelta.TableDelta t, List<String> columns) {
    TableStructure present = t.present();
    return present != null
        && columns.stream()
            .allMatch(
                n ->
                    present.column(n).isPresent()
                        || t.workedOut().containsKey(n)
                        || NewColumns.holds(t, n).isPresent());
  }

  /** The same, where rows are told by the columns or point by them. */
  private static boolean hasValues(TablesDelta.TableDelta t, List<String> columns) {
    return has(t, columns) && !NewColumns.someEmpty(t, columns);
  }

  /**
   * The columns as they will be, where some of them are worked out or come.
   *
   * @return empty when the target cannot work one out before the plan, as what comes is needed
   */
  private static Optional<Question.Converted> converted(
      TablesDelta delta, TablesDelta.TableDelta t, List<String> columns) {
    List<Question.Made> made = new ArrayList<>();
    TableStructure result = Objects.requireNonNull(t.result());
    Map<String, Conversion> stated = t.workedOut();
    for (String column : columns) {
      Optional<Conversion> by =
          Optional.ofNullable(stated.get(column)).or(() -> NewColumns.holds(t, column));
      if (by.isEmpty()) {
        continue;
      }
      String type = result.column(column).orElseThrow().type();
      if (Coming.names(delta, by.get().expression()) || Coming.names(delta, type)) {
        return Optional.empty();
      }
      made.add(new Question.Made(column, type, by.get()));
    }
    if (made.stream().anyMatch(m -> !stated.containsKey(m.column()))
        && PlannedRows.touched(t).isEmpty()) {
      return Optional.empty(); // too many rows are written for them to be left out
    }
    return Optional.of(converted(Objects.requireNonNull(t.present()), made));
  }

  /** The columns of a table with some of them worked out. */
  static Question.Converted converted(TableStructure present, List<Question.Made> made) {
    List<String> names = made.stream().map(Question.Made::column).toList();
    return made.isEmpty()
        ? Question.Converted.NONE
        : new Question.Converted(
            present.columns().stream().map(Column::name).filter(n -> !names.contains(n)).toList(),
            made);
  }

  /**
   * Whether it is known before the run what the rows that stay will have in the columns of a check
   * or foreign key that comes; a column without a value meets both.
   */
  static boolean canCount(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      StructureChange c,
      Map<TableName, TableStructure> tables) {
    Constraint k = Objects.requireNonNull(c.constraint());
    if (!has(t, k.columns())) {
      return false;
    }
    if (c.act() != StructureChange.Act.ADD_FOREIGN_KEY || NewColumns.someEmpty(t, k.columns())) {
      return true;
    }
    TableName other = Objects.requireNonNull(k.references());
    TableStructure there = tables.get(other);
    return there == null || pointedAt(delta, other, there, k.referencedColumns()).isPresent();
  }

  /**
   * Whether rows can be marked that it is about: of what is worked out, or comes, it is asked for
   * all of them together.
   */
  public boolean marks() {
    return whole && question.converted().isEmpty();
  }

  /** A question about columns some of which may be worked out, or come. */
  private static Optional<Unheld> asked(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      Why why,
      StructureChange c,
      String part,
      List<String> columns,
      Question question) {
    return converted(delta, t, columns)
        .map(
            m -> {
              Unheld u = of(why, c, part, columns, question, PlannedRows.touched(t));
              return m.isEmpty()
                  ? u
                  : new Unheld(why, c, u.place(), columns, u.question().converting(m), u.whole());
            });
  }

  private static Optional<Unheld> twice(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      StructureChange c,
      String part,
      List<String> columns) {
    if (!hasValues(t, columns)) {
      return Optional.empty();
    }
    Question q = Question.of(Question.Type.DUPLICATES, c.table(), columns.toArray(String[]::new));
    return asked(delta, t, Why.TWICE, c, part, columns, q);
  }

  private static Optional<Unheld> unmet(
      TablesDelta delta, TablesDelta.TableDelta t, StructureChange c, Constraint k) {
    if (k.definition().endsWith("NOT VALID") || !has(t, k.columns())) {
      return Optional.empty();
    }
    String condition = k.definition().replaceFirst("^CHECK ", "").replaceFirst(" NO INHERIT$", "");
    Question q = Question.violating(c.table(), condition);
    return asked(delta, t, Why.UNMET, c, "constraint", k.columns(), q);
  }

  private static Optional<Unheld> orphan(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      StructureChange c,
      Map<TableName, TableStructure> tables) {
    Constraint k = Objects.requireNonNull(c.constraint());
    TableName other = Objects.requireNonNull(k.references());
    TableStructure there = tables.get(other);
    if (there == null || !hasValues(t, k.columns())) {
      return Optional.empty();
    }
    return pointedAt(delta, other, there, k.referencedColumns())
        .flatMap(
            becoming -> {
              Question.Hop hop =
                  new Question.Hop(
                      other,
                      k.columns(),
                      k.referencedColumns(),
                      becoming,
                      leaving(delta.find(other).orElse(null), k.referencedColumns()));
              Question q =
                  pointless(c, k, other)
                      .along(List.of(hop))
                      .given(coming(delta, other, k.referencedColumns()));
              boolean alike =
                  KeyTypes.meet(
                      types(t, t.present(), k.columns()),
                      types(delta.find(other).orElse(null), there, k.referencedColumns()));
              return asked(
                  delta,
                  t,
                  Why.ORPHAN,
                  c,
                  "constraint",
                  k.columns(),
                  alike ? q : q.text(List.of(Question.AS_TEXT)));
            });
  }

  /** Columns that are pointed at as they will be; empty where each row gets one of its own. */
  static Optional<Question.Converted> pointedAt(
      TablesDelta delta, TableName table, TableStructure there, List<String> columns) {
    TablesDelta.TableDelta t = delta.find(table).filter(d -> d.result() != null).orElse(null);
    boolean has =
        t == null ? columns.stream().allMatch(n -> there.column(n).isPresent()) : has(t, columns);
    return !has
        ? Optional.empty()
        : t == null ? Optional.of(Question.Converted.NONE) : converted(delta, t, columns);
  }

  /** Keys of the rows that go, or get other values in the columns that are pointed at. */
  private static Tuples leaving(TablesDelta.@Nullable TableDelta t, List<String> columns) {
    boolean written =
        t != null
            && t.writes().stream()
                .allMatch(r -> columns.stream().allMatch(c -> r.columns().position(c) >= 0));
    return (written ? PlannedRows.touched(t) : PlannedRows.removed(t)).orElse(Tuples.NONE);
  }

  /** Types of columns as the question reads them: as they are, or of what is made as it will be. */
  private static List<String> types(
      TablesDelta.@Nullable TableDelta t, @Nullable TableStructure present, List<String> columns) {
    List<String> out = new ArrayList<>();
    for (String name : columns) {
      Optional<Column> is = present == null ? Optional.empty() : present.column(name);
      boolean made = is.isEmpty() || t != null && t.workedOut().containsKey(name);
      Optional<Column> read =
          made && t != null && t.result() != null ? t.result().column(name) : is;
      out.add(read.map(Column::type).orElse(""));
    }
    return out;
  }

  /**
   * Rows that would point at nothing in a table that comes with the plan and without a row. Of one
   * that comes with rows, on a way back too, it is not asked.
   */
  static Optional<Unheld> pointing(
      TablesDelta delta,
      TablesDelta.TableDelta t,
      StructureChange c,
      Map<TableName, TableStructure> tables) {
    Constraint k = Objects.requireNonNull(c.constraint());
    TableName other = Objects.requireNonNull(k.references());
    TablesDelta.TableDelta comes = delta.find(other).orElse(null);
    if (tables.containsKey(other)
        || comes == null
        || comes.result() == null
        || !comes.writes().isEmpty()
        || !hasValues(t, k.columns())) {
      return Optional.empty();
    }
    Question q = pointless(c, k, other).text(List.of(Question.COMES));
    return asked(delta, t, Why.ORPHAN, c, "constraint", k.columns(), q);
  }

  private static Question pointless(StructureChange c, Constraint k, TableName other) {
    return Question.of(Question.Type.ORPHANS, c.table(), k.columns().toArray(String[]::new))
        .along(List.of(new Question.Hop(other, k.columns(), k.referencedColumns())));
  }

  /** Values that come, or come back, to a table with the plan, as far as they can be named. */
  private static Tuples coming(TablesDelta delta, TableName table, List<String> columns) {
    List<TablesDelta.RowsDelta> sets =
        delta.find(table).map(TablesDelta.TableDelta::writes).orElse(List.of());
    if (sets.stream().mapToLong(TablesDelta.RowsDelta::total).sum() > Tuples.MOST) {
      return Tuples.NONE;
    }
    List<Tuples> out = new ArrayList<>();
    for (TablesDelta.RowsDelta rows : sets) {
      PlannedRows.values(
          rows, columns, /* withKey= */ false, TablesDelta.RowChange::incoming, out::add);
    }
    return out.isEmpty()
        ? Tuples.NONE
        : new Tuples(
            columns, out.get(0).types(), out.stream().flatMap(t -> t.values().stream()).toList());
  }
}
