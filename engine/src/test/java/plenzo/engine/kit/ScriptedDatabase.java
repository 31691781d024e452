package plenzo.engine.kit;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.RowSum;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.CanonicalValue;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Delta;
import plenzo.core.target.Doors;
import plenzo.core.target.Extension;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.Probe;
import plenzo.core.target.Question;
import plenzo.core.target.RunMark;
import plenzo.core.target.RunSeen;
import plenzo.core.target.Scratch;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesConnector;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;

/**
 * Databases in memory, one an address. Rows are kept by key; a switch compares, writes and marks in
 * one act, like a real one.
 */
public final class ScriptedDatabase implements TablesConnector {
  private final Map<String, Base> bases = new HashMap<>();

  /** One database. */
  public static final class Base {
    public final Script script;
    public final Marks marks = new Marks();

    /** What happens at places of its own. */
    public final Script copies = new Script();

    final Map<TableName, TableStructure> tables = new TreeMap<>(byName());
    final Map<TableName, TreeMap<String, Map<String, @Nullable String>>> rows =
        new TreeMap<>(byName());
    final Map<TableName, Long> ids = new HashMap<>();
    final List<Uncarried> uncarried = new ArrayList<>();
    final Map<ComponentKey, SchemaObject> objects = new TreeMap<>();
    final Set<Long> prepared = new TreeSet<>();

    /** How many sessions accounts have there. */
    public final Map<String, Integer> inside = new TreeMap<>();

    /** Accounts that are kept out. */
    public final Set<String> out = new TreeSet<>();

    /** Whether sessions may be ended. */
    public boolean endable = true;

    /** What scratch places do not have. */
    public List<String> lacking = List.of();

    /** What runs left there. */
    public final List<Leftover> leftovers = new ArrayList<>();

    /** What is said when that which the switch left is looked at. */
    public final List<String> unfinished = new ArrayList<>();

    private final Map<Question.Type, Long> answers = new HashMap<>();
    private final List<Map<String, @Nullable String>> unmet = new ArrayList<>();
    final String instance;
    private final Map<TableName, Map<String, Integer>> numbers = new HashMap<>();
    private int nextNumber = 1;
    private long nextId = 100;

    Base(String instance) {
      this(instance, new Script());
    }

    Base(String instance, Script script) {
      this.script = script;
      this.instance = instance;
    }

    private static java.util.Comparator<TableName> byName() {
      return java.util.Comparator.comparing(TableName::toString);
    }

    /** Deletes a row. */
    public void removeRow(String table, String key) {
      Objects.requireNonNull(rows.get(TableName.of(table))).remove(key);
    }

    /** Makes a table; the first column is its key. */
    public Base table(String name, Column... columns) {
      TableName table = TableName.of(name);
      tables.put(
          table,
          new TableStructure(
              List.of(columns),
              List.of(
                  new plenzo.core.table.Constraint(
                      table.table() + "_pkey",
                      plenzo.core.table.Constraint.Type.PRIMARY,
                      "PRIMARY KEY (" + columns[0].name() + ")",
                      List.of(columns[0].name()),
                      null,
                      List.of())),
              List.of(),
              null));
      rows.put(table, new TreeMap<>());
      ids.put(table, nextId++);
      numbers.remove(table);
      return this;
    }

    /** Puts a row, as somebody else does: values in the order of the column names' given order. */
    public Base row(String table, Map<String, @Nullable String> values) {
      TableName name = TableName.of(table);
      String key = primary(Objects.requireNonNull(tables.get(name)));
      Objects.requireNonNull(rows.get(name))
          .put(String.valueOf(values.get(key)), new LinkedHashMap<>(values));
      return this;
    }

    public void gone(String table, String key) {
      Objects.requireNonNull(rows.get(TableName.of(table))).remove(key);
    }

    public void drop(String table) {
      tables.remove(TableName.of(table));
      rows.remove(TableName.of(table));
      ids.remove(TableName.of(table));
      numbers.remove(TableName.of(table));
    }

    /** Another column takes the place of one; a rename keeps its number and its values. */
    public void column(String table, String old, Column next, boolean renamed) {
      TableName name = TableName.of(table);
      TableStructure was = Objects.requireNonNull(tables.get(name));
      List<Column> columns = new ArrayList<>(was.columns());
      columns.removeIf(c -> c.name().equals(old));
      columns.add(next);
      tables.put(
          name, new TableStructure(columns, was.constraints(), was.indexes(), was.comment()));
      for (Map<String, @Nullable String> row : Objects.requireNonNull(rows.get(name)).values()) {
        String value = row.remove(old);
        row.put(next.name(), renamed ? value : null);
      }
      if (renamed) {
        Map<String, Integer> own = numbers(name, was);
        own.put(next.name(), Objects.requireNonNull(own.remove(old)));
      }
    }

    /** The numbers of a table's columns; one that comes gets its own. */
    private Map<String, Integer> numbers(TableName table, TableStructure is) {
      Map<String, Integer> own = numbers.computeIfAbsent(table, t -> new HashMap<>());
      List<String> names = is.columns().stream().map(Column::name).toList();
      own.keySet().retainAll(names);
      names.forEach(n -> own.computeIfAbsent(n, x -> nextNumber++));
      return own;
    }

    /** Takes a column away. */
    public void without(String table, String column) {
      TableName name = TableName.of(table);
      TableStructure was = Objects.requireNonNull(tables.get(name));
      List<Column> columns = new ArrayList<>(was.columns());
      columns.removeIf(c -> c.name().equals(column));
      tables.put(
          name, new TableStructure(columns, was.constraints(), was.indexes(), was.comment()));
      Objects.requireNonNull(rows.get(name)).values().forEach(row -> row.remove(column));
    }

    /** A table gets another name, and keeps its number, its rows and what works on it. */
    public void rename(String table, String next) {
      rename(new Renaming(Map.of(TableName.of(table), TableName.of(next)), Map.of()));
    }

    public void rename(Renaming names) {
      tables.forEach(this::numbers);
      Map<TableName, TableStructure> all = new HashMap<>(tables);
      tables.clear();
      all.forEach((name, s) -> tables.put(names.named(name), names.of(name, s)));
      moved(rows, names);
      moved(ids, names);
      moved(numbers, names);
      names
          .columns()
          .forEach(
              (table, columns) -> {
                Map<String, Integer> own = numbers.getOrDefault(table, Map.of());
                Map<String, Integer> was = new HashMap<>(own);
                own.clear();
                was.forEach((c, n) -> own.put(columns.getOrDefault(c, c), n));
              });
      List<SchemaObject> there = new ArrayList<>(objects.values());
      objects.clear();
      there.stream().map(o -> o.renamed(names)).forEach(this::object);
      names.columns().forEach((name, columns) -> rename(rows.get(name), columns));
    }

    private static <V> void moved(Map<TableName, V> by, Renaming names) {
      Map<TableName, V> all = new HashMap<>(by);
      by.clear();
      all.forEach((was, v) -> by.put(names.named(was), v));
    }

    /** Two columns get each other's name; each keeps its number and its values. */
    public void exchange(String table, String one, String other) {
      rename(Renaming.ofColumns(Map.of(TableName.of(table), Map.of(one, other, other, one))));
    }

    /** A column comes under a name that another one had. */
    public void again(String table, Column next) {
      column(table, "", next, false);
      numbers.getOrDefault(TableName.of(table), Map.of()).remove(next.name());
    }

    private static void rename(
        @Nullable Map<String, Map<String, @Nullable String>> rows, Map<String, String> names) {
      if (rows != null) {
        rows.values()
            .forEach(
                row -> {
                  Map<String, @Nullable String> was = new HashMap<>(row);
                  row.clear();
                  was.forEach((c, v) -> row.put(names.getOrDefault(c, c), v));
                });
      }
    }

    public void structure(String table, TableStructure next) {
      tables.put(TableName.of(table), next);
    }

    public @Nullable TableStructure structure(String table) {
      return tables.get(TableName.of(table));
    }

    /** Puts a schema object, as somebody else does. */
    public Base object(SchemaObject object) {
      objects.put(object.key(), object);
      return this;
    }

    public @Nullable SchemaObject object(String key) {
      return objects.get(ComponentKey.of(key));
    }

    public void noObject(String key) {
      objects.remove(ComponentKey.of(key));
    }

    List<SchemaObject> objects(String schema) {
      return objects.values().stream().filter(o -> o.name().schema().equals(schema)).toList();
    }

    public Base uncarried(Uncarried thing) {
      uncarried.add(thing);
      return this;
    }

    /** A row that meets no check that comes. */
    public Base unmet(String table, String key) {
      unmet.add(
          Objects.requireNonNull(Objects.requireNonNull(rows.get(TableName.of(table))).get(key)));
      return this;
    }

    private static List<@Nullable String> some(
        Map<String, @Nullable String> row, List<String> columns) {
      List<@Nullable String> out = new ArrayList<>();
      columns.forEach(c -> out.add(row.get(c)));
      return out;
    }

    private boolean leads(Question q, int hop, Map<String, @Nullable String> row) {
      Question.Hop h = q.path().get(hop);
      List<@Nullable String> of = some(row, h.columns());
      return hop == 0
          ? q.given().values().contains(of)
          : Objects.requireNonNull(rows.get(q.path().get(hop - 1).table())).values().stream()
              .anyMatch(next -> some(next, h.referenced()).equals(of) && leads(q, hop - 1, next));
    }

    /** The table whose rows a question counts. */
    private TableName counted(Question q) {
      return q.type() == Question.Type.POINTING
          ? q.path().get(q.path().size() - 1).table()
          : q.table();
    }

    private boolean earlierEqual(Question q, Map<String, @Nullable String> row) {
      for (Map<String, @Nullable String> other :
          Objects.requireNonNull(rows.get(q.table())).values()) {
        if (other == row) {
          return false;
        }
        if (q.columns().stream().allMatch(c -> Objects.equals(other.get(c), row.get(c)))) {
          return true;
        }
      }
      return false;
    }

    /** What the target's engine counts for a sort of question; 0 when nothing is said. */
    public Base answers(Question.Type type, long count) {
      answers.put(type, count);
      return this;
    }

    public @Nullable String value(String table, String key, String column) {
      Map<String, @Nullable String> row =
          Objects.requireNonNull(rows.get(TableName.of(table))).get(key);
      return row == null ? null : row.get(column);
    }

    public Set<String> keys(String table) {
      return Objects.requireNonNull(rows.get(TableName.of(table))).keySet();
    }

    /** Everything that a person would see there, to compare two moments. */
    public String state() {
      Map<String, Object> sorted = new TreeMap<>();
      rows.forEach(
          (table, all) -> all.forEach((key, row) -> sorted.put(table + key, new TreeMap<>(row))));
      return tables + "\n" + sorted + (objects.isEmpty() ? "" : "\n" + objects);
    }

    public boolean prepared() {
      return !prepared.isEmpty();
    }

    static String primary(TableStructure structure) {
      return structure.primaryKey().orElseThrow().columns().get(0);
    }
  }

  public static Column column(String name, String type) {
    return new Column(name, type, name.equals("code"), null, null, null, null, null);
  }

  public Base at(String database) {
    return bases.computeIfAbsent(database, Base::new);
  }

  @Override
  public String sort() {
    return "postgresql";
  }

  @Override
  public Set<Capability> capabilities() {
    return Set.of(Capability.SCRATCH);
  }

  @Override
  public List<Probe> test(Access access, Trial trial) {
    return List.of(new Probe("reach", true, "answers", ""));
  }

  @Override
  public TablesLooking look(Access access) {
    Base base = at(access.database());
    base.script.call(Script.At.LOOK);
    return new Look(base);
  }

  @Override
  public Changing change(Access access) {
    Base base = at(access.database());
    base.script.call(Script.At.CHANGE);
    return new Change(base);
  }

  @Override
  public Scratch scratch(Access access) {
    return new Place(at(access.database()), access);
  }

  @Override
  public List<String> statements(TablesDelta delta) {
    List<String> out = new ArrayList<>();
    out.addAll(delta.renaming().words());
    delta.tables().forEach(t -> out.add("write " + t.table()));
    delta.objects().forEach(o -> out.add(o.act() + " " + o.key()));
    return out;
  }

  private static RowReader reader(
      Base base,
      TableName table,
      List<String> columns,
      int keyColumns,
      List<Question> marks,
      @Nullable Question only) {
    TableStructure structure =
        Optional.ofNullable(base.tables.get(table))
            .orElseThrow(() -> Script.failed("there is no " + table));
    List<String> names = new ArrayList<>(columns);
    List<String> types = new ArrayList<>();
    columns.forEach(n -> types.add(structure.column(n).orElseThrow().type()));
    for (int n = 0; n < marks.size(); n++) {
      names.add(TablesLooking.mark(n));
      types.add("boolean");
    }
    StringBuilder out = new StringBuilder();
    for (Map<String, @Nullable String> row :
        Objects.requireNonNull(base.rows.get(table)).values()) {
      if (only != null && !counts(base, only, row)) {
        continue;
      }
      List<@Nullable String> fields = new ArrayList<>();
      columns.forEach(n -> fields.add(row.get(n)));
      marks.forEach(q -> fields.add(counts(base, q, row) ? "t" : "f"));
      out.append(CanonicalCsv.text(fields)).append('\n');
    }
    return new RowReader(
        new ByteArrayInputStream(out.toString().getBytes(StandardCharsets.UTF_8)),
        new Header(names, types, keyColumns),
        keyColumns > 0);
  }

  /** Whether a question counts a row; of those that need an engine, none. */
  private static boolean counts(Base base, Question q, Map<String, @Nullable String> found) {
    Map<String, @Nullable String> row = q.converted().isEmpty() ? found : new HashMap<>(found);
    q.converted()
        .made()
        .forEach(m -> row.put(m.column(), KitExpression.of(m.from().expression(), found)));
    boolean left =
        q.without().values().stream()
            .anyMatch(tuple -> Base.some(row, q.without().columns()).equals(tuple));
    String value = q.columns().isEmpty() ? null : row.get(q.columns().get(0));
    return !left
        && switch (q.type()) {
          case ROWS -> true;
          case FILLED -> value != null;
          case NULLS -> value == null;
          case NOT_FITTING -> value != null && !fits(q.text().get(0), value);
          case VIOLATING -> base.unmet.contains(row);
          case DUPLICATES -> value != null && base.earlierEqual(q, row);
          case ORPHANS ->
              value != null
                  && !Objects.requireNonNull(base.rows.get(q.path().get(0).table()))
                      .containsKey(value);
          case POINTING -> base.leads(q, q.path().size() - 1, row);
          case CONVERSION_FAILS ->
              q.converted().made().stream()
                  .anyMatch(
                      m -> row.get(m.column()) != null && !fits(m.type(), row.get(m.column())));
          case CONVERSION_EMPTIES ->
              q.converted().made().stream()
                  .anyMatch(
                      m ->
                          row.get(m.column()) == null
                              && m.from().reads().keySet().stream()
                                  .allMatch(r -> found.get(r) != null));
          default -> false;
        };
  }

  private static boolean fits(String type, String value) {
    try {
      CanonicalValue.of(type, value);
      return true;
    } catch (IllegalArgumentException e) {
      return false;
    }
  }

  private static final class Look implements TablesLooking {
    private final Base base;

    Look(Base base) {
      this.base = base;
    }

    @Override
    public List<Leftover> leftovers() {
      return base.leftovers.stream().filter(l -> !place(l.sort())).toList();
    }

    @Override
    public Optional<TargetIdentity> identity() {
      return Optional.ofNullable(base.marks.identity);
    }

    @Override
    public String instance() {
      return base.instance;
    }

    @Override
    public Optional<SemVer> release() {
      return Optional.of(new SemVer("17.2.0"));
    }

    @Override
    public List<RunSeen> runs(int limit) {
      return base.marks.runs(limit);
    }

    @Override
    public LastChange lastChange(ComponentKey key) {
      return new LastChange(null, null);
    }

    @Override
    public List<TableName> tables(String schema) {
      return base.tables.keySet().stream().filter(t -> t.schema().equals(schema)).toList();
    }

    @Override
    public List<SchemaObject> granted(String schema) {
      return base.objects(schema).stream().filter(o -> o.key().kind() == Kind.GRANT).toList();
    }

    @Override
    public List<SchemaObject> objects(String schema) {
      return base.objects(schema).stream().filter(o -> o.key().kind() != Kind.GRANT).toList();
    }

    @Override
    public List<Uncarried> uncarried(String schema) {
      return List.copyOf(base.uncarried);
    }

    @Override
    public Optional<TableCapture> table(TableName table) {
      TableStructure s = base.tables.get(table);
      if (s == null) {
        return Optional.empty();
      }
      return Optional.of(
          new TableCapture(
              table,
              base.ids.getOrDefault(table, 1L),
              s,
              base.numbers(table, s),
              List.of(),
              List.of(),
              /* longValues= */ false));
    }

    @Override
    public RowReader rows(RecordsDefinition records, @Nullable Set<String> columns) {
      List<String> all =
          Objects.requireNonNull(base.tables.get(records.table())).columns().stream()
              .map(Column::name)
              .filter(n -> columns == null || columns.contains(n) || records.key().contains(n))
              .toList();
      return reader(
          base, records.table(), records.ordered(all), records.key().size(), List.of(), null);
    }

    @Override
    public RowReader allRows(TableName table, List<String> key, List<Question> marks) {
      return reader(base, table, keyFirst(table, key), key.size(), marks, null);
    }

    @Override
    public RowReader countedRows(TableName table, List<String> key, Question question) {
      return reader(base, table, keyFirst(table, key), key.size(), List.of(), question);
    }

    private List<String> keyFirst(TableName table, List<String> key) {
      List<String> names = new ArrayList<>(key);
      Objects.requireNonNull(base.tables.get(table)).columns().stream()
          .map(Column::name)
          .filter(n -> !key.contains(n))
          .forEach(names::add);
      return names;
    }

    @Override
    public Question.Answer answer(Question q) {
      if (q.type() == Question.Type.BUILT_ON) {
        return new Question.Answer(
            base.answers.getOrDefault(q.type(), 0L), List.of(), "BUILT_ON " + q.text().get(0));
      }
      if (q.type() == Question.Type.FILLED_EACH) {
        var rows = Objects.requireNonNull(base.rows.get(q.table())).values();
        return new Question.Answer(
            rows.size(),
            q.columns().stream()
                .map(c -> String.valueOf(rows.stream().filter(r -> r.get(c) != null).count()))
                .toList(),
            "");
      }
      long count =
          base.answers.getOrDefault(
              q.type(),
              Objects.requireNonNull(base.rows.get(base.counted(q))).values().stream()
                  .filter(row -> counts(base, q, row))
                  .count());
      return new Question.Answer(count, List.of(), q.type() + " of " + q.table());
    }

    @Override
    public List<@Nullable String> worked(
        TableName table, Question.Made made, Question.Tuples rows) {
      List<@Nullable String> out = new ArrayList<>();
      for (List<@Nullable String> values : rows.values()) {
        Map<String, @Nullable String> row = new HashMap<>();
        for (int n = 0; n < values.size(); n++) {
          row.put(rows.columns().get(n), values.get(n));
        }
        out.add(KitExpression.of(made.from().expression(), row));
      }
      return out;
    }

    @Override
    public List<Inside> sessions(List<String> accounts) {
      return accounts.stream()
          .map(a -> new Inside(a, base.inside.getOrDefault(a, 0)))
          .filter(i -> i.sessions() > 0)
          .toList();
    }

    /** {@code TABLE KEY COLUMN}: one value. */
    @Override
    public String query(String sql) {
      String[] words = sql.split(" ");
      String value = words.length == 3 ? base.value(words[0], words[1], words[2]) : null;
      if (value == null) {
        throw new TargetFailed(
            "The query was refused: " + sql, false, new IllegalArgumentException(sql));
      }
      return "\"" + value + "\"\n";
    }

    @Override
    public void cut() {}

    @Override
    public void close() {}
  }

  private static final class Change implements Changing {
    private final Base base;

    Change(Base base) {
      this.base = base;
    }

    @Override
    public void declare(TargetIdentity identity, String lookingAccount) {
      base.marks.identity = identity;
    }

    @Override
    public void claim() {}

    @Override
    public void maintenance(boolean on, long run, Doors doors, String notice) {
      base.script.call(Script.At.MAINTENANCE);
      if (on) {
        base.out.addAll(doors.names());
      } else {
        base.out.clear();
      }
    }

    @Override
    public void endSessions(Doors doors) {
      if (!base.endable) {
        throw new TargetFailed("Sessions may not be ended", false, new IllegalStateException());
      }
      doors.names().forEach(base.inside::remove);
    }

    @Override
    public void prepare(long run, Delta delta, Watch watch) {
      base.script.call(Script.At.PREPARE);
      base.prepared.add(run);
    }

    @Override
    public void switchOver(RunMark mark, Delta asked, Watch watch) {
      base.script.call(Script.At.SWITCH);
      TablesDelta delta = (TablesDelta) asked;
      List<String> moved = new ArrayList<>();
      Map<TableName, TableStructure> before = new HashMap<>(base.tables);
      base.rename(delta.renaming());
      for (TablesDelta.TableDelta t : delta.tables()) {
        if (!Objects.equals(base.tables.get(t.table()), t.present())) {
          moved.add("table/" + t.table());
        } else if (t.present() != null) {
          t.writes().forEach(rows -> moved(t, rows, moved));
        }
      }
      for (ObjectDelta o : delta.objects()) {
        if (!Objects.equals(base.objects.get(o.key()), o.present())) {
          moved.add(o.key().toString());
        }
      }
      if (!moved.isEmpty()) {
        takeBack(delta, before);
        throw new SwitchRefused(SwitchRefused.Why.MOVED, "What the plan read has moved", moved);
      }
      base.marks.apply(mark);
      try {
        watch.beforeCommit();
      } catch (RuntimeException e) {
        base.marks.takeBack(mark);
        takeBack(delta, before);
        throw e;
      }
      delta.tables().forEach(this::write);
      for (ObjectDelta o : delta.objects()) {
        if (o.result() == null) {
          base.objects.remove(o.key());
        } else {
          base.objects.put(o.key(), o.result());
        }
      }
      base.script.call(Script.At.SWITCHED);
    }

    private void takeBack(TablesDelta delta, Map<TableName, TableStructure> before) {
      base.rename(delta.renaming().inverse());
      base.tables.putAll(before);
    }

    private void moved(TablesDelta.TableDelta t, TablesDelta.RowsDelta rows, List<String> moved) {
      try (TablesDelta.Changes changes = rows.source().open()) {
        for (TablesDelta.RowChange c = changes.next(); c != null; c = changes.next()) {
          Row was = c.present();
          Map<String, @Nullable String> is =
              Objects.requireNonNull(base.rows.get(t.table())).get(key(c));
          boolean same = was == null ? is == null : is != null && same(was, is, rows.compared());
          if (!same) {
            moved.add("records/" + t.table() + " row " + key(c));
          }
        }
      }
    }

    private static boolean same(Row was, Map<String, @Nullable String> is, List<String> compared) {
      return was.header().names().stream()
          .filter(compared::contains)
          .allMatch(n -> Objects.equals(was.get(was.header().position(n)), is.get(n)));
    }

    private static String key(TablesDelta.RowChange c) {
      Row row = c.incoming() == null ? Objects.requireNonNull(c.present()) : c.incoming();
      return String.valueOf(row.get(0));
    }

    private void write(TablesDelta.TableDelta t) {
      TableStructure result = t.result();
      if (result == null) {
        base.tables.remove(t.table());
        base.rows.remove(t.table());
        return;
      }
      base.tables.put(t.table(), result);
      Map<String, Map<String, @Nullable String>> rows =
          base.rows.computeIfAbsent(t.table(), x -> new TreeMap<>());
      base.ids.computeIfAbsent(t.table(), x -> base.nextId++);
      rows.values()
          .forEach(
              r -> {
                Map<String, @Nullable String> was = new HashMap<>(r);
                t.workedOut()
                    .forEach((column, c) -> r.put(column, KitExpression.of(c.expression(), was)));
              });
      rows.values().forEach(r -> r.keySet().removeIf(column -> result.column(column).isEmpty()));
      t.writes().forEach(set -> write(set, rows));
      rows.values()
          .forEach(
              r ->
                  result.columns().stream()
                      .filter(c -> c.notNull() && r.get(c.name()) == null)
                      .forEach(
                          c -> {
                            throw new IllegalStateException("no value in " + c.name());
                          }));
    }

    private static void write(
        TablesDelta.RowsDelta set, Map<String, Map<String, @Nullable String>> rows) {
      try (TablesDelta.Changes changes = set.source().open()) {
        for (TablesDelta.RowChange c = changes.next(); c != null; c = changes.next()) {
          Row in = c.incoming();
          if (c.act() == Difference.REMOVED || in == null) {
            rows.remove(key(c));
            continue;
          }
          Map<String, @Nullable String> row =
              rows.computeIfAbsent(key(c), x -> new LinkedHashMap<>());
          in.header().names().forEach(n -> row.put(n, in.get(in.header().position(n))));
        }
      }
    }

    @Override
    public Settled settle(RunMark mark, List<String> sessions) {
      base.script.call(Script.At.SETTLE);
      return base.marks.settle(mark);
    }

    @Override
    public List<String> finish(long run, Watch watch) {
      base.script.call(Script.At.FINISH);
      return List.copyOf(base.unfinished);
    }

    @Override
    public void discard(long run) {
      base.script.call(Script.At.DISCARD);
      base.prepared.remove(run);
    }

    @Override
    public void clear(Leftover leftover) {
      base.leftovers.remove(leftover);
    }

    @Override
    public String session() {
      return "1@then";
    }

    @Override
    public void abort() {}

    @Override
    public void cut() {}

    @Override
    public void close() {}
  }

  /** Restores what it is given in memory; a place is a database of its own. */
  private final class Place implements Scratch {
    private final Base base;
    private final Access access;
    private @Nullable Base inside;

    Place(Base base, Access access) {
      this.base = base;
      this.access = access;
    }

    private static String name(Scratch.Place place) {
      return "plenzo_"
          + place.sort().name().toLowerCase(java.util.Locale.ROOT)
          + "_"
          + place.number();
    }

    @Override
    public void open(Scratch.Place place, Collection<String> schemas, List<Extension> extensions) {
      base.script.call(Script.At.SCRATCH);
      drop(place);
      Base made = new Base(name(place), base.copies);
      bases.put(made.instance, made);
      inside = made;
      base.leftovers.add(new Leftover(place.sort(), name(place), place.number(), null));
    }

    @Override
    public List<String> lacking() {
      return base.lacking;
    }

    @Override
    public Access inside() {
      return access.of(Objects.requireNonNull(inside).instance);
    }

    @Override
    public List<SchemaObject> objects(String schema) {
      return Objects.requireNonNull(inside).objects(schema);
    }

    @Override
    public List<Restored> restore(List<Source> tables, Collection<SchemaObject> objects) {
      Base into = Objects.requireNonNull(inside);
      objects.forEach(o -> into.objects.put(o.key(), o));
      List<Restored> out = new ArrayList<>();
      for (Source t : tables) {
        TreeMap<String, Map<String, @Nullable String>> rows = new TreeMap<>();
        RowSum sum = new RowSum();
        String key = t.structure().primaryKey().map(k -> k.columns().get(0)).orElse("");
        try (RowReader reader = t.rows().open()) {
          for (Row row = reader.next(); row != null; row = reader.next()) {
            sum.add(row.raw());
            Map<String, @Nullable String> values = new LinkedHashMap<>();
            for (String n : row.header().names()) {
              values.put(n, row.get(row.header().position(n)));
            }
            rows.put(
                key.isEmpty() ? "row " + rows.size() : String.valueOf(values.get(key)), values);
          }
        }
        into.tables.put(t.table(), t.structure());
        into.rows.put(t.table(), rows);
        into.ids.put(t.table(), into.nextId++);
        out.add(new Restored(t.table(), t.structure(), sum.count(), sum.digest()));
      }
      return out;
    }

    @Override
    public List<Leftover> leftovers() {
      return base.leftovers.stream().filter(l -> place(l.sort())).toList();
    }

    @Override
    public void drop(Scratch.Place place) {
      base.script.call(Script.At.DROPPED);
      base.leftovers.removeIf(l -> l.sort() == place.sort() && l.run() == place.number());
      bases.remove(name(place));
    }

    @Override
    public void cut() {}

    @Override
    public void close() {}
  }

  /** What lies beside a database, in one of its own. */
  private static boolean place(Leftover.Sort sort) {
    return sort == Leftover.Sort.SCRATCH || sort == Leftover.Sort.REHEARSAL;
  }

  /** Whether a place in which something was restored or rehearsed is there. */
  public boolean has(String database) {
    return bases.containsKey(database);
  }
}
