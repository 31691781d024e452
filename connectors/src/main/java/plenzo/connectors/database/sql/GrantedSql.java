package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ObjectName;
import plenzo.core.object.GrantedRights;
import plenzo.core.object.SchemaObject;

/**
 * What one role may do with one table, view, sequence, routine or type, as a component: how it is
 * read, given and taken away. Nobody else's rights are touched.
 */
public final class GrantedSql {
  private static final String WHO =
      "CASE WHEN g.grantee = 0 THEN '"
          + GrantedRights.EVERYBODY
          + "' ELSE pg_get_userbyid(g.grantee)::text END AS role, g.privilege_type AS right, g.is_grantable AS passed_on";

  /** Not the account that reads: what it may do is the set-up's and nothing of the application. */
  private static final String OTHERS =
      "g.grantee <> (SELECT me.oid FROM pg_roles me WHERE me.rolname = current_user)";

  private static final String OWNED =
      " LEFT JOIN LATERAL (SELECT tn.nspname, t.relname FROM pg_depend d JOIN pg_class t ON t.oid = d.refobjid JOIN pg_namespace tn ON tn.oid = t.relnamespace"
          + " WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.refobjsubid > 0 AND d.deptype IN ('a', 'i')) o ON c.relkind = 'S'";

  private static final String RELATIONS =
      " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
          + OWNED
          + " CROSS JOIN LATERAL ";

  private static final String CARRIED =
      " WHERE n.nspname = ?1 AND c.relkind IN ('r', 'p', 'v', 'm', 'S') AND NOT c.relispartition AND g.grantee <> c.relowner AND "
          + OTHERS
          + " AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = 'pg_class'::regclass AND e.objid = c.oid AND e.deptype = 'e')";

  /**
   * Everybody may call a routine and use a type without a word: that nobody else may is what
   * somebody said.
   *
   * @param as its columns as {@link #READ} names them
   * @param from where it is, as x, in a schema n
   * @param acl column that holds its rights
   * @param owner column that holds its owner
   * @param catalogue where it is held
   * @param right what everybody may
   */
  private static String open(
      String as, String from, String acl, String owner, String catalogue, String right) {
    String own =
        " AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = '"
            + catalogue
            + "'::regclass AND e.objid = x.oid AND e.deptype = 'e')";
    String one =
        " UNION ALL SELECT n.nspname AS schema, "
            + as
            + " AS relkind, NULL AS owner_schema, NULL AS owner, NULL AS column, ";
    return one
        + WHO
        + from
        + " CROSS JOIN LATERAL aclexplode(x."
        + acl
        + ") g WHERE n.nspname = ?1 AND g.grantee <> x."
        + owner
        + " AND g.grantee <> 0 AND "
        + OTHERS
        + own
        + one
        + "'"
        + GrantedRights.EVERYBODY
        + "', '"
        + right
        + "', NULL"
        + from
        + " WHERE n.nspname = ?1 AND x."
        + acl
        + " IS NOT NULL AND NOT EXISTS (SELECT 1 FROM aclexplode(x."
        + acl
        + ") g WHERE g.grantee = 0)"
        + own;
  }

  private static final String ROUTINES =
      open(
          "x.proname || '(' || oidvectortypes(x.proargtypes) || ')' AS name, 'f'",
          " FROM pg_proc x JOIN pg_namespace n ON n.oid = x.pronamespace",
          "proacl",
          "proowner",
          "pg_proc",
          "EXECUTE");

  /** Neither those of tables nor those that the server makes beside others. */
  private static final String TYPES =
      open(
          "x.typname::text AS name, 'T'",
          " FROM pg_type x JOIN pg_namespace n ON n.oid = x.typnamespace AND x.typtype IN ('c', 'd', 'e', 'r')"
              + " AND (x.typrelid = 0 OR EXISTS (SELECT 1 FROM pg_class c WHERE c.oid = x.typrelid AND c.relkind = 'c'))",
          "typacl",
          "typowner",
          "pg_type",
          "USAGE");

  /** What roles other than the owner may do in a schema; one row for each right. */
  public static final String READ =
      "SELECT n.nspname AS schema, c.relname::text AS name, c.relkind::text AS relkind, o.nspname AS owner_schema, o.relname AS owner, NULL AS column, "
          + WHO
          + RELATIONS
          + "aclexplode(c.relacl) g"
          + CARRIED
          + " UNION ALL SELECT n.nspname, c.relname::text, c.relkind::text, o.nspname, o.relname, a.attname, "
          + WHO
          + RELATIONS
          + "(SELECT a.attname, x.* FROM pg_attribute a CROSS JOIN LATERAL aclexplode(a.attacl) x WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) a CROSS JOIN LATERAL (SELECT a.grantee, a.privilege_type, a.is_grantable) g"
          + CARRIED
          + ROUTINES
          + TYPES;

  public static final String LACKED_ROLES =
      "SELECT w FROM unnest(?::text[]) w WHERE w <> '"
          + GrantedRights.EVERYBODY
          + "' AND NOT EXISTS (SELECT 1 FROM pg_roles r WHERE r.rolname = w)";

  /** Of roles that are there, those that may not enter a schema. */
  public static final String SHUT_OUT =
      "SELECT w FROM unnest(?::text[]) w JOIN pg_namespace n ON n.nspname = ? WHERE CASE WHEN w = '"
          + GrantedRights.EVERYBODY
          + "' THEN NOT EXISTS (SELECT 1 FROM aclexplode(n.nspacl) g WHERE g.grantee = 0 AND g.privilege_type = 'USAGE')"
          + " ELSE (SELECT NOT has_schema_privilege(r.oid, n.oid, 'USAGE') FROM pg_roles r WHERE r.rolname = w) END";

  private GrantedSql() {}

  /** Exactly these rights, whatever the role had. */
  static List<String> make(SchemaObject o) {
    List<String> out = new ArrayList<>();
    if (!GrantedRights.isTaken(o)) {
      out.add(drop(o));
    }
    alter(Map.of(), o, out);
    return out;
  }

  static List<String> alter(SchemaObject was, SchemaObject is) {
    List<String> out = new ArrayList<>();
    was.parts()
        .forEach(
            (right, how) -> {
              String now = is.parts().get(right);
              if (now == null) {
                out.add(
                    how.equals(GrantedRights.TAKEN)
                        ? give(is, right, GrantedRights.GIVEN)
                        : take(is, right, ""));
              } else if (how.equals(GrantedRights.PASSED_ON) && now.equals(GrantedRights.GIVEN)) {
                out.add(take(is, right, "GRANT OPTION FOR "));
              }
            });
    alter(was.parts(), is, out);
    return out;
  }

  private static void alter(Map<String, String> was, SchemaObject is, List<String> out) {
    new TreeMap<>(is.parts())
        .forEach(
            (right, how) -> {
              String had = was.get(right);
              if (!how.equals(had)
                  && !(GrantedRights.PASSED_ON.equals(had) && how.equals(GrantedRights.GIVEN))) {
                out.add(
                    how.equals(GrantedRights.TAKEN) ? take(is, right, "") : give(is, right, how));
              }
            });
  }

  /** Nothing is left of it. */
  static String drop(SchemaObject o) {
    return GrantedRights.isTaken(o)
        ? give(o, o.parts().firstKey(), GrantedRights.GIVEN)
        : "REVOKE ALL PRIVILEGES ON " + what(o) + " FROM " + whom(o);
  }

  private static String give(SchemaObject o, String right, String how) {
    return "GRANT "
        + right(right)
        + " ON "
        + what(o)
        + " TO "
        + whom(o)
        + (how.equals(GrantedRights.PASSED_ON) ? " WITH GRANT OPTION" : "");
  }

  private static String take(SchemaObject o, String right, String only) {
    return "REVOKE " + only + right(right) + " ON " + what(o) + " FROM " + whom(o);
  }

  private static String right(String right) {
    String column = GrantedRights.column(right);
    return column == null ? right : GrantedRights.word(right) + " (" + Sql.name(column) + ")";
  }

  private static String whom(SchemaObject o) {
    String role = o.name().name();
    return role.equals(GrantedRights.EVERYBODY) ? role : Sql.name(role);
  }

  /** What it is about, as GRANT names it. */
  static String what(SchemaObject o) {
    ObjectName name = o.name();
    String is = Objects.requireNonNull(name.table());
    int arguments = is.indexOf('(');
    String word =
        switch (o.shape().get(0)) {
          case "routine" -> "ROUTINE ";
          case "sequence" -> "SEQUENCE ";
          case "type" -> "TYPE ";
          default -> "TABLE ";
        };
    return word
        + Sql.name(name.schema())
        + "."
        + (word.startsWith("ROUTINE")
            ? Sql.name(is.substring(0, arguments)) + is.substring(arguments)
            : Sql.name(is));
  }

  /** A thing of this sort, with the word of the trade. */
  public static @Nullable String word(String relkind) {
    return switch (relkind) {
      case "r", "p" -> "table";
      case "v", "m" -> "view";
      case "S" -> "sequence";
      case "f" -> "routine";
      case "T" -> "type";
      default -> null;
    };
  }
}
