package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;

/**
 * What a database's administrator has to say so that an account is fit for its use; Plenzo prints
 * these statements and never runs them.
 */
public final class GrantSql {
  /**
   * Whether the session's account may enter the schema of the marker; no row when there is none.
   */
  public static final String MARKER_SCHEMA =
      "SELECT has_schema_privilege(oid, 'USAGE') FROM pg_namespace WHERE nspname = 'plenzo'";

  private GrantSql() {}

  public static String usage(String schema, String account) {
    return "GRANT USAGE ON SCHEMA " + Sql.name(schema) + " TO " + Sql.name(account) + ";";
  }

  /** What an account lacks to read a schema. */
  public static String read(String schema, boolean usage, boolean tables, String account) {
    List<String> out = new ArrayList<>();
    if (usage) {
      out.add(usage(schema, account));
    }
    if (tables) {
      out.add(
          "GRANT SELECT ON ALL TABLES IN SCHEMA "
              + Sql.name(schema)
              + " TO "
              + Sql.name(account)
              + ";");
    }
    return String.join(" ", out);
  }

  public static String schema(String schema, String account) {
    return "CREATE SCHEMA " + Sql.name(schema) + " AUTHORIZATION " + Sql.name(account) + ";";
  }

  /**
   * What an account lacks to own a schema.
   *
   * @param tables those that are another's
   */
  public static String own(String schema, boolean itself, List<String> tables, String account) {
    List<String> out = new ArrayList<>();
    String to = " OWNER TO " + Sql.name(account) + ";";
    if (itself) {
      out.add("ALTER SCHEMA " + Sql.name(schema) + to);
    }
    tables.forEach(t -> out.add("ALTER TABLE " + Sql.name(schema) + "." + Sql.name(t) + to));
    return String.join(" ", out);
  }

  public static String createDatabases(String account) {
    return "ALTER ROLE " + Sql.name(account) + " CREATEDB;";
  }

  public static String newTables(String schema, String maker, String reader) {
    return "ALTER DEFAULT PRIVILEGES FOR ROLE "
        + Sql.name(maker)
        + " IN SCHEMA "
        + Sql.name(schema)
        + " GRANT SELECT ON TABLES TO "
        + Sql.name(reader)
        + ";";
  }

  /** Whether an account may read what the session's own will make in a schema. */
  public static String seesNewTables(String schema, String reader) {
    String who = Sql.literal(reader);
    return "SELECT pg_has_role("
        + who
        + ", current_user, 'USAGE') OR pg_has_role("
        + who
        + ", 'pg_read_all_data', 'USAGE') OR EXISTS (SELECT 1 FROM pg_default_acl d CROSS JOIN LATERAL aclexplode(d.defaclacl) a"
        + " WHERE d.defaclobjtype = 'r' AND d.defaclrole = (SELECT oid FROM pg_roles WHERE rolname = current_user)"
        + " AND (d.defaclnamespace = 0 OR d.defaclnamespace = (SELECT oid FROM pg_namespace WHERE nspname = "
        + Sql.literal(schema)
        + ")) AND a.privilege_type = 'SELECT' AND (a.grantee = 0 OR pg_has_role("
        + who
        + ", a.grantee, 'USAGE')))";
  }
}
