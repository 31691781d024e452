package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import plenzo.connectors.database.sql.EarlySql;
import plenzo.connectors.database.sql.MarkerSql;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.StageSql;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Delta;
import plenzo.core.target.Doors;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunMark;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/** The changing account's session: staging, the switch, settling. */
final class PostgresChanging implements Changing {
  /** Rows between two reports of progress (guess: several a second). */
  private static final int REPORT_EVERY = 2000;

  private final Access access;
  private final Connection connection;

  PostgresChanging(Access access) {
    this.access = access;
    this.connection = Sessions.open(access, "changing", "1h");
  }

  private TargetFailed failed(String what, SQLException e) {
    return Sessions.failed(what + " in " + access, e);
  }

  @Override
  public void declare(TargetIdentity identity, String lookingAccount) {
    try (Statement s = connection.createStatement()) {
      for (String sql : MarkerSql.create(lookingAccount)) {
        s.execute(sql);
      }
      try (PreparedStatement p = connection.prepareStatement(MarkerSql.WRITE)) {
        p.setString(1, identity.service());
        p.setString(2, identity.stage());
        p.setString(3, identity.site());
        p.setString(4, identity.target());
        p.setTimestamp(5, Timestamp.from(identity.since()));
        p.executeUpdate();
      }
    } catch (SQLException e) {
      throw failed("Cannot write the marker", e);
    }
  }

  @Override
  public void claim() {
    try (Statement s = connection.createStatement()) {
      s.execute(MarkerSql.CLAIM);
    } catch (SQLException e) {
      if ("55P03".equals(e.getSQLState())) {
        throw new SwitchRefused(
            SwitchRefused.Why.LOCKED, "Another run works on this database", claimedBy());
      }
      throw failed("Cannot claim the database", e);
    }
  }

  private List<String> claimedBy() {
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(MarkerSql.CLAIMED_BY)) {
      List<String> out = new ArrayList<>();
      while (r.next()) {
        out.add(r.getString(1));
      }
      return out;
    } catch (SQLException e) {
      throw failed("Cannot read who claimed the database", e);
    }
  }

  @Override
  public void prepare(long run, Delta asked, Watch watch) {
    TablesDelta delta = (TablesDelta) asked;
    discard(run);
    anchors();
    long done = 0;
    List<TablesDelta.Staged> staged = delta.staged();
    String mark = "";
    for (int n = 0; n < staged.size(); n++) {
      TablesDelta.RowsDelta rows = staged.get(n).rows();
      String stage = StageSql.name(run, n);
      try (Statement s = connection.createStatement()) {
        mark = mark.isEmpty() ? LongLoading.mark(connection) : mark;
        s.execute(StageSql.create(stage, rows.columns()));
        LongStaging longOnes =
            new LongStaging(
                connection,
                rows,
                staged.get(n).table(),
                delta.renaming(),
                StageSql.parts(run, n),
                mark);
        done = load(stage, rows, longOnes, watch, done);
        longOnes.fill(stage);
        s.execute("ANALYZE " + stage);
      } catch (SQLException e) {
        throw failed(
            "Cannot put the rows for " + staged.get(n).table().table() + " beside the present ones",
            e);
      }
    }
    before(run, delta, watch);
  }

  private void before(long run, TablesDelta delta, Watch watch) {
    try {
      new BesideWork(connection, run).before(delta, watch);
    } catch (SQLException e) {
      if (watch.abortAsked().getAsBoolean()) {
        throw new SwitchRefused(SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
      }
      throw failed("Cannot build an index before the switch", e);
    }
  }

  @Override
  public List<String> finish(long run, Watch watch) {
    try {
      return new BesideWork(connection, run).finish(watch);
    } catch (SQLException e) {
      throw failed("What run " + run + " left to be looked at could not be looked at", e);
    }
  }

  /** Marks that were made by an earlier Plenzo get a place for the history's head. */
  private void anchors() {
    try (Statement s = connection.createStatement()) {
      try (ResultSet r = s.executeQuery(MarkerSql.HAS_ANCHOR)) {
        r.next();
        if (r.getBoolean(1)) {
          return;
        }
      }
      s.execute(MarkerSql.ADD_ANCHOR);
    } catch (SQLException e) {
      throw failed("Cannot prepare the marker", e);
    }
  }

  private long load(
      String stage, TablesDelta.RowsDelta rows, LongStaging longOnes, Watch watch, long before)
      throws SQLException {
    long done = before;
    try (TablesDelta.Changes changes = rows.source().open();
        CopyLines lines =
            new CopyLines(
                connection.unwrap(PGConnection.class).getCopyAPI().copyIn(RowsSql.copyIn(stage)))) {
      TablesDelta.RowChange change = changes.next();
      while (change != null) {
        lines.add(staged(rows.columns(), change, longOnes));
        if (++done % REPORT_EVERY == 0) {
          watch.rows(done);
          if (watch.abortAsked().getAsBoolean()) {
            throw new SwitchRefused(SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
          }
        }
        change = changes.next();
      }
      lines.end();
    }
    watch.rows(done);
    return done;
  }

  private static byte[] staged(Header columns, TablesDelta.RowChange change, LongStaging longOnes) {
    List<@Nullable String> next = new ArrayList<>();
    List<@Nullable String> expected = new ArrayList<>();
    Row keyed = change.incoming() == null ? change.present() : change.incoming();
    for (int i = 0; i < columns.names().size(); i++) {
      String name = columns.names().get(i);
      String is = value(change.present(), name);
      next.add(
          longOnes.next(i, value(i < columns.keyColumns() ? keyed : change.incoming(), name), is));
      expected.add(longOnes.expected(is));
    }
    List<@Nullable String> fields = new ArrayList<>();
    fields.add(change.act().code());
    if (StageSql.isPacked(columns)) {
      fields.add(list(next));
      fields.add(list(expected));
    } else {
      for (int i = 0; i < next.size(); i++) {
        fields.add(next.get(i));
        fields.add(expected.get(i));
      }
    }
    return CanonicalCsv.line(fields);
  }

  /** Texts as the server reads a list of them. */
  private static String list(List<@Nullable String> texts) {
    return texts.stream()
        .map(t -> t == null ? "NULL" : "\"" + t.replace("\\", "\\\\").replace("\"", "\\\"") + "\"")
        .collect(java.util.stream.Collectors.joining(",", "{", "}"));
  }

  private static @Nullable String value(@Nullable Row row, String name) {
    int position = row == null ? -1 : row.header().position(name);
    return row == null || position < 0 ? null : row.get(position);
  }

  @Override
  public void switchOver(RunMark mark, Delta asked, Watch watch) {
    TablesDelta delta = (TablesDelta) asked;
    new SwitchTransaction(connection, access).run(mark, delta, watch);
  }

  @Override
  public Settled settle(RunMark mark, List<String> sessions) {
    try (PreparedStatement p = connection.prepareStatement(MarkerSql.VOID)) {
      Sessions.patience(connection, Duration.ofSeconds(60));
      p.setLong(1, mark.run());
      p.setString(2, mark.step());
      p.setInt(3, mark.attempt());
      p.setString(4, mark.version());
      p.setString(5, mark.fingerprint());
      p.setString(6, mark.person());
      for (int attempt = 1; ; attempt++) {
        try {
          p.executeUpdate();
          break;
        } catch (SQLException e) {
          // 55P03: the old session still holds the key; end it by the process id and start it had
          if (!"55P03".equals(e.getSQLState()) || attempt >= 5) {
            throw e;
          }
          terminate(sessions);
        }
      }
      try (PreparedStatement q = connection.prepareStatement(MarkerSql.OUTCOME)) {
        q.setLong(1, mark.run());
        q.setString(2, mark.step());
        q.setInt(3, mark.attempt());
        try (ResultSet r = q.executeQuery()) {
          r.next();
          if (!r.getString(2).equals(mark.fingerprint())) {
            return Settled.ANOTHER;
          }
          return r.getString(1).equals("applied") ? Settled.APPLIED : Settled.VOID;
        }
      }
    } catch (SQLException e) {
      throw failed("Cannot settle run " + mark.run(), e);
    }
  }

  private void terminate(List<String> sessions) throws SQLException {
    for (String session : sessions) {
      String[] parts = session.split("@", 2);
      try (PreparedStatement s =
          connection.prepareStatement(
              "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid = ? AND backend_start = ?::timestamptz")) {
        s.setInt(1, Integer.parseInt(parts[0]));
        s.setString(2, parts[1]);
        s.executeQuery().close();
      }
    }
  }

  @Override
  public void maintenance(boolean on, long run, Doors doors, String notice) {
    try {
      if (on) {
        new Doorkeeper(connection).shut(run, doors);
      } else {
        new Doorkeeper(connection).open();
      }
    } catch (SQLException e) {
      throw failed(on ? "Cannot keep accounts out" : "Cannot let accounts in", e);
    }
  }

  @Override
  public void endSessions(Doors doors) {
    try {
      new Doorkeeper(connection).end(doors);
    } catch (SQLException e) {
      throw failed("Cannot end sessions (the account needs the role pg_signal_backend)", e);
    }
  }

  @Override
  public void discard(long run) {
    try (Statement s = connection.createStatement()) {
      for (Leftover l : Leftovers.tables(connection)) {
        if (l.run() == run && l.sort() == Leftover.Sort.PREPARED && isStage(l)) {
          s.execute(MarkerSql.drop(l.name()));
        }
      }
      new BesideWork(connection, run).discard();
    } catch (SQLException e) {
      throw failed("Cannot discard what run " + run + " prepared", e);
    }
  }

  @Override
  public void clear(Leftover leftover) {
    try (Statement s = connection.createStatement()) {
      if (isEarly(leftover)) {
        new BesideWork(connection, leftover.run()).discard();
      } else if (Leftovers.tables(connection).stream()
          .anyMatch(l -> l.name().equals(leftover.name()))) {
        s.execute(MarkerSql.drop(leftover.name()));
      }
    } catch (SQLException e) {
      throw failed("Cannot clear " + leftover.name(), e);
    }
  }

  /**
   * What a switch left to be looked at is there only when it was committed, and is still needed.
   */
  private static boolean isStage(Leftover l) {
    return !isEarly(l) && !l.name().startsWith(EarlySql.FINISH);
  }

  private static boolean isEarly(Leftover l) {
    return l.name().matches(EarlySql.NAME);
  }

  @Override
  public String session() {
    try (Statement s = connection.createStatement();
        ResultSet r =
            s.executeQuery(
                "SELECT pid || '@' || backend_start FROM pg_stat_activity WHERE pid = pg_backend_pid()")) {
      r.next();
      return r.getString(1);
    } catch (SQLException e) {
      throw failed("Cannot read the session's id", e);
    }
  }

  @Override
  public void abort() {
    try {
      connection.unwrap(PGConnection.class).cancelQuery();
    } catch (SQLException e) {
      throw failed("Cannot stop the statement", e);
    }
  }

  @Override
  public void cut() {
    Sessions.cut(connection);
  }

  @Override
  public void close() {
    try {
      connection.close();
    } catch (SQLException e) {
      throw failed("Cannot close the session", e);
    }
  }
}
