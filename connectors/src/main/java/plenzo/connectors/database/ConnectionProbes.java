package plenzo.connectors.database;

import java.security.GeneralSecurityException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.GrantSql;
import plenzo.connectors.database.sql.Sql;
import plenzo.core.target.Access;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.Probe;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/** The connection test: one probe after the other, each with what was measured and what to do. */
final class ConnectionProbes {
  private final Access access;
  private final Use use;
  private final List<String> schemas;
  private final @Nullable TargetIdentity expected;
  private final String reader;
  private final List<Probe> probes = new ArrayList<>();

  ConnectionProbes(Access access, Trial trial) {
    this.access = access;
    this.use = trial.use();
    this.schemas = trial.schemas();
    this.expected = trial.expected();
    this.reader = trial.reader();
  }

  List<Probe> run() {
    long began = System.nanoTime();
    try (Connection c = Sessions.open(access, "test", "30s")) {
      probes.add(
          new Probe(
              "reach and sign-in",
              true,
              access
                  + " answered in "
                  + Duration.ofNanos(System.nanoTime() - began).toMillis()
                  + " ms",
              ""));
      probe("server", () -> server(c));
      probe("state", () -> state(c));
      if (use == Use.LOOKING) {
        probe("read plenzo", () -> markerReadable(c));
      }
      if (use != Use.SCRATCH && entersMarker(c)) {
        probe("identity", () -> identity(c));
      }
      switch (use) {
        case LOOKING ->
            schemas.forEach(schema -> probe("read " + schema, () -> readable(c, schema)));
        case CHANGING -> {
          probe("account", () -> account(c));
          probe("schema plenzo", () -> owned(c, "plenzo"));
          schemas.forEach(schema -> probe("own " + schema, () -> owned(c, schema)));
          if (!reader.isEmpty() && !reader.equals(access.account())) {
            schemas.forEach(schema -> probe("new tables of " + schema, () -> shown(c, schema)));
          }
        }
        case SCRATCH -> probe("create databases", () -> createsDatabases(c));
      }
      probe("space", () -> space(c));
    } catch (SQLException e) {
      probes.add(
          new Probe(
              "session",
              false,
              String.valueOf(e.getMessage()).strip(),
              "Look at the server's log"));
    } catch (TargetFailed | IllegalArgumentException e) {
      probes.add(
          new Probe("reach and sign-in", false, String.valueOf(e.getMessage()), reachAdvice(e)));
    }
    return probes;
  }

  /** What the driver says is told apart by what is to be done about it. */
  private String reachAdvice(RuntimeException e) {
    String said = String.valueOf(e.getMessage());
    Throwable deepest = e;
    while (deepest.getCause() != null && deepest.getCause() != deepest) {
      deepest = deepest.getCause();
    }
    if (said.contains("does not support SSL")) {
      return "Turn TLS on at the server, or, inside a network that you trust, use this connection without it: --tls disable";
    }
    if (said.contains("hostname") && said.contains("verif")) {
      return "The certificate is another name's: correct the host, or name the server's certificate by --authority with --tls require, which believes it whatever its name";
    }
    if (deepest instanceof GeneralSecurityException) {
      return "Nobody whom this machine trusts vouches for the server's certificate: name the authority that signed it, in PEM, by --authority";
    }
    return "Check host, port, database, account and password; a PostgreSQL server of version 14 or newer must answer there";
  }

  /** One measurement. */
  private interface Measure {
    Probe take() throws SQLException;
  }

  private void probe(String name, Measure measure) {
    try {
      probes.add(measure.take());
    } catch (SQLException | TargetFailed e) {
      probes.add(
          new Probe(
              name, false, String.valueOf(e.getMessage()).strip(), "Look at the server's log"));
    }
  }

  private static String text(Connection c, String sql) throws SQLException {
    try (Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      return r.next() ? String.valueOf(r.getString(1)) : "";
    }
  }

  private Probe server(Connection c) throws SQLException {
    int version = Integer.parseInt(text(c, "SHOW server_version_num"));
    String encoding = text(c, "SHOW server_encoding");
    boolean good = version >= 140000 && encoding.equals("UTF8");
    return new Probe(
        "server",
        good,
        "PostgreSQL " + text(c, "SHOW server_version") + ", " + encoding,
        good ? "" : "Plenzo needs PostgreSQL 14 or newer with UTF-8");
  }

  private Probe state(Connection c) throws SQLException {
    boolean recovery = text(c, "SELECT pg_is_in_recovery()").equals("t");
    boolean readOnly = text(c, "SHOW default_transaction_read_only").equals("on");
    long drift =
        Math.abs(
            Duration.between(
                    Instant.now(),
                    Instant.ofEpochMilli(
                        (long)
                            (Double.parseDouble(
                                    text(c, "SELECT extract(epoch FROM clock_timestamp())"))
                                * 1000)))
                .toSeconds());
    boolean good = !recovery && !(readOnly && use == Use.CHANGING);
    return new Probe(
        "state",
        good,
        (recovery ? "in recovery" : readOnly ? "read-only by default" : "takes changes")
            + ", clock differs by "
            + drift
            + " s",
        good ? "" : "Connect to the primary server");
  }

  private static boolean entersMarker(Connection c) throws SQLException {
    return !text(c, GrantSql.MARKER_SCHEMA).equals("f");
  }

  /** Until the schema is there nothing is to be read; the changing account's test asks for it. */
  private Probe markerReadable(Connection c) throws SQLException {
    String enters = text(c, GrantSql.MARKER_SCHEMA);
    boolean good = !enters.equals("f");
    return new Probe(
        "read plenzo",
        good,
        good
            ? enters.isEmpty() ? "there is no schema plenzo yet" : "the marker can be read"
            : "no right to use the schema plenzo, so who this database is cannot be read",
        good ? "" : GrantSql.usage("plenzo", access.account()));
  }

  private Probe identity(Connection c) {
    Optional<TargetIdentity> found = PostgresLooking.identity(c, access);
    if (found.isEmpty()) {
      return new Probe("identity", true, "no marker yet", "");
    }
    TargetIdentity is = found.get();
    if (expected == null || expected.isMarkedAs(is)) {
      return new Probe("identity", true, "says it is " + is.shown(), "");
    }
    String who =
        is.service().equals(expected.service()) ? is.shown() : is.shown() + " of another Plenzo";
    return new Probe(
        "identity",
        false,
        "This database says it is "
            + who
            + " since "
            + is.since().toString().substring(0, 10)
            + ", not "
            + expected.shown(),
        "Wrong address, or a copy? Correct the address, or have the marker in schema plenzo of the copy removed");
  }

  private Probe readable(Connection c, String schema) throws SQLException {
    String literal = Sql.literal(schema).strip();
    if (text(c, "SELECT 1 FROM pg_namespace WHERE nspname = " + literal).isEmpty()) {
      return new Probe(
          "read " + schema,
          false,
          "there is no schema " + schema,
          "Create it, or correct the application's schema");
    }
    String hidden =
        text(
            c,
            "SELECT string_agg(c.relname, ', ') FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
                + literal
                + " AND c.relkind IN ('r','p') AND NOT has_table_privilege(c.oid, 'SELECT')");
    boolean usage = text(c, "SELECT has_schema_privilege(" + literal + ", 'USAGE')").equals("t");
    String count =
        text(
            c,
            "SELECT count(*) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
                + literal
                + " AND c.relkind IN ('r','p')");
    boolean good = usage && hidden.equals("null");
    return new Probe(
        "read " + schema,
        good,
        good
            ? (count.equals("1") ? "1 table, readable" : count + " tables, all readable")
            : usage ? "not readable: " + hidden : "no right to use the schema",
        good ? "" : GrantSql.read(schema, !usage, !hidden.equals("null"), access.account()));
  }

  private Probe account(Connection c) throws SQLException {
    String too =
        text(
            c,
            "SELECT concat_ws(', ', CASE WHEN rolsuper THEN 'superuser' END, CASE WHEN rolreplication THEN 'replication' END, CASE WHEN rolbypassrls THEN 'bypassrls' END,"
                + " CASE WHEN pg_has_role('pg_execute_server_program', 'MEMBER') THEN 'pg_execute_server_program' END, CASE WHEN pg_has_role('pg_read_server_files', 'MEMBER') THEN 'pg_read_server_files' END,"
                + " CASE WHEN pg_has_role('pg_write_server_files', 'MEMBER') THEN 'pg_write_server_files' END) FROM pg_roles WHERE rolname = current_user");
    return new Probe(
        "account",
        too.isEmpty(),
        too.isEmpty() ? "no more rights than needed" : "too powerful: " + too,
        too.isEmpty()
            ? ""
            : "Use an account that owns the application's schemas and the schema plenzo, no more");
  }

  private Probe owned(Connection c, String schema) throws SQLException {
    String literal = Sql.literal(schema).strip();
    String owner =
        text(c, "SELECT pg_get_userbyid(nspowner) FROM pg_namespace WHERE nspname = " + literal);
    if (owner.isEmpty()) {
      return new Probe(
          "own " + schema,
          false,
          "there is no schema " + schema,
          GrantSql.schema(schema, access.account()));
    }
    List<String> foreign =
        texts(
            c,
            "SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
                + literal
                + " AND c.relkind = 'r' AND NOT pg_has_role(c.relowner, 'USAGE') ORDER BY 1");
    boolean schemaMine =
        text(
                c,
                "SELECT pg_has_role(nspowner, 'USAGE') FROM pg_namespace WHERE nspname = "
                    + literal)
            .equals("t");
    boolean good = schemaMine && foreign.isEmpty();
    return new Probe(
        "own " + schema,
        good,
        good
            ? "owned"
            : "owned by "
                + owner
                + (foreign.isEmpty() ? "" : ", not owned: " + String.join(", ", foreign)),
        good ? "" : GrantSql.own(schema, !schemaMine, foreign, access.account()));
  }

  /** Whether the looking account will see what a run makes; else the run cannot be read back. */
  private Probe shown(Connection c, String schema) throws SQLException {
    boolean good = text(c, GrantSql.seesNewTables(schema, reader)).equals("t");
    return new Probe(
        "new tables of " + schema,
        good,
        good
            ? "read by " + reader + " too"
            : reader + " may not read tables that this account will make",
        good ? "" : GrantSql.newTables(schema, access.account(), reader));
  }

  private static List<String> texts(Connection c, String sql) throws SQLException {
    List<String> out = new ArrayList<>();
    try (Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      while (r.next()) {
        out.add(r.getString(1));
      }
    }
    return out;
  }

  private Probe createsDatabases(Connection c) throws SQLException {
    boolean good =
        text(c, "SELECT rolcreatedb FROM pg_roles WHERE rolname = current_user").equals("t");
    return new Probe(
        "create databases",
        good,
        good ? "may create databases" : "may not create databases",
        good ? "" : GrantSql.createDatabases(access.account()));
  }

  private Probe space(Connection c) throws SQLException {
    return new Probe(
        "space",
        true,
        "the database takes "
            + text(c, "SELECT pg_size_pretty(pg_database_size(current_database()))"),
        "");
  }
}
