package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.EarlySql;
import plenzo.connectors.database.sql.Sql;
import plenzo.core.component.TableName;
import plenzo.core.locking.Beside;
import plenzo.core.locking.Beside.Early;
import plenzo.core.locking.Beside.Late;
import plenzo.core.target.Changing.Watch;
import plenzo.core.target.TablesDelta;

/**
 * What a run does in a database beside running work: indexes before its switch, under names of its
 * own that no structure shows, and after it a look at constraints that came.
 */
final class BesideWork {
  /** How long a transaction of others is waited for; then the index is built in the switch. */
  private static final Duration PATIENCE = Duration.ofSeconds(60);

  /** Others hold what is asked for. */
  private static final String HELD = "55P03";

  /** Indexes for the engine's own looking are numbered from here on. */
  private static final int HELPING = 1000;

  private final Connection connection;
  private final long run;
  private final Duration patience;

  BesideWork(Connection connection, long run) {
    this(connection, run, PATIENCE);
  }

  BesideWork(Connection connection, long run, Duration patience) {
    this.connection = connection;
    this.run = run;
    this.patience = patience;
  }

  /** Builds what can be built before. */
  void before(TablesDelta delta, Watch watch) throws SQLException {
    List<Early> early = Beside.indexes(delta);
    for (int n = 0; n < early.size(); n++) {
      Early e = early.get(n);
      if (bytes(e.table()) >= Beside.INDEX_BYTES) {
        build(e.statement(Sql.name(EarlySql.name(run, n))), "it is built in the switch", watch);
      }
    }
    int n = HELPING;
    Map<TableName, Long> going = new HashMap<>();
    delta.staged().stream()
        .filter(s -> s.table().present() != null && s.table().result() != null)
        .forEach(s -> going.merge(s.table().table(), s.rows().removed(), Long::sum));
    for (Map.Entry<TableName, Long> t : going.entrySet()) {
      for (Searched s : t.getValue() == 0 ? List.<Searched>of() : searched(t.getKey())) {
        if (s.owned() && t.getValue() * s.bytes() >= Beside.SEARCHED_BYTES) {
          build(
              EarlySql.helping(run, n++, s.table(), s.columns()),
              "the switch goes without it",
              watch);
        }
      }
    }
  }

  private record Searched(TableName table, List<String> columns, long bytes, boolean owned) {}

  private List<Searched> searched(TableName table) throws SQLException {
    List<Searched> out = new ArrayList<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(EarlySql.unindexed(table))) {
      while (r.next()) {
        out.add(
            new Searched(
                new TableName(r.getString(1), r.getString(2)),
                CatalogReader.texts(r.getArray("columns")),
                r.getLong("bytes"),
                r.getBoolean("owned")));
      }
    }
    return out;
  }

  private void build(String sql, String otherwise, Watch watch) throws SQLException {
    watch.say(sql);
    Sessions.waiting(connection, patience);
    try (Statement s = connection.createStatement()) {
      s.execute(sql);
    } catch (SQLException e) {
      if (!HELD.equals(e.getSQLState())) {
        throw e;
      }
      watch.say(
          "Transactions of others did not end within "
              + patience.toSeconds()
              + " seconds, so "
              + otherwise);
    } finally {
      if (!connection.isClosed()) {
        Sessions.waiting(connection, Sessions.WAITING);
      }
    }
  }

  /** One whose table somebody works with stays, and is listed as left over until it can go. */
  private void drop(String schema, String name) throws SQLException {
    try (Statement s = connection.createStatement()) {
      s.execute(EarlySql.drop(schema, name));
    } catch (SQLException e) {
      if (!HELD.equals(e.getSQLState())) {
        throw e;
      }
    }
  }

  private long bytes(TableName table) throws SQLException {
    try (PreparedStatement s = connection.prepareStatement(EarlySql.BYTES)) {
      s.setString(1, Sql.name(table));
      try (ResultSet r = s.executeQuery()) {
        r.next();
        return r.getLong(1);
      }
    }
  }

  /**
   * What the switch says in place of building an index that stands already, by the statement that
   * would build it.
   */
  Map<String, String> built(TablesDelta delta) throws SQLException {
    List<Early> early = Beside.indexes(delta);
    Map<String, String> out = new HashMap<>();
    if (early.isEmpty()) {
      return out;
    }
    List<String> whole = new ArrayList<>();
    for (Index i : all()) {
      if (i.whole()) {
        whole.add(i.name());
      }
    }
    for (int n = 0; n < early.size(); n++) {
      Early e = early.get(n);
      String name = EarlySql.name(run, n);
      if (whole.contains(name)) {
        out.put(
            e.index().definition(), EarlySql.rename(e.table().schema(), name, e.index().name()));
      }
    }
    return out;
  }

  /** Constraints that come to tables which are too large to look at while they are held. */
  List<Late> late(TablesDelta delta) throws SQLException {
    List<Late> out = new ArrayList<>();
    for (Late l : Beside.constraints(delta)) {
      long bytes = 0;
      for (TableName t : l.reads()) {
        bytes += bytes(t);
      }
      if (bytes >= Beside.CHECK_BYTES) {
        out.add(l);
      }
    }
    List<Beside.Filled> filled = Beside.filled(delta);
    for (int n = 0; n < filled.size(); n++) {
      Beside.Filled f = filled.get(n);
      if (bytes(f.table()) >= Beside.CHECK_BYTES) {
        out.add(new Late(f.table(), f.by(EarlySql.filled(run, n)), f.column()));
      }
    }
    return out;
  }

  /** Remembers them in the switch itself, so that a kill forgets none. */
  void leave(List<Late> late) throws SQLException {
    if (late.isEmpty()) {
      return;
    }
    try (Statement s = connection.createStatement()) {
      s.execute(EarlySql.createFinish(run));
      for (Late l : late) {
        s.execute(
            EarlySql.leave(
                run,
                l.table(),
                l.constraint().name(),
                l.filled() == null ? null : l.filled().name()));
      }
    }
  }

  private record Index(String schema, String name, boolean whole) {}

  private List<Index> all() throws SQLException {
    List<Index> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(EarlySql.OF_RUN)) {
      s.setString(1, EarlySql.names(run));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(new Index(r.getString(1), r.getString(2), r.getBoolean(3)));
        }
      }
    }
    return out;
  }

  /** Takes away every index that still has a name of the run's own. */
  void discard() throws SQLException {
    for (Index i : all()) {
      drop(i.schema(), i.name());
    }
  }

  /** Looks at what the switch left; what does not hold, or cannot be looked at, is told. */
  List<String> finish(Watch watch) throws SQLException {
    List<String> troubles = new ArrayList<>();
    discard();
    for (Index i : all()) {
      troubles.add(
          "The index "
              + i.name()
              + " that the run built for itself is still there, as its table is held by others; clear it later: plenzo site left-over, then plenzo site clear");
    }
    if (!isLeft()) {
      return troubles;
    }
    for (Named k : left()) {
      String sql = EarlySql.validate(k.table(), k.constraint());
      String then = k.column() == null ? "" : EarlySql.fill(k.table(), k.constraint(), k.column());
      watch.say(sql);
      try (Statement s = connection.createStatement()) {
        s.execute(sql);
        if (!then.isEmpty()) {
          watch.say(then);
          // one transaction: a kill leaves all of it to be done again, or nothing
          s.execute(then + "; " + EarlySql.done(run, k.constraint()));
        }
      } catch (SQLException e) {
        if (e.getSQLState() == null || e.getSQLState().startsWith("08")) {
          throw e;
        }
        troubles.add(
            (k.column() == null ? k.constraint() : "That " + k.column() + " is filled")
                + (k.column() == null ? " of " : " in ")
                + k.table()
                + " holds for what is written from now on; whether it holds for all rows that were there is not known: "
                + String.valueOf(e.getMessage()).strip()
                + ". Put the rows right, then: "
                + sql
                + (then.isEmpty() ? "" : "; " + then));
      }
    }
    try (Statement s = connection.createStatement()) {
      s.execute("DROP TABLE " + EarlySql.finish(run));
    }
    return troubles;
  }

  private record Named(TableName table, String constraint, @Nullable String column) {}

  private List<Named> left() throws SQLException {
    List<Named> out = new ArrayList<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(EarlySql.left(run))) {
      while (r.next()) {
        out.add(
            new Named(
                new TableName(r.getString(1), r.getString(2)), r.getString(3), r.getString(4)));
      }
    }
    return out;
  }

  private boolean isLeft() throws SQLException {
    try (PreparedStatement s = connection.prepareStatement(EarlySql.EXISTS)) {
      s.setString(1, EarlySql.finish(run));
      try (ResultSet r = s.executeQuery()) {
        r.next();
        return r.getBoolean(1);
      }
    }
  }
}
