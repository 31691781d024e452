package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Supplier;
import plenzo.core.digest.Digest;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question.Made;
import plenzo.core.target.TablesDelta;

/**
 * What versions since worked out of the rows of a table, where one goes back: it tells which rows
 * still have it, so that they get exactly what they had, and it is no loss of theirs.
 */
final class WorkedSince {
  private final Fitting fitting;
  private final TablesDelta.TableDelta t;
  private final TableStructure result;
  private final Map<String, Conversion> since;
  private final Map<String, Before.Table> retyped = new LinkedHashMap<>();
  private final Map<Before.Table, Supplier<RowReader>> worked = new HashMap<>();

  /**
   * @param all the table before each run since, the newest first
   * @param told whether its rows of now and of then are told apart; of others nothing is known
   */
  WorkedSince(Fitting fitting, TablesDelta.TableDelta t, List<Before.Table> all, boolean told) {
    this.fitting = fitting;
    this.t = t;
    this.result = Objects.requireNonNull(t.result());
    TableStructure now = t.present();
    this.since = new TreeMap<>(fitting.compared().items().incoming().workedSince().of(t.table()));
    since
        .entrySet()
        .removeIf(
            w ->
                now == null
                    || !told
                    || now.column(w.getKey()).isEmpty()
                    // what it asked elsewhere may be another by now
                    || w.getValue().asksElsewhere()
                    || all.stream().noneMatch(b -> w.getValue().isFor(b.structure())));
    result.columns().forEach(c -> retyped(c, all));
  }

  private void retyped(Column c, List<Before.Table> all) {
    Conversion by = since.get(c.name());
    if (by == null || type(c.name()).equals(c.type())) {
      return;
    }
    all.stream()
        .filter(b -> by.isFor(b.structure()))
        .filter(b -> b.structure().column(c.name()).filter(x -> isOf(x, c)).isPresent())
        .findFirst()
        .ifPresent(b -> retyped.put(c.name(), b));
  }

  private static boolean isOf(Column a, Column b) {
    return a.type().equals(b.type());
  }

  private String type(String column) {
    return Objects.requireNonNull(t.present()).column(column).orElseThrow().type();
  }

  /** Columns that get back the type from which they were worked out, with the table that had it. */
  Map<String, Before.Table> retyped() {
    return retyped;
  }

  /** Columns that were worked out and go. */
  List<String> goes() {
    return since.keySet().stream().filter(c -> result.column(c).isEmpty()).toList();
  }

  /**
   * Works out of the rows of before what versions since made of them, once, before the rows of now
   * are read: the target answers one question at a time.
   *
   * @param back columns that come back from the table
   */
  void workOut(Before.Table of, List<String> back) {
    List<Made> made = WorkedRows.made(since, of.structure(), Objects.requireNonNull(t.present()));
    if (made.isEmpty() || worked.containsKey(of)) {
      return;
    }
    String comparison = fitting.compared().id();
    String name = Digest.of(t.table().toString()).hex() + "-" + worked.size();
    RowReader rows =
        WorkedRows.of(of.rows().get(), fitting.looking(), t.table(), made, workedBack(back, made));
    fitting.files().putAside(comparison, name, rows);
    worked.put(of, () -> fitting.files().aside(comparison, name, rows.header()));
  }

  /** What the way back makes of values that nobody changed since. */
  private List<Made> workedBack(List<String> back, List<Made> made) {
    List<String> known = made.stream().map(Made::column).toList();
    List<Made> out = new ArrayList<>();
    for (String c : back) {
      Conversion by = t.workedOut().get(c);
      if (by == null && retyped.containsKey(c)) {
        by = new Conversion(Renaming.quoted(c), Map.of(c, type(c)));
      }
      if (by != null && !by.asksElsewhere() && known.containsAll(by.reads().keySet())) {
        out.add(new Made(c, result.column(c).orElseThrow().type(), by));
      }
    }
    return out;
  }

  /** The rows of a table of before, with what was worked out of them where that was done. */
  RowReader rows(Before.Table of) {
    return worked.getOrDefault(of, of.rows()).get();
  }

  /**
   * Whether a row needs no other value in a column than the way back gives it by itself: it has it
   * back, or somebody changed what was worked out of it.
   */
  boolean needsNothing(Row row, Row was, String column) {
    return comesByItself(was, column)
        || since.entrySet().stream()
            .filter(w -> w.getValue().reads().containsKey(column))
            .anyMatch(w -> !WorkedRows.isAsWorked(row, was, w.getKey()));
  }

  /** Whether the way back gives a row that nobody changed what it had by itself. */
  static boolean comesByItself(Row was, String column) {
    int at = was.header().position(WorkedRows.back(column));
    return at >= 0 && Objects.equals(was.get(at), was.get(was.header().position(column)));
  }

  /**
   * Whether a value that goes with its column is lost: nothing works it back, and people wrote it.
   */
  boolean isLost(Row row, Iterable<Row> before, String column) {
    if (row.get(row.header().position(column)) == null || !t.readers(column).isEmpty()) {
      return false;
    }
    for (Row was : before) {
      if (WorkedRows.isAsWorked(row, was, column)) {
        return false;
      }
    }
    return true;
  }
}
