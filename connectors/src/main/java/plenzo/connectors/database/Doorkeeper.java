package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import plenzo.connectors.database.sql.DoorSql;
import plenzo.core.target.Doors;
import plenzo.core.target.TargetFailed;

/**
 * Keeps accounts out of a database by taking from them the right to connect, all in one
 * transaction, and remembers in the database whom it kept out. What they may otherwise stays.
 */
final class Doorkeeper {
  private final Connection connection;

  Doorkeeper(Connection connection) {
    this.connection = connection;
  }

  /**
   * @throws TargetFailed when somebody would still come in: nothing is changed then
   */
  void shut(long run, Doors doors) throws SQLException {
    together(
        s -> {
          s.execute(DoorSql.TABLE);
          for (String account : doors.names()) {
            shut(s, run, account);
          }
        });
  }

  private interface Work {
    void in(Statement s) throws SQLException;
  }

  /** All of it in one transaction, or nothing. */
  private void together(Work work) throws SQLException {
    boolean alone = connection.getAutoCommit();
    connection.setAutoCommit(false);
    try (Statement s = connection.createStatement()) {
      work.in(s);
      connection.commit();
    } catch (SQLException | TargetFailed e) {
      connection.rollback();
      throw e;
    } finally {
      connection.setAutoCommit(alone);
    }
  }

  private void shut(Statement s, long run, String account) throws SQLException {
    try (PreparedStatement p = connection.prepareStatement(DoorSql.ACCOUNT)) {
      p.setString(1, account);
      try (ResultSet r = p.executeQuery()) {
        if (!r.next()) {
          throw refused(account, "There is no account " + account + " that could be kept out");
        }
        if (r.getBoolean(1)) {
          throw refused(account, "Plenzo's own account " + account + " cannot be kept out");
        }
      }
    }
    if (!enters(account)) {
      return; // it was out before: nobody lets it in afterwards
    }
    s.execute(DoorSql.shut(connection.getCatalog(), account));
    if (enters(account)) {
      throw refused(
          account,
          account
              + " would still come in, by what everybody or another role may, or because another account let it in. Once: "
              + DoorSql.advice(connection.getCatalog(), account));
    }
    try (PreparedStatement p = connection.prepareStatement(DoorSql.REMEMBER)) {
      p.setString(1, account);
      p.setLong(2, run);
      p.executeUpdate();
    }
  }

  private static TargetFailed refused(String account, String why) {
    return new TargetFailed(why, /* notReachable= */ false, new IllegalStateException(account));
  }

  private boolean enters(String account) throws SQLException {
    try (PreparedStatement p = connection.prepareStatement(DoorSql.ENTERS)) {
      p.setString(1, account);
      try (ResultSet r = p.executeQuery()) {
        r.next();
        return r.getBoolean(1);
      }
    }
  }

  /** Lets in whomever it kept out, by whichever run. */
  void open() throws SQLException {
    together(
        s -> {
          for (String account : kept(s)) {
            s.execute(DoorSql.open(connection.getCatalog(), account));
            try (PreparedStatement p = connection.prepareStatement(DoorSql.FORGET)) {
              p.setString(1, account);
              p.executeUpdate();
            }
          }
        });
  }

  private static List<String> kept(Statement s) throws SQLException {
    List<String> out = new ArrayList<>();
    try (ResultSet there = s.executeQuery(DoorSql.EXISTS)) {
      there.next();
      if (!there.getBoolean(1)) {
        return out;
      }
    }
    try (ResultSet r = s.executeQuery(DoorSql.SHUT)) {
      while (r.next()) {
        out.add(r.getString(1));
      }
    }
    return out;
  }

  void end(Doors doors) throws SQLException {
    try (Statement s = connection.createStatement()) {
      s.executeQuery(DoorSql.end(doors.names())).close();
    }
  }
}
