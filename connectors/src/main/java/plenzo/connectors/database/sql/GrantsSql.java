package plenzo.connectors.database.sql;

import java.util.Objects;
import plenzo.core.component.TableName;
import plenzo.core.object.SchemaObject;

/** Who may use a schema object: kept over its being made again. */
public final class GrantsSql {
  private GrantsSql() {}

  /**
   * Who may do what with an object that is there, and whose it is: grantee, right, whether it may
   * be passed on, column or null; the grantee is null for everybody.
   */
  public static String read(SchemaObject o) {
    String name = Sql.name(new TableName(o.name().schema(), o.name().name()));
    return switch (o.sort()) {
      case VIEW, MATERIALIZED_VIEW, SEQUENCE ->
          of(
              "pg_class",
              "relacl",
              o.sort() == SchemaObject.Sort.SEQUENCE ? "s" : "r",
              "relowner",
              regclass(name),
              " UNION ALL SELECT CASE WHEN g.grantee = 0 THEN NULL ELSE pg_get_userbyid(g.grantee) END, g.privilege_type, g.is_grantable, a.attname::text FROM pg_attribute a CROSS JOIN LATERAL aclexplode(a.attacl) g WHERE a.attrelid = "
                  + regclass(name)
                  + " AND a.attnum > 0 AND NOT a.attisdropped");
      case FUNCTION, PROCEDURE, AGGREGATE ->
          of(
              "pg_proc",
              "proacl",
              "f",
              "proowner",
              Sql.literal(name + "(" + o.name().arguments() + ")") + "::pg_catalog.regprocedure",
              "");
      case ENUM, DOMAIN, COMPOSITE, RANGE ->
          of("pg_type", "typacl", "T", "typowner", Sql.literal(name) + "::pg_catalog.regtype", "");
      case TRIGGER, POLICY, GRANT -> "";
    };
  }

  private static String regclass(String name) {
    return Sql.literal(name) + "::pg_catalog.regclass";
  }

  private static String of(
      String catalogue, String acl, String type, String owner, String oid, String more) {
    return "SELECT CASE WHEN g.grantee = 0 THEN NULL ELSE pg_get_userbyid(g.grantee) END, g.privilege_type, g.is_grantable, NULL::text FROM "
        + catalogue
        + " c CROSS JOIN LATERAL aclexplode(coalesce(c."
        + acl
        + ", acldefault('"
        + type
        + "', c."
        + owner
        + "))) g WHERE c.oid = "
        + oid
        + " AND g.grantee <> c."
        + owner
        + more;
  }

  /** The role whose it is. */
  public static String owner(SchemaObject o) {
    String name = Sql.name(new TableName(o.name().schema(), o.name().name()));
    return switch (o.sort()) {
      case VIEW, MATERIALIZED_VIEW, SEQUENCE ->
          "SELECT pg_get_userbyid(relowner) FROM pg_class WHERE oid = " + regclass(name);
      case FUNCTION, PROCEDURE, AGGREGATE ->
          "SELECT pg_get_userbyid(proowner) FROM pg_proc WHERE oid = "
              + Sql.literal(name + "(" + o.name().arguments() + ")")
              + "::pg_catalog.regprocedure";
      case ENUM, DOMAIN, COMPOSITE, RANGE ->
          "SELECT pg_get_userbyid(typowner) FROM pg_type WHERE oid = "
              + Sql.literal(name)
              + "::pg_catalog.regtype";
      case TRIGGER, POLICY, GRANT -> "";
    };
  }

  public static String own(SchemaObject o, String role) {
    return "ALTER " + ObjectSql.named(o) + " OWNER TO " + Sql.name(role);
  }

  private static String on(SchemaObject o) {
    String named = ObjectSql.named(o);
    return switch (o.sort()) {
      case VIEW, MATERIALIZED_VIEW ->
          "TABLE " + Sql.name(new TableName(o.name().schema(), o.name().name()));
      case AGGREGATE -> "FUNCTION " + named.substring("AGGREGATE ".length()).replace("(*)", "()");
      case DOMAIN, ENUM, COMPOSITE, RANGE ->
          "TYPE " + Sql.name(new TableName(o.name().schema(), o.name().name()));
      default -> named;
    };
  }

  private static String whom(@org.jspecify.annotations.Nullable String grantee) {
    return grantee == null ? "PUBLIC" : Sql.name(grantee);
  }

  /** One right of somebody. */
  public record Grant(
      @org.jspecify.annotations.Nullable String grantee,
      String right,
      boolean passedOn,
      @org.jspecify.annotations.Nullable String column) {
    public String grant(SchemaObject o) {
      return "GRANT "
          + right
          + (column == null ? "" : " (" + Sql.name(column) + ")")
          + " ON "
          + on(o)
          + " TO "
          + whom(grantee)
          + (passedOn ? " WITH GRANT OPTION" : "");
    }

    public String revoke(SchemaObject o) {
      return "REVOKE "
          + right
          + (column == null ? "" : " (" + Sql.name(column) + ")")
          + " ON "
          + on(o)
          + " FROM "
          + Objects.requireNonNull(whom(grantee));
    }
  }
}
