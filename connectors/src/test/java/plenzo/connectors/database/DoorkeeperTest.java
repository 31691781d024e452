package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Doors;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;

/** Accounts are kept out of a real database and let in again, exactly those. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class DoorkeeperTest {
  private static final Doors DESK = new Doors(List.of("desk", "odd \"one\""), false);

  private EmbeddedPostgres server;
  private final PostgresConnector connector = new PostgresConnector();

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("doors");
    sql("postgres", "CREATE ROLE changer LOGIN PASSWORD 'x'");
    for (String role : List.of("looker", "desk", "\"odd \"\"one\"\"\"", "other", "guest")) {
      sql("postgres", "CREATE ROLE " + role + " LOGIN PASSWORD 'x'");
    }
    sql("postgres", "CREATE ROLE staff; GRANT staff TO guest");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void world() throws SQLException {
    sql("postgres", "DROP DATABASE IF EXISTS ferry WITH (FORCE)");
    sql("postgres", "CREATE DATABASE ferry OWNER changer");
    sql("postgres", "REVOKE CONNECT ON DATABASE ferry FROM PUBLIC");
    sql(
        "postgres",
        "SET ROLE changer; GRANT CONNECT ON DATABASE ferry TO looker, desk, \"odd \"\"one\"\"\", other, staff");
    sql("ferry", "CREATE SCHEMA plenzo AUTHORIZATION changer");
  }

  private void sql(String database, String sql) throws SQLException {
    try (Connection c = server.getDatabase("postgres", database).getConnection();
        Statement s = c.createStatement()) {
      s.execute(sql);
    }
  }

  private Connection as(String account) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/ferry", account, "x");
  }

  private boolean comesIn(String account) {
    try (Connection c = as(account)) {
      return c.isValid(5);
    } catch (SQLException e) {
      assertThat(e.getMessage()).contains("permission denied for database");
      return false;
    }
  }

  /** Who may connect, as the server's catalogue has it. */
  private String rights() throws SQLException {
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement();
        ResultSet r =
            s.executeQuery(
                "SELECT string_agg(a::text, ' ' ORDER BY a::text) FROM pg_database, unnest(datacl) a WHERE datname = 'ferry'")) {
      r.next();
      return r.getString(1);
    }
  }

  private Access access(String account) {
    return new Access("127.0.0.1", server.getPort(), "ferry", account, "disable", "x");
  }

  private void shut(long run, Doors doors) {
    try (Changing session = connector.change(access("changer"))) {
      session.maintenance(true, run, doors, "Back soon");
    }
  }

  private void open() {
    try (Changing session = connector.change(access("changer"))) {
      session.maintenance(false, 7, Doors.NONE, "");
    }
  }

  @Test
  void exactlyThoseAreKeptOutAndLetInAgainAsTheyWere() throws SQLException {
    String before = rights();

    shut(7, DESK);
    shut(7, DESK); // a service that was killed asks again

    assertThat(comesIn("desk")).isFalse();
    assertThat(comesIn("odd \"one\"")).isFalse();
    assertThat(comesIn("other")).isTrue();
    assertThat(comesIn("looker")).isTrue();

    open();
    open();

    assertThat(comesIn("desk")).isTrue();
    assertThat(comesIn("odd \"one\"")).isTrue();
    assertThat(rights()).isEqualTo(before);
  }

  @Test
  void whoWasOutBeforeIsNotLetInAfterwards() throws SQLException {
    sql("postgres", "SET ROLE changer; REVOKE CONNECT ON DATABASE ferry FROM desk");

    shut(7, DESK);
    open();

    assertThat(comesIn("desk")).isFalse();
    assertThat(comesIn("odd \"one\"")).isTrue();
  }

  @Test
  void whereSomebodyWouldStillComeInNobodyIsKeptOutAndItIsSaid() throws SQLException {
    assertThatThrownBy(() -> shut(7, new Doors(List.of("desk", "guest"), false)))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("guest would still come in")
        .hasMessageContaining("REVOKE CONNECT ON DATABASE \"ferry\" FROM PUBLIC");
    assertThat(comesIn("desk")).as("nothing was changed").isTrue();

    assertThatThrownBy(() -> shut(7, new Doors(List.of("desk", "postgres"), false)))
        .hasMessageContaining("postgres would still come in");
    assertThatThrownBy(() -> shut(7, new Doors(List.of("nobody"), false)))
        .hasMessageContaining("no account nobody");
    assertThatThrownBy(() -> shut(7, new Doors(List.of("changer"), false)))
        .hasMessageContaining("Plenzo's own account");
    assertThat(comesIn("desk")).isTrue();
  }

  @Test
  void sessionsAreCountedByAnybodyAndEndedWhereThatIsAllowed() throws SQLException {
    try (Connection one = as("desk");
        Connection two = as("desk");
        Connection other = as("other")) {
      shut(7, DESK);
      try (TablesLooking looking = connector.look(access("looker"))) {
        assertThat(looking.sessions(DESK.names()))
            .extracting(TablesLooking.Inside::words)
            .containsExactly("2 sessions of desk");
        assertThat(looking.sessions(List.of())).isEmpty();
      }
      try (Changing session = connector.change(access("changer"))) {
        assertThatThrownBy(() -> session.endSessions(DESK))
            .hasMessageContaining("pg_signal_backend");
      }
      assertThat(one.isValid(5)).isTrue();

      sql("postgres", "GRANT pg_signal_backend TO changer");
      try (Changing session = connector.change(access("changer"))) {
        session.endSessions(DESK);
      } finally {
        sql("postgres", "REVOKE pg_signal_backend FROM changer");
      }

      assertThat(one.isValid(5)).isFalse();
      assertThat(two.isValid(5)).isFalse();
      assertThat(other.isValid(5)).isTrue();
    }
  }
}
