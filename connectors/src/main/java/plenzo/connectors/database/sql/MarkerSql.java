package plenzo.connectors.database.sql;

import java.util.List;

/** Statements about the marker that Plenzo keeps in schema plenzo of a target. */
public final class MarkerSql {
  public static final String EXISTS = "SELECT pg_catalog.to_regclass('plenzo.marker') IS NOT NULL";
  public static final String READ = "SELECT service, stage, site, target, since FROM plenzo.marker";
  public static final String WRITE =
      "INSERT INTO plenzo.marker (only_row, service, stage, site, target, since) VALUES (true, ?, ?, ?, ?, ?) ON CONFLICT (only_row) DO UPDATE SET service = excluded.service, stage = excluded.stage, site = excluded.site, target = excluded.target, since = excluded.since";
  public static final String APPLY =
      "INSERT INTO plenzo.run_mark (run, step, attempt, outcome, version, fingerprint, person, anchor, at) VALUES (?, ?, ?, 'applied', ?, ?, ?, ?, pg_catalog.now())";
  public static final String VOID =
      "INSERT INTO plenzo.run_mark (run, step, attempt, outcome, version, fingerprint, person, at) VALUES (?, ?, ?, 'void', ?, ?, ?, pg_catalog.now()) ON CONFLICT (run, step, attempt) DO NOTHING";
  public static final String OUTCOME =
      "SELECT outcome, fingerprint FROM plenzo.run_mark WHERE run = ? AND step = ? AND attempt = ?";

  /** Marks of an earlier Plenzo have no anchor, and their table not even the column. */
  public static final String RUNS =
      "SELECT run, version, fingerprint, pg_catalog.to_jsonb(m) ->> 'anchor' FROM plenzo.run_mark m WHERE outcome = 'applied' ORDER BY run DESC, attempt DESC LIMIT ";

  public static final String RUNS_EXIST =
      "SELECT pg_catalog.to_regclass('plenzo.run_mark') IS NOT NULL";

  /** Whether marks can hold an anchor; the second statement makes it so. */
  public static final String HAS_ANCHOR =
      "SELECT EXISTS (SELECT 1 FROM pg_catalog.pg_attribute WHERE attrelid = 'plenzo.run_mark'::pg_catalog.regclass AND attname = 'anchor')";

  public static final String ADD_ANCHOR = "ALTER TABLE plenzo.run_mark ADD COLUMN anchor text";
  public static final String LEFTOVERS =
      "SELECT c.relname, pg_catalog.pg_total_relation_size(c.oid) FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'plenzo' AND c.relkind = 'r' AND (c.relname LIKE 'stage\\_%' OR c.relname LIKE 'before\\_%' OR c.relname LIKE 'finish\\_%')"
          + " UNION ALL SELECT c.relname, pg_catalog.pg_relation_size(c.oid) FROM pg_catalog.pg_class c WHERE c.relkind = 'i' AND c.relname ~ '"
          + EarlySql.NAME
          + "'";

  /**
   * Databases in which backups were restored and plans rehearsed; the size of one that may not be
   * entered is untold.
   */
  public static final String SCRATCHES =
      "SELECT datname, CASE WHEN pg_catalog.has_database_privilege(oid, 'CONNECT') THEN pg_catalog.pg_database_size(oid) END FROM pg_catalog.pg_database WHERE datname ~ '^plenzo_(scratch|rehearsal)_[0-9]+$' ORDER BY datname";

  /** A session in words; another account's times and purpose are only seen with more rights. */
  public static final String SESSION =
      "'process ' || a.pid || coalesce(' of ' || a.usename, '') || coalesce(' (' || nullif(a.application_name, '') || ')', '') || coalesce(' since ' || pg_catalog.date_trunc('second', a.xact_start), '')";

  /** "Plenzo" in ASCII: the number under which a run claims a database for its session's life. */
  private static final long NUMBER = 0x506c656e7a6fL;

  /** Waits for another claim as long as lock_timeout allows. */
  public static final String CLAIM = "SELECT pg_catalog.pg_advisory_lock(" + NUMBER + ")";

  public static final String CLAIMED_BY =
      "SELECT "
          + SESSION
          + " FROM pg_catalog.pg_locks l JOIN pg_catalog.pg_stat_activity a ON a.pid = l.pid WHERE l.locktype = 'advisory' AND l.granted AND (l.classid::bigint << 32) + l.objid::bigint = "
          + NUMBER
          + " AND l.database = (SELECT oid FROM pg_catalog.pg_database WHERE datname = pg_catalog.current_database())";

  private MarkerSql() {}

  public static List<String> create(String lookingAccount) {
    String account = Sql.name(lookingAccount);
    return List.of(
        "CREATE TABLE IF NOT EXISTS plenzo.marker (only_row boolean PRIMARY KEY CHECK (only_row), service text NOT NULL, stage text NOT NULL, site text NOT NULL, target text NOT NULL, since timestamptz NOT NULL)",
        "CREATE TABLE IF NOT EXISTS plenzo.run_mark (run bigint, step text, attempt integer, outcome text NOT NULL, version text NOT NULL, fingerprint text NOT NULL, person text NOT NULL, anchor text, at timestamptz NOT NULL, PRIMARY KEY (run, step, attempt))",
        "GRANT USAGE ON SCHEMA plenzo TO " + account,
        "GRANT SELECT ON plenzo.marker, plenzo.run_mark TO " + account);
  }

  static final String MAKING = "CREATE DATABASE ";

  /**
   * What scratch places are made of where it is there: an administrator lays it with extensions
   * that their account may not make.
   */
  public static final String TEMPLATE = "plenzo_template";

  public static final String HAS_TEMPLATE =
      "SELECT 1 FROM pg_catalog.pg_database WHERE datname = '"
          + TEMPLATE
          + "' AND datistemplate AND pg_catalog.pg_encoding_to_char(encoding) = 'UTF8'";

  public static String making(String database) {
    return MAKING + Sql.name(database);
  }

  /** Ends sessions of the same account that are still making the database, and waits for that. */
  public static String endMaking(String database) {
    return end(
        "state = 'active' AND pg_catalog.starts_with(query, "
            + Sql.literal(making(database))
            + ")");
  }

  /** Ends the account's own sessions in a database, and waits for that. */
  public static String endSessions(String database) {
    return end("datname = " + Sql.literal(database));
  }

  private static String end(String which) {
    return "SELECT pg_catalog.pg_terminate_backend(pid, 10000) FROM pg_catalog.pg_stat_activity WHERE pid <> pg_catalog.pg_backend_pid() AND usename = current_user AND "
        + which;
  }

  public static String drop(String leftover) {
    return "DROP TABLE IF EXISTS plenzo." + Sql.name(leftover);
  }
}
