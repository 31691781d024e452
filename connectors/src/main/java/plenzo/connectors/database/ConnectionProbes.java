package plenzo.connectors.database;

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
import plenzo.connectors.database.sql.Sql;
import plenzo.core.target.Access;
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
  private final List<Probe> probes = new ArrayList<>();

  ConnectionProbes(
      Access access, Use use, List<String> schemas, @Nullable TargetIdentity expected) {
    this.access = access;
    this.use = use;
    this.schemas = schemas;
    this.expected = expected;
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
      if (use != Use.SCRATCH) {
        probe("identity", () -> identity(c));
      }
      switch (use) {
        case LOOKING ->
            schemas.forEach(schema -> probe("read " + schema, () -> readable(c, schema)));
        case CHANGING -> {
          probe("account", () -> account(c));
          probe("schema plenzo", () -> owned(c, "plenzo"));
          schemas.forEach(schema -> probe("own " + schema, () -> owned(c, schema)));
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
          new Probe(
              "reach and sign-in",
              false,
              String.valueOf(e.getMessage()),
              "Check host, port, database, account and password; a PostgreSQL server of version 14 or newer must answer there"));
    }
    return probes;
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
            ? count + " tables, all readable"
            : usage ? "not readable: " + hidden : "no right to use the schema",
        good
            ? ""
            : "GRANT USAGE ON SCHEMA "
                + Sql.name(schema)
                + " and SELECT ON ALL TABLES IN SCHEMA "
                + Sql.name(schema)
                + " TO "
                + Sql.name(access.account()));
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
          "CREATE SCHEMA " + Sql.name(schema) + " AUTHORIZATION " + Sql.name(access.account()));
    }
    String foreign =
        text(
            c,
            "SELECT string_agg(c.relname, ', ') FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = "
                + literal
                + " AND c.relkind = 'r' AND NOT pg_has_role(c.relowner, 'USAGE')");
    boolean schemaMine =
        text(
                c,
                "SELECT pg_has_role(nspowner, 'USAGE') FROM pg_namespace WHERE nspname = "
                    + literal)
            .equals("t");
    boolean good = schemaMine && foreign.equals("null");
    return new Probe(
        "own " + schema,
        good,
        good
            ? "owned"
            : "owned by " + owner + (foreign.equals("null") ? "" : ", not owned: " + foreign),
        good
            ? ""
            : "ALTER SCHEMA "
                + Sql.name(schema)
                + " OWNER TO "
                + Sql.name(access.account())
                + ", and its tables");
  }

  private Probe createsDatabases(Connection c) throws SQLException {
    boolean good =
        text(c, "SELECT rolcreatedb FROM pg_roles WHERE rolname = current_user").equals("t");
    return new Probe(
        "create databases",
        good,
        good ? "may create databases" : "may not create databases",
        good ? "" : "ALTER ROLE " + Sql.name(access.account()) + " CREATEDB");
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
