package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.StringWriter;
import java.sql.Connection;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.postgresql.PGConnection;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.CanonicalValue;

/** What core takes for the server's text of a value is the server's. */
class CanonicalValueServerTest {
  private static EmbeddedPostgres server;
  private static Connection connection;

  @BeforeAll
  static void start() throws Exception {
    server = TestServer.start("canonical");
    connection = server.getPostgresDatabase().getConnection();
    try (Statement s = connection.createStatement()) {
      s.execute("SET TimeZone = 'UTC'; SET DateStyle = 'ISO, MDY'");
    }
  }

  @AfterAll
  static void stop() throws Exception {
    if (connection != null) {
      connection.close();
    }
    if (server != null) {
      server.close();
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "smallint | +07",
        "integer | -0",
        "bigint | 9223372036854775807",
        "numeric(6,2) | 3",
        "numeric(6,2) | 3.500",
        "numeric(6,2) | 1e3",
        "numeric(6,2) | -0",
        "numeric(6,2) | 0.1",
        "numeric(6,2) | nan",
        "numeric(3,0) | 12.",
        "numeric(3,-2) | 300",
        "numeric(2,4) | 0.0012",
        "numeric | 3.10",
        "numeric | 1e3",
        "numeric | 1.50e1",
        "numeric | .5",
        "numeric | 1e-7",
        "numeric | infinity",
        "boolean | TRUE",
        "boolean | off",
        "boolean | 1",
        "uuid | {A0EEBC99-9C0B-4EF8-BB6D-6BB9BD380A11}",
        "uuid | a0eebc999c0b4ef8bb6d6bb9bd380a11",
        "bytea | \\xAB01",
        "date | 2026-02-28",
        "date | -infinity",
        "time without time zone | 06:30",
        "time(2) without time zone | 06:30:01.250",
        "timestamp without time zone | 2026-04-01T06:30",
        "timestamp without time zone | 2026-04-01 06:30:00.500",
        "timestamp without time zone | infinity",
        "timestamp with time zone | 2026-04-01 06:30:00+02",
        "timestamp with time zone | 2026-01-01T00:30:00+05:30",
        "timestamp(3) without time zone | 2026-04-01 06:30:00.123",
        "character varying(3) | abc",
        "character(4) | ab",
      })
  void isTheServers(String type, String text) throws Exception {
    StringWriter out = new StringWriter();
    connection
        .unwrap(PGConnection.class)
        .getCopyAPI()
        .copyOut(
            "COPY (SELECT '" + text + "'::" + type + ") TO STDOUT (FORMAT csv, FORCE_QUOTE *)",
            out);

    assertThat(CanonicalCsv.text(java.util.List.of(CanonicalValue.of(type, text))) + "\n")
        .isEqualTo(out.toString());
  }
}
