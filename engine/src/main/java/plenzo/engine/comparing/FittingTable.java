package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.impact.Unheld;
import plenzo.core.records.CanonicalValue;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.ConstantDefault;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.engine.setup.RowKeys;

/** One table of the way back: what comes back to it, and what it cannot hold. */
final class FittingTable {
  private static final Set<Unheld.Why> ALL = EnumSet.allOf(Unheld.Why.class);

  private final Fitting fitting;
  private final TablesDelta.TableDelta t;
  private final TableStructure result;
  private final Before.@Nullable Table oldest;
  private final List<String> key;
  private final List<Column> back = new ArrayList<>();
  private final Set<String> dropped = new LinkedHashSet<>();
  private final List<Unheld> unheld = new ArrayList<>();
  private final Map<String, Before.Table> from = new LinkedHashMap<>();
  private final WorkedSince worked;
  private List<Hanging.Hook> hooks = List.of();
  private @Nullable List<ReturningKey> keys;

  FittingTable(Fitting fitting, TablesDelta.TableDelta t) {
    this.fitting = fitting;
    this.t = t;
    this.result = Objects.requireNonNull(t.result());
    List<Before.Table> all =
        fitting.since().stream().flatMap(b -> b.table(t.table()).stream()).toList();
    this.oldest = all.isEmpty() ? null : all.get(all.size() - 1);
    this.key = key(all);
    this.worked = new WorkedSince(fitting, t, all, !key.isEmpty());
    comesBack(all);
    from.putAll(worked.retyped());
    if (!key.isEmpty() && t.present() != null) {
      cannotHold();
    }
  }

  TablesDelta.TableDelta delta() {
    return t;
  }

  /** Whether its structure asks anything of its rows. */
  boolean isAsked() {
    return !from.isEmpty() || !unheld.isEmpty() || !worked.goes().isEmpty();
  }

  boolean mayRemove() {
    return !unheld.isEmpty()
        || hooks.stream().anyMatch(h -> h.columns().isEmpty())
        || keys().stream().anyMatch(k -> k.free().isEmpty() && !k.pointless().isEmpty());
  }

  /** Rows point at rows that go; where they cannot be told apart, they stay in the way. */
  void hang(List<Hanging.Hook> next) {
    hooks = key.isEmpty() ? List.of() : next;
  }

  /** The columns by which rows of now and of then are told apart; empty when they are not. */
  private List<String> key(List<Before.Table> all) {
    TableStructure now = t.present() == null ? result : t.present();
    List<String> primary = now.primaryKey().map(Constraint::columns).orElse(List.of());
    List<String> key = primary.isEmpty() && !all.isEmpty() ? all.get(0).key() : primary;
    boolean same =
        all.stream().allMatch(b -> b.key().equals(key))
            && (t.rows() == null || leading(t.rows().columns()).equals(key))
            && (primary.isEmpty()
                ? isToldBy(key, all)
                : key.stream()
                    .allMatch(
                        k ->
                            now.column(k)
                                .map(Column::type)
                                .equals(result.column(k).map(Column::type))));
    return same ? key : List.of();
  }

  /**
   * Whether rows are told apart by what stayed of them since, in a table that keeps no primary key.
   */
  private boolean isToldBy(List<String> columns, List<Before.Table> all) {
    return !columns.isEmpty()
        && Stream.concat(all.stream().map(Before.Table::structure), Stream.ofNullable(t.present()))
            .allMatch(
                s ->
                    columns.stream()
                        .allMatch(c -> RowKeys.tellsTheSame(s.column(c), result.column(c))))
        && (t.present() == null
            || fitting
                .looking()
                .table(t.table())
                .filter(there -> RowKeys.problem(fitting.looking(), there, columns).isEmpty())
                .isPresent());
  }

  private static List<String> leading(Header header) {
    return header.names().subList(0, header.keyColumns());
  }

  /** Columns that come back, each with the newest table that still had it. */
  private void comesBack(List<Before.Table> all) {
    for (Column c : result.columns()) {
      boolean there = t.present() != null && t.present().column(c.name()).isPresent();
      Before.Table had =
          all.stream()
              .filter(b -> b.structure().column(c.name()).isPresent())
              .findFirst()
              .orElse(null);
      if (there || had == null) {
        continue;
      }
      from.put(c.name(), had);
      boolean sameType = had.structure().column(c.name()).orElseThrow().type().equals(c.type());
      boolean writable = t.present() == null || !"always".equals(c.identity());
      if (!key.isEmpty() && sameType && writable) {
        back.add(c);
      } else {
        dropped.add(c.name());
      }
    }
  }

  /** Columns whose values come back from a table. */
  private List<String> backFrom(Before.Table table) {
    return from.entrySet().stream()
        .filter(f -> f.getValue().equals(table))
        .map(Map.Entry::getKey)
        .toList();
  }

  private void cannotHold() {
    List<Unheld> all = new ArrayList<>(Unheld.byType(fitting.delta(), t));
    all.addAll(Unheld.of(fitting.delta(), t, fitting.compared().tables(), ALL));
    for (Unheld u : all) {
      boolean comes = u.change().before() == null && u.why() == Unheld.Why.NO_VALUE;
      // without what was there before, every row would go
      if (u.marks() && (!comes || from.containsKey(u.change().name())) && counts(u)) {
        unheld.add(u);
      }
    }
  }

  private boolean counts(Unheld u) {
    try {
      return fitting.looking().answer(u.question()).count() > 0;
    } catch (TargetFailed e) {
      return false; // the rule asks too, and says that it could not be counted
    }
  }

  Set<String> settled() {
    Set<String> out = new TreeSet<>();
    unheld.forEach(u -> out.add(u.place()));
    worked.goes().forEach(c -> out.add("column/" + c));
    return out;
  }

  void walk(FittingFound found) {
    if (!isAsked() && hooks.isEmpty()) {
      return;
    }
    if (t.present() == null || key.isEmpty()) {
      apart(found);
    } else {
      beside(found);
    }
  }

  /** The whole table comes back, or its rows cannot be told apart. */
  private void apart(FittingFound found) {
    Before.Table had = from.values().iterator().next();
    boolean all = t.present() == null && dropped.isEmpty();
    ComponentKey records = new ComponentKey(Kind.RECORDS, t.table().componentName());
    try (RowReader was = had.rows().get();
        Alongside own = fitting.compared().own(records)) {
      for (Row row = was.next(); row != null; row = was.next()) {
        if (!key.isEmpty() && own.at(row) != null) {
          continue; // the version brings it
        }
        if (all) {
          found.bringBack(row);
        } else if (t.present() == null) {
          found.lost(Losses.Sort.DROPPED_ROWS, row, "", null);
        } else {
          Row same = row;
          dropped(found, row, dropped, c -> same);
        }
      }
    }
  }

  private void dropped(
      FittingFound found,
      Row row,
      Collection<String> columns,
      Function<String, @Nullable Row> had) {
    for (String c : columns) {
      Row was = had.apply(c);
      int at = was == null ? -1 : was.header().position(c);
      String value = was == null || at < 0 ? null : was.get(at);
      if (value != null) {
        found.lost(Losses.Sort.DROPPED, row, c, value);
      }
    }
  }

  private List<ReturningKey> keys() {
    if (keys == null) {
      keys = ReturningKey.of(fitting, t, from);
    }
    return keys;
  }

  private void beside(FittingFound found) {
    keys();
    List<Before.Table> sources = new ArrayList<>(new LinkedHashSet<>(from.values()));
    if (oldest != null && !sources.contains(oldest)) {
      sources.add(oldest);
    }
    ComponentKey records = new ComponentKey(Kind.RECORDS, t.table().componentName());
    Map<Before.Table, Alongside> open = new LinkedHashMap<>();
    sources.forEach(s -> worked.workOut(s, backFrom(s)));
    try (RowReader there =
            fitting
                .looking()
                .allRows(
                    t.table(),
                    key,
                    Stream.concat(
                            unheld.stream().map(Unheld::question),
                            hooks.stream().map(Hanging.Hook::question))
                        .toList());
        Alongside own = fitting.compared().own(records)) {
      sources.forEach(s -> open.put(s, Alongside.of(worked.rows(s))));
      for (Row row = there.next(); row != null; row = there.next()) {
        if (own.at(row) == null) {
          Map<Before.Table, Row> had = new LinkedHashMap<>();
          for (Map.Entry<Before.Table, Alongside> s : open.entrySet()) {
            Row was = s.getValue().at(row);
            if (was != null) {
              had.put(s.getKey(), was);
            }
          }
          one(found, row, had);
        }
      }
    } finally {
      open.values().forEach(Alongside::close);
    }
    if (t.present() != null && RowKeys.isKeyless(t.present())) {
      new LinkedHashSet<>(from.values()).forEach(s -> notFoundAgain(found, s));
    }
  }

  /**
   * A row that is told by what stays of it and is there no more was taken away or changed: nobody
   * can tell which, so what it held counts as lost.
   */
  private void notFoundAgain(FittingFound found, Before.Table table) {
    List<String> columns = backFrom(table);
    try (RowReader was = table.rows().get();
        Alongside there = Alongside.of(fitting.looking().allRows(t.table(), key))) {
      for (Row row = was.next(); row != null; row = was.next()) {
        if (there.at(row) == null) {
          Row same = row;
          dropped(found, row, columns, c -> same);
        }
      }
    }
  }

  private void one(FittingFound found, Row row, Map<Before.Table, Row> had) {
    Map<String, @Nullable String> set = new LinkedHashMap<>();
    for (Column c : back) {
      Row was = had.get(from.get(c.name()));
      String value = was == null ? null : was.get(was.header().position(c.name()));
      boolean stated = t.workedOut().containsKey(c.name());
      if (was != null && stated && worked.needsNothing(row, was, c.name())) {
        continue;
      }
      // a row that had no value does not get the default of a new column
      if (was != null && (value != null || stated || c.defaultExpression() != null)) {
        set.put(c.name(), value);
      }
    }
    worked
        .retyped()
        .forEach(
            (column, table) -> {
              Row was = had.get(table);
              if (was != null
                  && WorkedRows.isAsWorked(row, was, column)
                  && !WorkedSince.comesByItself(was, column)) {
                set.put(column, was.get(was.header().position(column)));
              }
            });
    Map<String, @Nullable String> lost = new LinkedHashMap<>();
    boolean held = true;
    Set<String> pointless = new LinkedHashSet<>();
    for (ReturningKey k : keys()) {
      if (k.pointsAtNothing(had.get(k.from()))) {
        held &= !k.free().isEmpty();
        k.free().forEach(c -> set.put(c, null));
        pointless.addAll(k.free());
      }
    }
    for (int n = 0; n < unheld.size(); n++) {
      held &= !marked(row, n) || settle(unheld.get(n), row, had.get(oldest), set, lost);
    }
    Set<String> loose = new LinkedHashSet<>();
    boolean hangs = false;
    for (int n = 0; n < hooks.size(); n++) {
      if (marked(row, unheld.size() + n)) {
        List<String> columns = hooks.get(n).columns();
        hangs |= columns.isEmpty();
        loose.addAll(columns);
      }
    }
    if (!held || hangs) {
      found.remove(row);
      found.lost(held ? Losses.Sort.HANGING_ROWS : Losses.Sort.NO_ROOM_ROWS, row, "", null);
      return;
    }
    loose.forEach(c -> set.put(c, null));
    set.forEach((column, value) -> found.set(row, column, value));
    lost.forEach((column, value) -> found.lost(Losses.Sort.NO_ROOM, row, column, value));
    worked.goes().stream()
        .filter(c -> worked.isLost(row, had.values(), c))
        .forEach(c -> found.lost(Losses.Sort.VALUES, row, c, row.get(row.header().position(c))));
    loose.stream()
        .filter(c -> !lost.containsKey(c))
        .forEach(c -> found.lost(Losses.Sort.HANGING, row, c, row.get(row.header().position(c))));
    dropped(
        found,
        row,
        Stream.concat(dropped.stream(), pointless.stream()).toList(),
        c -> had.get(from.get(c)));
  }

  private static boolean marked(Row row, int n) {
    return "t".equals(row.get(row.header().position(TablesLooking.mark(n))));
  }

  /**
   * Gives a row other values where the structure cannot hold its own.
   *
   * @param was the row before the run that left the version; null when it was not there
   * @return false when there are no such values
   */
  private boolean settle(
      Unheld u,
      Row row,
      @Nullable Row was,
      Map<String, @Nullable String> set,
      Map<String, @Nullable String> lost) {
    Map<String, @Nullable String> next = before(u.columns(), row, was);
    boolean one = u.why() == Unheld.Why.NO_FIT || u.why() == Unheld.Why.NO_VALUE;
    if (one) {
      String name = u.columns().get(0);
      Column c = result.column(name).orElseThrow();
      if (set.get(name) != null) {
        return true; // it comes back with its value
      }
      if (next.get(name) == null && c.notNull()) {
        next.put(name, fallback(c));
      } else if (!next.containsKey(name)) {
        next.put(name, null);
      }
      if (next.get(name) == null && c.notNull()) {
        return false;
      }
    } else if (next.isEmpty()) {
      if (u.why() != Unheld.Why.ORPHAN
          || u.columns().stream().anyMatch(c -> result.column(c).orElseThrow().notNull())) {
        return false;
      }
      u.columns().forEach(c -> next.put(c, null));
    }
    next.forEach(
        (column, value) -> {
          int at = row.header().position(column);
          set.put(column, value);
          lost.put(column, at < 0 ? null : row.get(at));
        });
    return true;
  }

  private static @Nullable String fallback(Column c) {
    String value = ConstantDefault.of(c).value();
    try {
      return value == null ? null : CanonicalValue.of(c.type(), value);
    } catch (IllegalArgumentException e) {
      return null; // a default that its own column cannot hold
    }
  }

  /** The values of before in columns of one type then and in the result; those that differ. */
  private Map<String, @Nullable String> before(List<String> columns, Row row, @Nullable Row was) {
    Map<String, @Nullable String> out = new LinkedHashMap<>();
    for (String c : columns) {
      int at = was == null ? -1 : was.header().position(c);
      if (was == null
          || at < 0
          || !was.header().types().get(at).equals(result.column(c).orElseThrow().type())) {
        return new LinkedHashMap<>();
      }
      int now = row.header().position(c);
      if (now < 0 || !Objects.equals(was.get(at), row.get(now))) {
        out.put(c, was.get(at));
      }
    }
    return out;
  }
}
