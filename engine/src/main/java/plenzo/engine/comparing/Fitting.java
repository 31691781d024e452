package plenzo.engine.comparing;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;

/**
 * Makes rows fit an earlier structure (rules H). What a later version dropped comes back by key out
 * of the backups of the runs since. Of what the structure cannot hold, the value before the run
 * comes back, or there is none, or the column's default; else the row goes. Each such value is
 * loss, counted and named. Rows that the version writes itself are left to it.
 */
public final class Fitting {
  private final ComparisonFiles files;
  private final TablesLooking looking;
  private final Compared compared;
  private final TablesDelta delta;
  private final Supplier<? extends List<? extends Before>> before;
  private @Nullable List<? extends Before> since;
  private @Nullable Map<TableName, FittingTable> tables;

  /**
   * @param compared of the way back, without what is found here
   * @param before what was there before each run since the version, the newest first; asked once,
   *     and only when a structure changes
   */
  public Fitting(
      ComparisonFiles files,
      TablesLooking looking,
      Compared compared,
      Supplier<? extends List<? extends Before>> before) {
    this.files = files;
    this.looking = looking;
    this.compared = compared;
    this.delta = compared.written();
    this.before = before;
  }

  /** Takes what is lost, value by value. */
  public interface Lost {
    /**
     * @param key the row's key line, empty where rows have none
     */
    void value(TableName table, String key, String column, @Nullable String value);
  }

  /** Writes the rows to the comparison's files; the comparison with them. */
  public Compared fit() {
    List<Fitted> out = new ArrayList<>();
    int[] place = {compared.components().size()};
    for (FittingTable t : tables().values()) {
      FittingRows rows = new FittingRows(files, compared.id(), t.delta(), place);
      try (rows) {
        t.walk(rows);
      }
      out.add(rows.fitted(t.settled()));
    }
    return compared.with(out);
  }

  /** Names everything that is lost. */
  public void lost(Lost use) {
    tables().values().forEach(t -> t.walk(new FittingNames(t.delta(), use)));
  }

  private Map<TableName, FittingTable> tables() {
    if (tables == null) {
      Map<TableName, FittingTable> found = new LinkedHashMap<>();
      for (TablesDelta.TableDelta t : delta.tables()) {
        if (t.structureChanges() && t.result() != null) {
          FittingTable one = new FittingTable(this, t);
          if (one.isAsked()) {
            found.put(t.table(), one);
          }
        }
      }
      follow(found);
      tables = found;
    }
    return tables;
  }

  /** What points at rows that go is let go as well, and what points at that. */
  private void follow(Map<TableName, FittingTable> found) {
    Hanging hanging = new Hanging(delta.after(compared.tables()));
    Deque<FittingTable> todo = new ArrayDeque<>();
    found.values().stream()
        .filter(t -> t.mayRemove() && hanging.holds(t.delta().table()))
        .forEach(todo::add);
    while (!todo.isEmpty()) {
      FittingTable t = todo.remove();
      TableName table = t.delta().table();
      long known = hanging.count();
      t.walk((FittingGoes) row -> hanging.goes(table, row));
      if (hanging.count() == known) {
        continue;
      }
      for (TableName other : hanging.pointing(table)) {
        FittingTable next = found.computeIfAbsent(other, o -> new FittingTable(this, delta(o)));
        next.hang(hanging.hooks(other));
        if (next.mayRemove() && hanging.holds(other) && !todo.contains(next)) {
          todo.add(next);
        }
      }
    }
  }

  private TablesDelta.TableDelta delta(TableName table) {
    return delta
        .find(table)
        .orElseGet(
            () -> {
              TableStructure is = compared.tables().get(table);
              return TablesDelta.TableDelta.of(table, is, is, null);
            });
  }

  TablesLooking looking() {
    return looking;
  }

  Compared compared() {
    return compared;
  }

  TablesDelta delta() {
    return delta;
  }

  List<? extends Before> since() {
    if (since == null) {
      since = before.get();
    }
    return since;
  }

  /** Rows that the version writes or removes itself. */
  Alongside own(ComponentKey records) {
    int n = place(records);
    if (n < 0) {
      return Alongside.of(null);
    }
    ComparisonFiles.Merged all = written(n);
    return new Alongside(
        () -> {
          RowDifference d = written(records, all);
          return d == null ? null : d.any();
        },
        all::close);
  }

  /** Rows that the version brings. */
  void coming(ComponentKey records, Consumer<Row> use) {
    int n = place(records);
    if (n >= 0) {
      try (ComparisonFiles.Merged all = written(n)) {
        for (RowDifference d = written(records, all); d != null; d = written(records, all)) {
          if (d.incoming() != null) {
            use.accept(d.incoming());
          }
        }
      }
    }
  }

  private int place(ComponentKey records) {
    return compared.components().stream().map(ComponentResult::key).toList().indexOf(records);
  }

  private ComparisonFiles.Merged written(int place) {
    return files.merged(
        compared.id(),
        place,
        List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED, Difference.CONFLICT));
  }

  private @Nullable RowDifference written(ComponentKey records, ComparisonFiles.Merged all) {
    RowDifference d = all.next();
    while (d != null && !compared.act(records, d).writes()) {
      d = all.next();
    }
    return d;
  }
}
