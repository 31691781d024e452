package plenzo.connectors.database;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.target.Rows;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetContract;

class PostgresContractTest extends TargetContract {
  private static final TableName BAND = TableName.of("fares.band");
  private static final Header COLUMNS =
      new Header(List.of("code", "amount"), List.of("text", "numeric(6,2)"), 1);
  private static EmbeddedPostgres server;

  private final PostgresConnector connector = new PostgresConnector();

  @BeforeAll
  static void start() throws Exception {
    server = TestServer.start("contract");
    sql("CREATE ROLE owner LOGIN PASSWORD 'x'; CREATE ROLE looker LOGIN PASSWORD 'x'");
  }

  @AfterAll
  static void stop() throws Exception {
    if (server != null) {
      server.close();
    }
  }

  @BeforeEach
  void table() throws SQLException {
    sql(
        "DROP SCHEMA IF EXISTS fares CASCADE; DROP SCHEMA IF EXISTS plenzo CASCADE;"
            + " CREATE SCHEMA fares AUTHORIZATION owner; CREATE SCHEMA plenzo AUTHORIZATION owner;"
            + " GRANT USAGE ON SCHEMA fares TO looker; SET ROLE owner;"
            + " CREATE TABLE fares.band (code text PRIMARY KEY, amount numeric(6,2));"
            + " INSERT INTO fares.band VALUES ('PEAK', 1.00); GRANT SELECT ON fares.band TO looker");
  }

  private static void sql(String sql) throws SQLException {
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement()) {
      s.execute(sql);
    }
  }

  @Override
  protected Connector connector() {
    return connector;
  }

  private static Access access(String account) {
    return new Access("127.0.0.1", server.getPort(), "postgres", account, "disable", "x");
  }

  @Override
  protected Access looking() {
    return access("looker");
  }

  @Override
  protected Access changing() {
    return access("owner");
  }

  @Override
  protected Delta to(String value) {
    TableStructure present;
    try (TablesLooking looking = connector.look(looking())) {
      present = looking.table(BAND).orElseThrow().structure();
    }
    TablesDelta.RowChange change =
        new TablesDelta.RowChange(
            Difference.CHANGED,
            Row.of(COLUMNS, List.of("PEAK", held())),
            Row.of(COLUMNS, List.of("PEAK", value)));
    return new TablesDelta(
        List.of(
            TablesDelta.TableDelta.of(
                BAND, present, present, Rows.of(COLUMNS, COLUMNS.names(), List.of(change)))),
        List.of());
  }

  @Override
  protected String held() {
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery("SELECT amount FROM fares.band WHERE code = 'PEAK'")) {
      r.next();
      return r.getString(1);
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }

  @Override
  protected void write(String value) {
    try {
      sql("UPDATE fares.band SET amount = " + value + " WHERE code = 'PEAK'");
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }
}
