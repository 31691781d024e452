package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.TablesDelta;

/**
 * The rows of a table as they will be, as far as an index or an exclusion constraint reads them:
 * what stays, with what its columns become, beside what the run writes.
 *
 * @param columns that come or become another, with what they will hold
 * @param left keys of the rows that the run writes or removes
 * @param coming rows that the run writes, by the columns that are read
 * @param stay whether {@code left} names all of them, so that what is found is there afterwards
 * @param whole whether {@code coming} has all of them, so that nothing found is nothing there
 */
record RowsToBe(
    Question.Converted columns, Tuples left, Tuples coming, boolean stay, boolean whole) {

  /**
   * @param definition as the server prints it
   * @return empty where it reads something of which it is not known what it will hold
   */
  static Optional<RowsToBe> of(TablesDelta delta, TablesDelta.TableDelta t, String definition) {
    TableStructure present = t.present();
    TableStructure result = t.result();
    if (present == null || result == null || Coming.names(delta, definition)) {
      return Optional.empty();
    }
    Set<String> named = Conversion.printed(definition, result).reads().keySet();
    List<Column> read = result.columns().stream().filter(c -> named.contains(c.name())).toList();
    List<Question.Made> made = new ArrayList<>();
    for (Column c : read) {
      Optional<Column> was = present.column(c.name()).filter(w -> isSame(w, c));
      if (was.isEmpty()) {
        Optional<Conversion> by = holds(t, c);
        if (by.isEmpty() || Coming.names(delta, by.get().expression() + " " + c.type())) {
          return Optional.empty();
        }
        made.add(new Question.Made(c.name(), c.type(), by.get()));
      }
    }
    Optional<Tuples> left = PlannedRows.touched(t);
    if (left.isEmpty() && made.stream().anyMatch(m -> present.column(m.column()).isEmpty())) {
      return Optional.empty(); // rows that are written hold something else in a column that comes
    }
    Optional<Tuples> coming = left.isEmpty() ? left : coming(delta, t, read);
    return Optional.of(
        new RowsToBe(
            Unheld.converted(present, made),
            left.orElse(Tuples.NONE),
            coming.orElse(Tuples.NONE),
            left.isPresent(),
            coming.isPresent()));
  }

  private static boolean isSame(Column was, Column is) {
    return was.type().equals(is.type()) && Objects.equals(was.generated(), is.generated());
  }

  /** What the rows that stay will have in a column that comes, or becomes another. */
  private static Optional<Conversion> holds(TablesDelta.TableDelta t, Column column) {
    TableStructure present = Objects.requireNonNull(t.present());
    Conversion stated = t.workedOut().get(column.name());
    if (stated != null) {
      return Optional.of(stated);
    }
    return present.column(column.name()).isEmpty()
        ? NewColumns.holds(t, column.name())
        : Optional.of(Conversion.printed(Renaming.quoted(column.name()), present))
            .filter(c -> !column.isComputed());
  }

  /**
   * Rows that the run writes; empty where one set of them does not tell all, or a value is not at
   * hand.
   */
  private static Optional<Tuples> coming(
      TablesDelta delta, TablesDelta.TableDelta t, List<Column> read) {
    List<TablesDelta.RowsDelta> sets =
        t.writes().stream().filter(r -> r.changed() + r.added() > 0).toList();
    if (sets.isEmpty()) {
      return Optional.of(Tuples.NONE);
    }
    TablesDelta.RowsDelta rows = sets.get(0);
    // rows of which nothing is read are told by their key
    List<String> names =
        read.isEmpty()
            ? rows.columns().names().subList(0, rows.columns().keyColumns())
            : read.stream().map(Column::name).toList();
    return sets.size() > 1 || read.stream().anyMatch(c -> Coming.names(delta, c.type()))
        ? Optional.empty()
        : PlannedRows.incoming(rows, names);
  }

  /** A question about them. */
  Question ask(Question q) {
    return q.converting(columns).without(left).given(coming);
  }

  Finding.Severity severity() {
    return StructureRules.severity(stay);
  }

  /** The end of a sentence that says what was counted. */
  String ending() {
    if (!stay) {
      return "; counted before the many rows that the run writes.";
    }
    return coming.isEmpty() ? "." : "; counted with the rows that the run writes.";
  }
}
