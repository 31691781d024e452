package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ComponentOrder;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectsPlan;
import plenzo.core.object.SchemaObject;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.table.Conversion;
import plenzo.core.table.Inheritance;
import plenzo.core.table.Renaming;
import plenzo.core.table.Resting;
import plenzo.core.table.StructureComparison;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Reach;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;

/**
 * A finished comparison: results in memory, rows on disk.
 *
 * @param components without files that are the same; the place in it is that of the rows on disk
 * @param tables every table of the database's schemas as it was read, by the names that its columns
 *     have after a run
 * @param renaming columns that have another name there now
 * @param uncarried everything else in those schemas, which is named and not carried
 * @param items every file and definition of the application as it was read
 * @param fitted what a way back does so that rows fit its structure
 * @param structureDrift parts, files and definitions of the incoming side that the site has
 *     otherwise, or not at all, and that were not decided to stay so
 * @param recordsDrift the same of rows
 */
public record Compared(
    String id,
    List<ComponentResult> components,
    Map<ComponentKey, StructureComparison> structures,
    Map<TableName, TableStructure> tables,
    Renaming renaming,
    List<Uncarried> uncarried,
    Items items,
    Map<String, Decision> decisions,
    boolean keepsWhatMoved,
    long structureDrift,
    long recordsDrift,
    List<String> driftExamples,
    List<Fitted> fitted,
    ComparisonFiles files) {

  /** The same with what is done so that rows fit an earlier structure. */
  Compared with(List<Fitted> next) {
    return new Compared(
        id,
        components,
        structures,
        tables,
        renaming,
        uncarried,
        items,
        decisions,
        keepsWhatMoved,
        structureDrift,
        recordsDrift,
        driftExamples,
        List.copyOf(next),
        files);
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
          Row becomes = becomes(decided(), records, d);
          if (becomes != null) {
            use.accept(becomes);
          }
        }
      }
    }
  }

  private int place(ComponentKey records) {
    return components.stream().map(ComponentResult::key).toList().indexOf(records);
  }

  private ComparisonFiles.Merged written(int place) {
    return files.merged(
        id,
        place,
        List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED, Difference.CONFLICT));
  }

  private @Nullable RowDifference written(ComponentKey records, ComparisonFiles.Merged all) {
    RowDifference d = all.next();
    while (d != null && !act(records, d).writes()) {
      d = all.next();
    }
    return d;
  }

  /** What is done with a row of a component: a conflict becomes what was decided. */
  Difference act(ComponentKey key, RowDifference row) {
    return decided().act(key, row);
  }

  /** What a run would write to the tables, as far as it is known without the target. */
  TablesDelta written() {
    return tablesDelta();
  }

  /** What comes back to a table: rows get values of a column back, or come back whole. */
  public record Returned(TableName table, String column, long rows) {}

  public List<Returned> returned() {
    return fitted.stream()
        .flatMap(
            f ->
                new TreeMap<>(f.returned())
                    .entrySet().stream()
                        .map(e -> new Returned(f.table(), e.getKey(), e.getValue())))
        .toList();
  }

  /** Digests of what is written or removed so that rows fit, by table. */
  public Map<String, String> fittedDigests() {
    Map<String, String> out = new TreeMap<>();
    fitted.stream()
        .filter(f -> !f.touched().isEmpty())
        .forEach(f -> out.put(f.table().toString(), f.touched()));
    return out;
  }

  /** How many files are the same: they are in no result. */
  public long sameFiles() {
    return items.same().size();
  }

  private Decided decided() {
    return new Decided(decisions, keepsWhatMoved);
  }

  /** What was decided of conflicts; of what moved on both sides, nothing or to keep it. */
  private record Decided(Map<String, Decision> decisions, boolean keepsWhatMoved) {
    @Nullable Decision of(ComponentKey key, String part) {
      Decision decided = decisions.getOrDefault(key + "#" + part, decisions.get(key.toString()));
      return decided == null && keepsWhatMoved ? Decision.KEEP : decided;
    }

    /** What is done with a row: a conflict becomes what was decided. */
    Difference act(ComponentKey key, RowDifference row) {
      if (row.difference() != Difference.CONFLICT) {
        return row.difference();
      }
      Decision decided = of(key, "row/" + row.any().keyLine());
      if (decided == Decision.TAKE_BOTH) {
        Row there = row.present();
        return row.both()
            .filter(both -> there == null || !both.sameIn(both.header(), there))
            .map(both -> Difference.CHANGED)
            .orElse(Difference.KEPT);
      }
      if (decided != Decision.TAKE_INCOMING) {
        return Difference.KEPT;
      }
      return row.incoming() == null
          ? Difference.REMOVED
          : row.present() == null ? Difference.ADDED : Difference.CHANGED;
    }
  }

  /** What a row of a component becomes; null when it goes. */
  private static @Nullable Row becomes(Decided decided, ComponentKey key, RowDifference row) {
    boolean both =
        row.difference() == Difference.CONFLICT
            && decided.of(key, "row/" + row.any().keyLine()) == Decision.TAKE_BOTH;
    return both ? row.both().orElseThrow() : row.incoming();
  }

  /**
   * Files and definitions.
   *
   * @param present what the site holds
   * @param objects every schema object that the site holds, whole
   * @param comingObjects schema objects of the incoming side that the site has not so
   * @param coming digest of what the incoming side has
   * @param same files that are as they come, or that neither side has; they are in no result
   * @param onlyThere what the site holds and no side knows
   * @param holders targets of the site that hold such components
   */
  public record Items(
      Map<ComponentKey, ItemSeen> present,
      Map<ComponentKey, SchemaObject> objects,
      Map<ComponentKey, SchemaObject> comingObjects,
      Map<ComponentKey, Digest> coming,
      List<ComponentKey> same,
      List<ComponentKey> onlyThere,
      Set<Holder> holders,
      Incoming incoming) {}

  /**
   * What a run would write, target by target; nothing for parts that are kept or undecided.
   *
   * @param activate components that the plan switches on
   * @param bindings values of the host's inputs
   */
  public SiteDelta delta(Set<ComponentKey> activate, Map<String, ItemsDelta.Binding> bindings) {
    Map<Holder, ItemsDelta> whole = new EnumMap<>(Holder.class);
    for (Holder holder : items.holders()) {
      if (holder == Holder.DATABASE) {
        continue;
      }
      whole.put(holder, items(holder, activate, holder == Holder.HOST ? bindings : Map.of()));
    }
    return new SiteDelta(tablesDelta(), whole);
  }

  private ItemsDelta items(
      Holder holder, Set<ComponentKey> activate, Map<String, ItemsDelta.Binding> bindings) {
    List<ItemsDelta.Change> changes = new ArrayList<>();
    Map<ComponentKey, String> owned = new LinkedHashMap<>();
    for (ComponentResult c : components) {
      if (c.key().kind().holder() != holder) {
        continue;
      }
      ItemSeen there = items.present().get(c.key());
      Digest next = items.coming().get(c.key());
      Difference act = act(c, there != null, next != null);
      if (act.writes()) {
        boolean goes = act == Difference.REMOVED;
        changes.add(
            new ItemsDelta.Change(
                c.key(),
                act,
                there == null ? null : there.content(),
                there == null ? null : there.seal(),
                goes ? null : next,
                goes || next == null ? 0 : items.incoming().size(next),
                activate.contains(c.key())));
      } else if (there != null && c.difference() == Difference.SAME) {
        owned.put(c.key(), there.seal());
      }
    }
    if (holder == Holder.DIRECTORY) {
      for (ComponentKey key : items.same()) {
        ItemSeen there = items.present().get(key);
        if (there != null) {
          owned.put(key, there.seal());
        }
      }
    }
    // what is needed is there before what needs it, and goes after it
    List<ComponentKey> keys =
        ComponentOrder.of(
                changes.stream().map(ItemsDelta.Change::key).toList(),
                Map.of(),
                items.incoming().moved())
            .keys();
    Map<ComponentKey, Integer> place = new HashMap<>();
    keys.forEach(key -> place.put(key, place.size()));
    Comparator<ItemsDelta.Change> order =
        Comparator.comparing(x -> Objects.requireNonNull(place.get(x.key())));
    List<ItemsDelta.Change> ordered = new ArrayList<>();
    changes.stream().filter(x -> x.act() != Difference.REMOVED).sorted(order).forEach(ordered::add);
    changes.stream()
        .filter(x -> x.act() == Difference.REMOVED)
        .sorted(order.reversed())
        .forEach(ordered::add);
    return new ItemsDelta(ordered, owned, bindings, items.incoming().contents());
  }

  private Difference act(ComponentResult c, boolean there, boolean comes) {
    if (c.difference() != Difference.CONFLICT) {
      return c.difference();
    }
    Decision decided = decided().of(c.key(), "content/");
    if (decided == Decision.TAKE_BOTH) {
      ItemSeen is = items.present().get(c.key());
      return c.parts().stream()
              .anyMatch(x -> x.both() != null && is != null && !x.both().equals(is.content()))
          ? Difference.CHANGED
          : Difference.KEPT;
    }
    if (decided != Decision.TAKE_INCOMING) {
      return Difference.KEPT;
    }
    return !comes ? Difference.REMOVED : there ? Difference.CHANGED : Difference.ADDED;
  }

  private TablesDelta tablesDelta() {
    Map<TableName, TablesDelta.TableDelta> out = new LinkedHashMap<>();
    Map<TableName, TableStructure> results = new LinkedHashMap<>();
    for (int n = 0; n < components.size(); n++) {
      ComponentResult c = components.get(n);
      if (c.key().kind().whole()) {
        continue;
      }
      TableName table = TableName.of(c.key().name());
      TableStructure present = tables.get(table);
      if (c.key().kind() == Kind.TABLE) {
        TableStructure result = Objects.requireNonNull(structures.get(c.key())).result();
        if (!Objects.equals(present, result)) {
          out.put(table, TablesDelta.TableDelta.of(table, present, result, null));
        }
      } else {
        if (c.counts().written() == 0 && c.counts().conflict() == 0) {
          continue;
        }
        StructureComparison own = structures.get(new ComponentKey(Kind.TABLE, c.key().name()));
        TablesDelta.RowsDelta rows =
            rows(
                n,
                c.key(),
                c.counts(),
                present,
                own == null ? present : own.result(),
                items.incoming().longValues());
        if (rows.total() > 0) {
          TablesDelta.TableDelta structure = out.get(table);
          out.put(
              table,
              structure == null
                  ? TablesDelta.TableDelta.of(table, present, present, rows)
                  : TablesDelta.TableDelta.of(
                      table, structure.present(), structure.result(), rows));
        }
      }
    }
    for (TableName table : renaming.touched()) {
      TableStructure is = tables.get(table);
      if (is != null) {
        out.putIfAbsent(table, TablesDelta.TableDelta.of(table, is, is, null));
      }
    }
    for (Fitted f : fitted) {
      TableStructure is = tables.get(f.table());
      if (!f.parts().isEmpty() && is != null) {
        out.putIfAbsent(f.table(), TablesDelta.TableDelta.of(f.table(), is, is, null));
      }
    }
    families(out);
    resting(out);
    out.values()
        .forEach(
            t ->
                results.put(
                    t.table(),
                    Objects.requireNonNullElse(
                        t.result(),
                        Objects.requireNonNullElse(t.present(), TableStructure.EMPTY))));
    List<TablesDelta.TableDelta> ordered =
        TableOrder.parentsFirst(results, items.incoming().moved()).stream()
            .map(t -> fitted(converting(Objects.requireNonNull(out.get(t)))))
            .toList();
    TablesDelta delta =
        new TablesDelta(
            ordered, reached(new TablesDelta(ordered, List.of()).staged()), List.of(), renaming);
    return new TablesDelta(delta.tables(), delta.reached(), objects(delta), renaming);
  }

  /**
   * Where a table changes, those that inherit from it change with it, and what it inherits from is
   * told with it.
   */
  private void families(Map<TableName, TablesDelta.TableDelta> out) {
    Set<TableName> changing =
        out.values().stream()
            .filter(TablesDelta.TableDelta::structureChanges)
            .map(TablesDelta.TableDelta::table)
            .collect(Collectors.toSet());
    Map<TableName, TableStructure> all = new LinkedHashMap<>(tables);
    out.values().stream()
        .filter(t -> t.result() != null)
        .forEach(t -> all.put(t.table(), Objects.requireNonNull(t.result())));
    Set<TableName> family = new LinkedHashSet<>(changing);
    changing.forEach(t -> family.addAll(Inheritance.below(t, tables)));
    for (TableName table : family) {
      for (TableName above : Inheritance.above(table, all)) {
        TableStructure is = tables.get(above);
        if (is != null) {
          out.putIfAbsent(above, TablesDelta.TableDelta.of(above, is, is, null));
        }
      }
    }
    for (TableName table : changing) {
      Inheritance.below(table, tables).forEach(below -> follow(below, out));
    }
  }

  /** Tables of which the version says nothing and whose foreign keys rest on a key that goes. */
  private void resting(Map<TableName, TablesDelta.TableDelta> out) {
    for (TablesDelta.TableDelta t : List.copyOf(out.values())) {
      if (!t.structureChanges()) {
        continue;
      }
      tables.forEach(
          (name, is) -> {
            if (!out.containsKey(name)
                && !Resting.of(is, t.table(), t.present(), t.result()).isEmpty()) {
              out.put(name, TablesDelta.TableDelta.of(name, is, is, null));
            }
          });
    }
  }

  /** A table of which the version says nothing gets what is handed down to it. */
  private void follow(TableName below, Map<TableName, TablesDelta.TableDelta> out) {
    TablesDelta.TableDelta own = out.get(below);
    if (own != null && own.structureChanges()) {
      return;
    }
    TableStructure present = Objects.requireNonNull(tables.get(below));
    Map<TableName, Inheritance.Change> above = new LinkedHashMap<>();
    for (TableName parent : present.inherits()) {
      TableStructure there = tables.get(parent);
      if (there != null) {
        follow(parent, out);
        TablesDelta.TableDelta p = out.get(parent);
        above.put(
            parent,
            p == null
                ? new Inheritance.Change(parent, there, there)
                : new Inheritance.Change(parent, p.present(), p.result()));
      }
    }
    TableStructure result =
        Inheritance.given(present, Inheritance.handed(present.inherits(), above));
    if (own != null || !result.equals(present)) {
      out.put(
          below,
          TablesDelta.TableDelta.of(below, present, result, own == null ? null : own.rows()));
    }
  }

  /**
   * With what values of its columns are worked out from; on the way back, as far as the site has
   * what that reads: the rest comes back out of backups alone.
   */
  private TablesDelta.TableDelta converting(TablesDelta.TableDelta t) {
    Map<String, Conversion> stated = items.incoming().conversions().of(t.table());
    TableStructure present = t.present();
    if (stated.isEmpty() || present == null || !items.incoming().keepsWhatMoved()) {
      return t.converting(stated);
    }
    Map<String, Conversion> some = new TreeMap<>(stated);
    some.values().removeIf(c -> !c.isFor(present));
    return t.converting(some);
  }

  /** Every table as it is there now, by the names that it and its columns have now. */
  public Map<TableName, TableStructure> found() {
    Renaming back = renaming.inverse();
    Map<TableName, TableStructure> out = new LinkedHashMap<>();
    tables.forEach((name, structure) -> out.put(back.named(name), back.of(name, structure)));
    return out;
  }

  /** Every schema object as it is there now, by the names that tables have now. */
  public Map<ComponentKey, SchemaObject> foundObjects() {
    Renaming back = renaming.inverse();
    Map<ComponentKey, SchemaObject> out = new LinkedHashMap<>();
    items
        .objects()
        .values()
        .forEach(
            o -> {
              SchemaObject was = o.renamed(back);
              out.put(was.key(), was);
            });
    return out;
  }

  /** What is done with schema objects: what comes, goes and must be made again. */
  private List<ObjectDelta> objects(TablesDelta delta) {
    if (!items.holders().contains(Holder.DATABASE)) {
      return List.of();
    }
    List<ObjectsPlan.Change> changes = new ArrayList<>();
    Set<ComponentKey> owned = new HashSet<>();
    for (ComponentResult c : components) {
      if (!c.key().kind().schemaObject()) {
        continue;
      }
      SchemaObject there = items.objects().get(c.key());
      SchemaObject next = items.comingObjects().get(c.key());
      Difference act = act(c, there != null, next != null);
      owned.add(c.key());
      if (act.writes()) {
        changes.add(
            new ObjectsPlan.Change(c.key(), there, act == Difference.REMOVED ? null : next));
      }
    }
    return ObjectsPlan.of(changes, items.objects(), tables, delta, owned);
  }

  private TablesDelta.TableDelta fitted(TablesDelta.TableDelta t) {
    return fitted.stream()
        .filter(f -> f.table().equals(t.table()))
        .findFirst()
        .map(
            f ->
                t.with(
                    new TablesDelta.Fitted(
                        f.parts().stream()
                            .map(
                                part ->
                                    rows(
                                        part.place(),
                                        new ComponentKey(Kind.RECORDS, t.table().componentName()),
                                        part.counts(),
                                        t.present(),
                                        t.result(),
                                        f.longValues()))
                            .toList(),
                        f.settled())))
        .orElse(t);
  }

  /** What the database changes by itself when rows go. */
  private List<TablesDelta.Reached> reached(List<TablesDelta.Staged> staged) {
    List<TablesDelta.Reached> out = new ArrayList<>();
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.TableDelta t = staged.get(n).table();
      if (t.present() == null || staged.get(n).rows().removed() == 0) {
        continue;
      }
      for (List<Reach.Edge> path : Reach.from(t.table(), tables)) {
        Reach.Edge last = path.get(path.size() - 1);
        if (last.onDelete()) {
          out.add(
              new TablesDelta.Reached(
                  last.hop().table(), n, path.stream().map(Reach.Edge::hop).toList()));
        }
      }
    }
    return out;
  }

  private TablesDelta.RowsDelta rows(
      int n,
      ComponentKey key,
      Counts of,
      @Nullable TableStructure present,
      @Nullable TableStructure result,
      LongValues longValues) {
    ComparisonFiles.Headers headers = files.headers(id, n);
    Header columns = headers.any();
    List<String> compared =
        columns.names().stream()
            .filter(name -> present != null && present.column(name).isPresent())
            .toList();
    Decided decided = decided();
    long[] counts = {of.removed(), of.changed(), of.added()};
    if (of.conflict() > 0) {
      try (ComparisonFiles.Reader reader = files.read(id, n, Difference.CONFLICT, 0)) {
        for (RowDifference row = reader.next(); row != null; row = reader.next()) {
          Difference act = decided.act(key, row);
          if (act.writes()) {
            counts[act == Difference.REMOVED ? 0 : act == Difference.CHANGED ? 1 : 2]++;
          }
        }
      }
    }
    ComparisonFiles from = files;
    String comparison = id;
    Set<String> mayBeNull =
        columns.names().subList(0, columns.keyColumns()).stream()
            .filter(name -> mayBeNull(present, name) || mayBeNull(result, name))
            .collect(Collectors.toSet());
    return new TablesDelta.RowsDelta(
        columns,
        mayBeNull,
        compared,
        counts[0],
        counts[1],
        counts[2],
        new TablesDelta.Source() {
          @Override
          public TablesDelta.Changes open() {
            return new Changes(from, comparison, n, key, decided);
          }

          @Override
          public LongValues longValues() {
            return longValues;
          }
        });
  }

  private static boolean mayBeNull(@Nullable TableStructure table, String column) {
    return table != null && table.column(column).filter(c -> !c.notNull()).isPresent();
  }

  /** Row changes out of the files, class by class; a run keeps it, so it holds little else. */
  private static final class Changes implements TablesDelta.Changes {
    private final ComparisonFiles files;
    private final String id;
    private final int component;
    private final ComponentKey key;
    private final Decided decided;
    private final List<Difference> classes =
        new ArrayList<>(
            List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED, Difference.CONFLICT));
    private ComparisonFiles.@Nullable Reader reader;

    Changes(ComparisonFiles files, String id, int component, ComponentKey key, Decided decided) {
      this.files = files;
      this.id = id;
      this.decided = decided;
      this.component = component;
      this.key = key;
    }

    @Override
    public TablesDelta.@Nullable RowChange next() {
      while (true) {
        if (reader == null) {
          if (classes.isEmpty()) {
            return null;
          }
          reader = files.read(id, component, classes.remove(0), 0);
        }
        RowDifference row = reader.next();
        if (row == null) {
          close();
        } else {
          Difference act = decided.act(key, row);
          if (act.writes()) {
            return new TablesDelta.RowChange(act, row.present(), becomes(decided, key, row));
          }
        }
      }
    }

    @Override
    public void close() {
      if (reader != null) {
        reader.close();
        reader = null;
      }
    }
  }
}
