package plenzo.connectors.database.sql;

import java.util.List;
import java.util.stream.Collectors;

/** Statements that keep accounts out of a database and let them in again. */
public final class DoorSql {
  public static final String TABLE =
      "CREATE TABLE IF NOT EXISTS plenzo.door (account text PRIMARY KEY, run bigint NOT NULL, since timestamptz NOT NULL)";
  public static final String EXISTS = "SELECT pg_catalog.to_regclass('plenzo.door') IS NOT NULL";
  public static final String SHUT = "SELECT account FROM plenzo.door ORDER BY account";
  public static final String REMEMBER =
      "INSERT INTO plenzo.door (account, run, since) VALUES (?, ?, pg_catalog.now()) ON CONFLICT (account) DO NOTHING";
  public static final String FORGET = "DELETE FROM plenzo.door WHERE account = ?";
  public static final String ACCOUNT =
      "SELECT rolname::text = current_user FROM pg_catalog.pg_roles WHERE rolname = ?";

  /** Whether an account may enter the database now, however it came to that. */
  public static final String ENTERS =
      "SELECT pg_catalog.has_database_privilege(?, pg_catalog.current_database(), 'CONNECT')";

  private DoorSql() {}

  public static String shut(String database, String account) {
    return "REVOKE CONNECT ON DATABASE " + Sql.name(database) + " FROM " + Sql.name(account);
  }

  public static String open(String database, String account) {
    return "GRANT CONNECT ON DATABASE " + Sql.name(database) + " TO " + Sql.name(account);
  }

  private static String listed(List<String> accounts) {
    return accounts.stream().map(Sql::literal).collect(Collectors.joining(", ", "(", ")"));
  }

  /** How many sessions each of these accounts has in the database. */
  public static String sessions(List<String> accounts) {
    return "SELECT usename::text, pg_catalog.count(*) FROM pg_catalog.pg_stat_activity WHERE datname = pg_catalog.current_database() AND usename::text IN "
        + listed(accounts)
        + " GROUP BY usename ORDER BY usename";
  }

  public static String end(List<String> accounts) {
    return "SELECT pg_catalog.pg_terminate_backend(pid) FROM pg_catalog.pg_stat_activity WHERE pid <> pg_catalog.pg_backend_pid() AND datname = pg_catalog.current_database() AND usename::text IN "
        + listed(accounts);
  }

  /** What a database's administrator has to say so that an account can be kept out. */
  public static String advice(String database, String account) {
    return "REVOKE CONNECT ON DATABASE "
        + Sql.name(database)
        + " FROM PUBLIC; GRANT CONNECT ON DATABASE "
        + Sql.name(database)
        + " TO "
        + Sql.name(account)
        + ", and to every other account that works there; the database is owned by the changing account, or by a role that it is in";
  }
}
