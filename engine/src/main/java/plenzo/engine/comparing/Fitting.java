package plenzo.engine.comparing;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Unheld;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.way.Obstacle;
import plenzo.core.way.Unfit;

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
  private final @Nullable Supplier<? extends List<? extends Before>> before;
  private final Map<String, Decision> decisions;
  private @Nullable List<? extends Before> since;
  private @Nullable Map<TableName, FittingTable> tables;

  /**
   * @param compared of the way back, without what is found here
   * @param before what was there before each run since the version, the newest first; asked once,
   *     and only when a structure changes; null when rows need not fit, as those of a backup
   * @param decisions what was chosen for rows that go and are used
   */
  public Fitting(
      ComparisonFiles files,
      TablesLooking looking,
      Compared compared,
      @Nullable Supplier<? extends List<? extends Before>> before,
      Map<String, Decision> decisions) {
    this.decisions = Map.copyOf(decisions);
    this.files = files;
    this.looking = looking;
    this.compared = compared;
    this.delta = compared.written();
    this.before = before;
  }

  /**
   * Parts of structures that come back and that rows of today do not fit, which could stay as they
   * are.
   *
   * @param version that one goes back to
   */
  public static List<Unfit> unfit(Compared compared, TablesLooking looking, String version) {
    List<Unfit> out = new ArrayList<>();
    TablesDelta delta = compared.written();
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (t.structureChanges() && t.result() != null) {
        for (Unheld u : Unheld.of(delta, t, compared.tables(), EnumSet.allOf(Unheld.Why.class))) {
          long count = mayStay(u) ? looking.answer(u.question()).count() : 0;
          if (count > 0) {
            out.add(Unfit.of(u, count, version));
          }
        }
      }
    }
    return out;
  }

  /**
   * A column that comes back has nothing yet that could stay, and of the rest what cannot be told
   * from rows that the way back writes is no reason to ask.
   */
  private static boolean mayStay(Unheld u) {
    return switch (u.why()) {
      case NO_FIT -> true;
      case NO_VALUE -> u.change().before() != null;
      default -> u.marks();
    };
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
    LongValues longValues =
        since().stream().map(Before::longValues).reduce(LongValues.NONE, LongValues::or);
    int[] place = {compared.components().size()};
    for (FittingTable t : tables().values()) {
      FittingRows rows = new FittingRows(files, compared.id(), t.delta(), place);
      try (rows) {
        t.walk(rows);
      }
      out.add(rows.fitted(t.settled(), longValues));
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
        if (before != null && t.structureChanges() && t.result() != null) {
          FittingTable one = new FittingTable(this, t);
          if (one.isAsked()) {
            found.put(t.table(), one);
          }
        }
      }
      for (TableName name : Unheld.typed(delta, compared.tables())) {
        TablesDelta.TableDelta t = delta(name);
        if (!found.containsKey(name) && t.result() != null && t.present() != null) {
          FittingTable one = new FittingTable(this, t);
          if (one.isAsked()) {
            found.put(name, one);
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
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (chosenToGo(t, hanging)) {
        hang(t.table(), hanging, found, todo);
      }
    }
    while (!todo.isEmpty()) {
      FittingTable t = todo.remove();
      TableName table = t.delta().table();
      long known = hanging.count();
      t.walk((FittingGoes) row -> hanging.goes(table, row));
      if (hanging.count() > known) {
        hang(table, hanging, found, todo);
      }
    }
  }

  private void hang(
      TableName table,
      Hanging hanging,
      Map<TableName, FittingTable> found,
      Deque<FittingTable> todo) {
    for (TableName other : hanging.pointing(table)) {
      FittingTable next = found.computeIfAbsent(other, o -> new FittingTable(this, delta(o)));
      next.hang(hanging.hooks(other));
      if (next.mayRemove() && hanging.holds(other) && !todo.contains(next)) {
        todo.add(next);
      }
    }
  }

  /** Rows that the version takes away and of which somebody chose that what hangs on them goes. */
  private boolean chosenToGo(TablesDelta.TableDelta t, Hanging hanging) {
    ComponentKey records = new ComponentKey(Kind.RECORDS, t.table().componentName());
    TablesDelta.RowsDelta rows = t.rows();
    boolean chosen =
        decisions.entrySet().stream()
            .anyMatch(
                d ->
                    d.getKey().startsWith(records + "#") && d.getValue() == Decision.TAKE_INCOMING);
    if (!chosen || rows == null || rows.removed() == 0 || !hanging.holds(t.table())) {
      return false;
    }
    long known = hanging.count();
    try (TablesDelta.Changes changes = rows.source().open()) {
      for (TablesDelta.RowChange c = changes.next(); c != null; c = changes.next()) {
        Row row = c.present();
        if (c.act() == Difference.REMOVED
            && row != null
            && Obstacle.chosen(decisions, records, row.keyLine()) == Decision.TAKE_INCOMING) {
          hanging.goes(t.table(), row);
        }
      }
    }
    return hanging.count() > known;
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

  ComparisonFiles files() {
    return files;
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
      since = before == null ? List.of() : before.get();
    }
    return since;
  }
}
