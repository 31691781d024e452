package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.MarkerSql;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.Sql;
import plenzo.connectors.database.sql.StageSql;
import plenzo.connectors.database.sql.StructureSql;
import plenzo.connectors.database.sql.SwitchSql;
import plenzo.core.component.TableName;
import plenzo.core.locking.Beside;
import plenzo.core.locking.Hold;
import plenzo.core.locking.Locks;
import plenzo.core.records.Header;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.NeededSequences;
import plenzo.core.table.Renaming;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing.Watch;
import plenzo.core.target.RunMark;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/**
 * The one transaction that changes a database, in the order that keeps it true: marker, locks,
 * compare, before-images, structure, rows, constraints, sequences, read back, COMMIT. It refuses,
 * having changed nothing, or commits whole; when the connection breaks, what happened is unknown
 * until settled.
 */
final class SwitchTransaction {
  private static final int MAX_SHOWN = 20;

  private final Connection connection;
  private final Access access;
  private Alone alone = Alone.of(List.of());
  private List<Beside.Late> late = List.of();

  SwitchTransaction(Connection connection, Access access) {
    this.connection = connection;
    this.access = access;
  }

  void run(RunMark mark, TablesDelta delta, Watch watch) {
    boolean committing = false;
    try {
      connection.setTransactionIsolation(Connection.TRANSACTION_READ_COMMITTED);
      connection.setAutoCommit(false);
      alone = Sessions.alone(connection).and(delta.parents());
      mark(mark);
      lock(delta, watch);
      if (!delta.objects().isEmpty()) {
        stop(new ObjectsKept(connection, delta).moved());
      }
      compare(mark.run(), delta, watch);
      write(mark.run(), delta, watch);
      readBack(mark.run(), delta, watch);
      watch.beforeCommit();
      committing = true;
      connection.commit();
      connection.setAutoCommit(true);
    } catch (SQLException e) {
      boolean lost =
          e.getSQLState() == null
              || e.getSQLState().startsWith("08")
              || e.getSQLState().startsWith("57P");
      if (committing || lost) {
        throw Sessions.failed("The switch was under way in " + access, e);
      }
      rollBack();
      if (watch.abortAsked().getAsBoolean()) {
        throw new SwitchRefused(SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
      }
      if ("55P03".equals(e.getSQLState())) {
        throw new SwitchRefused(
            SwitchRefused.Why.LOCKED, "The tables are locked by others", holders(delta));
      }
      throw new SwitchRefused(
          SwitchRefused.Why.REFUSED,
          "The database refused a statement: " + String.valueOf(e.getMessage()).strip(),
          List.of());
    } catch (RuntimeException e) {
      rollBack();
      throw e;
    }
  }

  private void rollBack() {
    try {
      connection.rollback();
      connection.setAutoCommit(true);
    } catch (SQLException e) {
      throw Sessions.failed("The switch could not be rolled back in " + access, e);
    }
  }

  private void mark(RunMark mark) throws SQLException {
    try (PreparedStatement p = connection.prepareStatement(MarkerSql.APPLY)) {
      p.setLong(1, mark.run());
      p.setString(2, mark.step());
      p.setInt(3, mark.attempt());
      p.setString(4, mark.version());
      p.setString(5, mark.fingerprint());
      p.setString(6, mark.person());
      p.setString(7, mark.anchor() == null ? null : mark.anchor().text());
      p.executeUpdate();
    }
  }

  private void execute(String sql) throws SQLException {
    try (Statement s = connection.createStatement()) {
      s.execute(alone.in(sql));
    }
  }

  /**
   * All locks at once in one fixed order, the strongest first known, so that two runs cannot wait
   * for each other.
   */
  private void lock(TablesDelta delta, Watch watch) throws SQLException {
    Map<TableName, Hold> holds = Locks.of(delta, t -> isTable(delta.renaming().before(t))).holds();
    for (Map.Entry<TableName, Hold> h : holds.entrySet()) {
      TableName now = delta.renaming().before(h.getKey());
      execute("LOCK TABLE " + Sql.name(now) + " IN " + h.getValue().mode() + " MODE");
    }
    watch.say(
        holds.isEmpty()
            ? "No table to lock"
            : "Locked "
                + holds.keySet().stream()
                    .map(t -> delta.renaming().before(t).toString())
                    .collect(Collectors.joining(", ")));
  }

  private boolean isTable(TableName name) {
    try {
      return new CatalogReader(connection).isTable(name);
    } catch (SQLException e) {
      throw Sessions.failed("Whether " + name + " is a table cannot be read in " + access, e);
    }
  }

  private List<String> holders(TablesDelta delta) {
    List<String> out = new ArrayList<>();
    try (PreparedStatement p =
        connection.prepareStatement(
            "SELECT DISTINCT "
                + MarkerSql.SESSION
                + " FROM pg_locks l JOIN pg_stat_activity a ON a.pid = l.pid JOIN pg_class c ON c.oid = l.relation JOIN pg_namespace n ON n.oid = c.relnamespace WHERE l.granted AND l.pid <> pg_backend_pid() AND n.nspname = ? AND c.relname = ?")) {
      for (TablesDelta.TableDelta t : delta.tables()) {
        TableName now = delta.renaming().before(t.table());
        p.setString(1, now.schema());
        p.setString(2, now.table());
        try (ResultSet r = p.executeQuery()) {
          while (r.next()) {
            out.add(now + " is held by " + r.getString(1));
          }
        }
      }
    } catch (SQLException e) {
      out.add("Who holds them could not be read: " + e.getMessage());
    }
    return out;
  }

  /**
   * Tables by their names of afterwards, as the plan saw them; without those that are not there.
   */
  private static Map<TableName, TableStructure> seen(CatalogReader catalog, TablesDelta delta)
      throws SQLException {
    Renaming names = delta.renaming();
    Map<TableName, TableName> now = new HashMap<>();
    delta.tables().stream()
        .map(TablesDelta.TableDelta::table)
        .filter(t -> !names.isAway(t))
        .forEach(t -> now.put(names.before(t), t));
    Map<TableName, TableStructure> out = new HashMap<>();
    catalog
        .some(now.keySet())
        .forEach(
            (was, t) ->
                out.put(Objects.requireNonNull(now.get(was)), names.of(was, t.structure())));
    return out;
  }

  /** Structures before anything gets its new name, rows after it. */
  private void compare(long run, TablesDelta delta, Watch watch) throws SQLException {
    CatalogReader catalog = new CatalogReader(connection);
    List<String> moved = new ArrayList<>();
    Set<TableName> changed = new HashSet<>();
    Map<TableName, TableStructure> seen = seen(catalog, delta);
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (!Objects.equals(seen.get(t.table()), t.present())) {
        moved.add("table/" + t.table() + ": its structure is not the one that the plan read");
        changed.add(t.table());
      }
    }
    if (!delta.renaming().isEmpty()) {
      stop(moved);
      each(new SwitchSql(delta, n -> "").renames(), watch);
    }
    ownersRows(delta, TablesDelta.TableDelta::present, "NO FORCE");
    List<TablesDelta.Staged> staged = delta.staged();
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.TableDelta t = staged.get(n).table();
      if (t.present() != null && !changed.contains(t.table())) {
        rowsMoved(t, staged.get(n).rows(), StageSql.name(run, n), moved);
      }
    }
    stop(moved);
    watch.say("Everything the plan touches is as the plan read it");
  }

  /**
   * Row security that holds for the owner too would keep rows from this session, which looks at and
   * writes all of them. Nobody else sees it off: the table is locked until it is on again.
   */
  private void ownersRows(
      TablesDelta delta,
      Function<TablesDelta.TableDelta, @Nullable TableStructure> structure,
      String verb)
      throws SQLException {
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableStructure is = structure.apply(t);
      if (is != null
          && !t.writes().isEmpty()
          && is.setting(Setting.OWNERS_ROW_SECURITY).isPresent()) {
        execute("ALTER TABLE " + Sql.name(t.table()) + " " + verb + " ROW LEVEL SECURITY");
      }
    }
  }

  private static void stop(List<String> moved) {
    if (!moved.isEmpty()) {
      throw new SwitchRefused(SwitchRefused.Why.MOVED, "What the plan read has moved", moved);
    }
  }

  private void rowsMoved(
      TablesDelta.TableDelta t, TablesDelta.RowsDelta rows, String stage, List<String> moved)
      throws SQLException {
    Map<String, String> types =
        Objects.requireNonNull(t.present()).columns().stream()
            .collect(Collectors.toMap(Column::name, Column::type));
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(alone.in(RowsSql.moved(t.table(), types, rows, stage)))) {
      while (r.next() && moved.size() < MAX_SHOWN) {
        moved.add("records/" + t.table() + " row " + r.getString(1) + ": " + r.getString(2));
      }
    }
  }

  private List<Column> columns(TableName table) throws SQLException {
    return new CatalogReader(connection)
        .table(table)
        .map(t -> t.structure().columns())
        .orElse(List.of());
  }

  private void write(long run, TablesDelta delta, Watch watch) throws SQLException {
    List<TablesDelta.Staged> staged = delta.staged();
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.Staged s = staged.get(n);
      if (s.table().present() != null) {
        execute("DROP TABLE IF EXISTS " + RowsSql.before(run, n));
        execute(
            RowsSql.keepBefore(
                s.table().table(),
                s.table().present().columns(),
                s.rows(),
                StageSql.name(run, n),
                RowsSql.before(run, n)));
      }
    }
    for (int n = 0; n < delta.reached().size(); n++) {
      TablesDelta.Reached r = delta.reached().get(n);
      Header header = staged.get(r.from()).rows().columns();
      String before = RowsSql.before(run, staged.size() + n);
      execute("DROP TABLE IF EXISTS " + before);
      execute(
          RowsSql.keepReached(r, columns(r.table()), header, StageSql.name(run, r.from()), before));
    }
    SwitchSql structure = new SwitchSql(delta, n -> StageSql.name(run, n));
    BesideWork beside = new BesideWork(connection, run);
    ObjectsKept objects = new ObjectsKept(connection, delta);
    objects.remember();
    if (!delta.objects().isEmpty()) {
      // a body may name what comes later, and is looked up by whoever runs it
      execute("SET LOCAL check_function_bodies = off");
    }
    each(structure.before(), watch);
    long done = 0;
    Set<Integer> early = structure.early();
    for (int n = staged.size() - 1; n >= 0; n--) {
      if (early.contains(n)) {
        done += staged.get(n).rows().removed();
        continue;
      }
      done = rows(run, staged.get(n), n, "removed", RowsSql::delete, watch, done);
    }
    // what rows of a table point at is there before they are written
    for (int n = 0; n < staged.size(); n++) {
      Header columns = staged.get(n).rows().columns();
      if (columns.names().size() > columns.keyColumns()) {
        done = rows(run, staged.get(n), n, "changed", RowsSql::update, watch, done);
      }
      done = rows(run, staged.get(n), n, "added", RowsSql::insert, watch, done);
    }
    execute("SET CONSTRAINTS ALL IMMEDIATE");
    late = beside.late(delta);
    beside.leave(late);
    each(instead(structure.after(), beside.built(delta), late), watch);
    objects.restore().forEach(watch::say);
    for (TablesDelta.TableDelta t : delta.tables()) {
      sequences(t);
      shared(t);
    }
  }

  /** An index that stands already gets its name; what is looked at afterwards is only agreed on. */
  private static List<String> instead(
      List<String> statements, Map<String, String> built, List<Beside.Late> late) {
    Map<String, String> other = new HashMap<>(built);
    for (Beside.Late l : late) {
      Column filled = l.filled();
      other.put(
          filled == null
              ? StructureSql.adding(l.table(), l.constraint())
              : StructureSql.filling(l.table(), filled.name()),
          StructureSql.adding(l.table(), Beside.unproven(l.constraint())));
    }
    return statements.stream().map(sql -> other.getOrDefault(sql, sql)).toList();
  }

  /** The table as the switch leaves it, before it is finished. */
  private @Nullable TableStructure left(TablesDelta.TableDelta t) {
    TableStructure is = t.result();
    List<Beside.Late> own = late.stream().filter(l -> l.table().equals(t.table())).toList();
    if (is == null || own.isEmpty()) {
      return is;
    }
    List<Constraint> open = own.stream().map(Beside.Late::constraint).toList();
    List<Column> filled = own.stream().map(Beside.Late::filled).filter(Objects::nonNull).toList();
    List<Constraint> constraints =
        new ArrayList<>(
            is.constraints().stream().map(k -> open.contains(k) ? Beside.unproven(k) : k).toList());
    own.stream()
        .filter(l -> l.filled() != null)
        .forEach(l -> constraints.add(Beside.unproven(l.constraint())));
    return new TableStructure(
        is.columns().stream().map(c -> filled.contains(c) ? c.withoutNotNull() : c).toList(),
        constraints,
        is.indexes(),
        is.comment(),
        is.places(),
        is.settings());
  }

  private void each(List<String> statements, Watch watch) throws SQLException {
    for (String sql : alone.in(statements)) {
      watch.say(sql);
      execute(sql);
    }
  }

  /** Builds the statement that writes rows of one sort. */
  private interface Write {
    String sql(TableName table, TablesDelta.RowsDelta rows, String stage);
  }

  private long rows(
      long run, TablesDelta.Staged staged, int n, String act, Write write, Watch watch, long before)
      throws SQLException {
    TablesDelta.TableDelta t = staged.table();
    TablesDelta.RowsDelta rows = staged.rows();
    long expected =
        switch (act) {
          case "removed" -> rows.removed();
          case "changed" -> rows.changed();
          default -> rows.added();
        };
    if (expected == 0 || t.result() == null) {
      return before;
    }
    String sql = alone.in(write.sql(t.table(), rows, StageSql.name(run, n)));
    try (Statement s = connection.createStatement()) {
      long written = s.executeLargeUpdate(sql);
      if (written != expected) {
        throw new SwitchRefused(
            SwitchRefused.Why.NOT_AS_PLANNED,
            "Of "
                + t.table()
                + ", "
                + Words.count(expected, "row")
                + " should be "
                + act
                + " and "
                + written
                + (written == 1 ? " was" : " were"),
            List.of("records/" + t.table()));
      }
      watch.say(
          "records/" + t.table() + ": " + written + (written == 1 ? " row " : " rows ") + act);
      watch.rows(before + written);
      return before + written;
    }
  }

  private static boolean writes(TablesDelta.TableDelta t, Column c) {
    return t.writes().stream()
        .anyMatch(
            rows -> rows.added() + rows.changed() > 0 && rows.columns().position(c.name()) >= 0);
  }

  /** Whether the column gets its sequence now: rows that are there have numbers already. */
  private static boolean begins(TablesDelta.TableDelta t, Column c) {
    return t.present() != null
        && t.present()
            .column(c.name())
            .filter(was -> !Objects.equals(was.sequence(), c.sequence()))
            .isPresent();
  }

  /**
   * Moves each owned sequence forward to at least the highest value; inside the transaction, unlike
   * setval.
   */
  private void sequences(TablesDelta.TableDelta t) throws SQLException {
    if (t.result() == null) {
      return;
    }
    for (Column c : t.result().columns()) {
      if (c.sequence() == null || !writes(t, c) && !begins(t, c)) {
        continue;
      }
      forward(
          t.table(), c.name(), Sql.name(t.table().schema()) + "." + Sql.name(c.sequence().name()));
    }
  }

  /**
   * A sequence goes on behind what is there, in the direction in which it counts; one of which
   * every number is behind what is there already stays.
   */
  private void forward(TableName table, String column, String sequence) throws SQLException {
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(RowsSql.ahead(table, column, sequence))) {
      r.next();
      String next = r.getString(1);
      if (next != null) {
        execute("ALTER SEQUENCE " + sequence + " RESTART WITH " + next);
      }
    }
  }

  /** The same for sequences that no column owns and that a default of the table draws from. */
  private void shared(TablesDelta.TableDelta t) throws SQLException {
    if (t.result() == null) {
      return;
    }
    for (Map.Entry<String, String> e : NeededSequences.of(t.result()).byColumn().entrySet()) {
      Column c = t.result().column(e.getKey()).orElseThrow();
      boolean draws =
          t.present() == null
              || t.present()
                  .column(c.name())
                  .filter(was -> Objects.equals(was.defaultExpression(), c.defaultExpression()))
                  .isEmpty();
      if (writes(t, c) || draws) {
        String name = e.getValue();
        int dot = name.indexOf('.');
        TableName sequence =
            dot < 0
                ? new TableName(t.table().schema(), name)
                : new TableName(name.substring(0, dot), name.substring(dot + 1));
        forward(t.table(), c.name(), Sql.name(sequence));
      }
    }
  }

  private void readBack(long run, TablesDelta delta, Watch watch) throws SQLException {
    CatalogReader catalog = new CatalogReader(connection);
    List<String> wrong = new ArrayList<>();
    Set<TableName> other = new HashSet<>();
    Map<TableName, TableCapture> there =
        catalog.some(delta.tables().stream().map(TablesDelta.TableDelta::table).toList());
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableCapture found = there.get(t.table());
      TableStructure now = found == null ? null : found.structure();
      TableStructure planned = left(t);
      if (!Objects.equals(now, planned)) {
        other.add(t.table());
        wrong.add(
            "table/"
                + t.table()
                + ": the structure is not the planned one"
                + differing(now, planned));
      }
    }
    ownersRows(delta, TablesDelta.TableDelta::result, "NO FORCE");
    List<TablesDelta.Staged> staged = delta.staged();
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.TableDelta t = staged.get(n).table();
      if (t.result() != null && !other.contains(t.table())) {
        String sql =
            alone.in(RowsSql.notAsPlanned(t.table(), staged.get(n).rows(), StageSql.name(run, n)));
        try (Statement s = connection.createStatement();
            ResultSet r = s.executeQuery(sql)) {
          r.next();
          if (r.getLong(1) > 0) {
            wrong.add(
                "records/"
                    + t.table()
                    + ": "
                    + Words.count(r.getLong(1), "row")
                    + (r.getLong(1) == 1 ? " is" : " are")
                    + " not as planned");
          }
        }
      }
    }
    ownersRows(delta, TablesDelta.TableDelta::result, "FORCE");
    if (!delta.objects().isEmpty()) {
      wrong.addAll(new ObjectsKept(connection, delta).notAsPlanned());
    }
    if (!wrong.isEmpty()) {
      throw new SwitchRefused(
          SwitchRefused.Why.NOT_AS_PLANNED, "What was read back is not what was planned", wrong);
    }
    watch.say("Read back: everything is as planned");
  }

  private static String differing(@Nullable TableStructure now, @Nullable TableStructure planned) {
    if (now == null || planned == null) {
      return "";
    }
    return around(now.canonical(), planned.canonical());
  }

  /** Both texts where they begin to differ. */
  static String around(String a, String b) {
    int i = 0;
    while (i < Math.min(a.length(), b.length()) && a.charAt(i) == b.charAt(i)) {
      i++;
    }
    int from = Math.max(0, i - 40);
    return " (there: …"
        + a.substring(from, Math.min(a.length(), i + 40))
        + "…, planned: …"
        + b.substring(from, Math.min(b.length(), i + 40))
        + "…)";
  }
}
