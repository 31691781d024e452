package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import plenzo.connectors.database.sql.EarlySql;
import plenzo.connectors.database.sql.SettingsSql;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.Uncarried;
import plenzo.core.inventory.Uncarried.Sort;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Printed;

/**
 * Names everything in a schema that Plenzo does not carry, with a digest of its definition as the
 * server prints it. Members of extensions are left out: they come and go with the extension, which
 * is named. What no query here knows is found by what depends on the schema, so that nothing is
 * passed over. Who may use what belongs to the accounts of a stage and is not named.
 */
final class UncarriedReader {
  private static String member(String catalogue, String oid) {
    return " AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = '"
        + catalogue
        + "'::regclass AND e.objid = "
        + oid
        + " AND e.deptype = 'e')";
  }

  /** Each query returns name, schema and name of the table it works on or null, definition. */
  private static final Map<Sort, String> QUERIES =
      queries(
          Sort.SEQUENCE,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, concat_ws(' ', format_type(s.seqtypid, NULL), s.seqstart, s.seqincrement, s.seqmin, s.seqmax, s.seqcycle)"
              + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_sequence s ON s.seqrelid = c.oid WHERE n.nspname = ?"
              + " AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.refobjsubid > 0 AND d.deptype IN ('a', 'i'))"
              + member("pg_class", "c.oid"),
          Sort.TRIGGER,
          "SELECT t.tgname::text, n.nspname, c.relname, pg_get_triggerdef(t.oid) || ' ' || t.tgenabled::text FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND NOT t.tgisinternal AND t.tgparentid = 0",
          Sort.RULE,
          "SELECT r.rulename::text, n.nspname, c.relname, pg_get_ruledef(r.oid) || ' ' || r.ev_enabled::text FROM pg_rewrite r JOIN pg_class c ON c.oid = r.ev_class JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND r.rulename <> '_RETURN' AND NOT (r.ev_enabled = 'O' AND c.relkind IN ('r', 'p', 'v'))",
          Sort.POLICY,
          "SELECT p.polname::text, n.nspname, c.relname, concat_ws(' ', p.polcmd::text, p.polpermissive, pg_get_expr(p.polqual, p.polrelid), pg_get_expr(p.polwithcheck, p.polrelid)) FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ?",
          Sort.ROUTINE,
          "SELECT n.nspname || '.' || p.proname || '(' || oidvectortypes(p.proargtypes) || ')', NULL, NULL, CASE WHEN p.prokind = 'a' THEN 'aggregate ' || (SELECT a::text FROM pg_aggregate a WHERE a.aggfnoid = p.oid) ELSE pg_get_functiondef(p.oid) END FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE n.nspname = ?"
              // what makes values of a range comes with its type
              + " AND NOT EXISTS (SELECT 1 FROM pg_depend i WHERE i.classid = 'pg_proc'::regclass AND i.objid = p.oid AND i.deptype = 'i')"
              + member("pg_proc", "p.oid"),
          Sort.VIEW,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, concat_ws(' ', pg_get_viewdef(c.oid), c.reloptions::text) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'v'"
              + member("pg_class", "c.oid"),
          Sort.MATERIALIZED_VIEW,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, concat_ws(' ', pg_get_viewdef(c.oid), c.reloptions::text, (SELECT string_agg(pg_get_indexdef(i.indexrelid), ' ' ORDER BY i.indexrelid::regclass::text) FROM pg_index i WHERE i.indrelid = c.oid)) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'm'"
              + member("pg_class", "c.oid"),
          Sort.FOREIGN_TABLE,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, (SELECT string_agg(a.attname || ' ' || format_type(a.atttypid, a.atttypmod), ', ' ORDER BY a.attname) FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'f'"
              + member("pg_class", "c.oid"),
          Sort.TYPE,
          "SELECT n.nspname || '.' || t.typname, NULL, NULL, concat_ws(' ', t.typtype::text, format_type(t.typbasetype, t.typtypmod), t.typnotnull, t.typdefault, (SELECT string_agg(e.enumlabel, ',' ORDER BY e.enumsortorder) FROM pg_enum e WHERE e.enumtypid = t.oid), (SELECT string_agg(pg_get_constraintdef(k.oid), ' ' ORDER BY k.conname) FROM pg_constraint k WHERE k.contypid = t.oid), (SELECT string_agg(a.attname || ' ' || format_type(a.atttypid, a.atttypmod), ', ' ORDER BY a.attnum) FROM pg_attribute a WHERE a.attrelid = t.typrelid AND a.attnum > 0 AND NOT a.attisdropped), (SELECT r::text FROM pg_range r WHERE r.rngtypid = t.oid))"
              + " FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace LEFT JOIN pg_class c ON c.oid = t.typrelid WHERE n.nspname = ? AND (t.typtype IN ('d', 'e', 'r') OR t.typtype = 'c' AND c.relkind = 'c' OR t.typtype IN ('b', 'p') AND NOT EXISTS (SELECT 1 FROM pg_type b WHERE b.typarray = t.oid))"
              + member("pg_type", "t.oid"),
          Sort.INVALID_INDEX,
          "SELECT n.nspname || '.' || x.relname, n.nspname, c.relname, pg_get_indexdef(x.oid) FROM pg_index i JOIN pg_class x ON x.oid = i.indexrelid JOIN pg_class c ON c.oid = i.indrelid AND c.relkind IN ('r', 'p') JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND NOT i.indisvalid AND x.relname !~ '"
              + EarlySql.NAME
              + "'",
          Sort.STORAGE,
          "SELECT '', n.nspname, c.relname, s.settings FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace CROSS JOIN LATERAL (SELECT concat_ws(' ', (SELECT 'in ' || ts.spcname FROM pg_tablespace ts WHERE ts.oid = c.reltablespace), (SELECT 'by ' || am.amname FROM pg_am am WHERE am.oid = c.relam AND am.amname <> 'heap')) AS settings) s"
              + " WHERE n.nspname = ? AND c.relkind IN ('r', 'p') AND s.settings <> ''",
          Sort.PUBLICATION,
          "SELECT p.pubname::text, n.nspname, c.relname, '' FROM pg_publication_rel r JOIN pg_publication p ON p.oid = r.prpubid JOIN pg_class c ON c.oid = r.prrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ?",
          Sort.COMMENT,
          "SELECT 'index ' || x.relname, n.nspname, c.relname, d.description FROM pg_index i JOIN pg_class x ON x.oid = i.indexrelid JOIN pg_class c ON c.oid = i.indrelid AND c.relkind = 'm' JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_description d ON d.classoid = 'pg_class'::regclass AND d.objoid = x.oid AND d.objsubid = 0 WHERE n.nspname = ?1"
              + " UNION ALL SELECT 'constraint ' || k.conname, n.nspname, t.typname, d.description FROM pg_constraint k JOIN pg_type t ON t.oid = k.contypid JOIN pg_namespace n ON n.oid = t.typnamespace JOIN pg_description d ON d.classoid = 'pg_constraint'::regclass AND d.objoid = k.oid WHERE n.nspname = ?1",
          Sort.EXTENSION,
          "SELECT e.extname || ' ' || e.extversion, NULL, NULL, e.extversion FROM pg_extension e WHERE EXISTS (SELECT 1 FROM pg_depend m JOIN pg_depend x ON x.classid = m.classid AND x.objid = m.objid AND x.refclassid = 'pg_namespace'::regclass JOIN pg_namespace n ON n.oid = x.refobjid WHERE m.refclassid = 'pg_extension'::regclass AND m.refobjid = e.oid AND m.deptype = 'e' AND n.nspname = ?)",
          Sort.OTHER,
          "SELECT DISTINCT o.type || ' ' || o.identity, NULL, NULL, o.type || ' ' || o.identity FROM pg_depend x JOIN pg_namespace n ON n.oid = x.refobjid CROSS JOIN LATERAL pg_identify_object(x.classid, x.objid, 0) o WHERE x.refclassid = 'pg_namespace'::regclass AND n.nspname = ?"
              + " AND x.classid NOT IN ('pg_class'::regclass, 'pg_proc'::regclass, 'pg_type'::regclass, 'pg_statistic_ext'::regclass, 'pg_extension'::regclass, 'pg_default_acl'::regclass)"
              + " AND NOT EXISTS (SELECT 1 FROM pg_depend e WHERE e.classid = x.classid AND e.objid = x.objid AND e.deptype = 'e')"
              + alone(
                  "'index ' || i.relname",
                  "pg_get_indexdef(i.oid)",
                  "JOIN pg_index y ON y.indrelid = c.oid JOIN pg_class i ON i.oid = y.indexrelid AND NOT i.relispartition")
              + alone(
                  "'constraint ' || k.conname",
                  "pg_get_constraintdef(k.oid)",
                  "JOIN pg_constraint k ON k.conrelid = c.oid AND k.conparentid = 0 AND k.coninhcount = 0 AND k.contype IN ('c', 'f', 'p', 'u', 'x')")
              + alone(
                  "'setting ' || o.text",
                  "o.text",
                  "CROSS JOIN LATERAL (SELECT unnest(c.reloptions) AS text UNION ALL SELECT 'unlogged' WHERE c.relpersistence = 'u' UNION ALL SELECT 'row security' WHERE c.relrowsecurity) o")
              + alone(
                  "'what is set of ' || a.attname",
                  "concat_ws(' ', a.attstattarget, a.attstorage::text, "
                      + SettingsSql.options("a")
                      + ")",
                  "JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped JOIN pg_inherits h ON h.inhrelid = c.oid JOIN pg_attribute b ON b.attrelid = h.inhparent AND b.attname = a.attname AND (a.attstattarget >= 0 AND a.attstattarget IS DISTINCT FROM b.attstattarget OR a.attstorage <> b.attstorage OR "
                      + SettingsSql.options("a")
                      + " NOT IN ('', "
                      + SettingsSql.options("b")
                      + "))")
              + alone(
                  "'comment'",
                  "d.description",
                  "JOIN pg_description d ON d.classoid = 'pg_class'::regclass AND d.objoid = c.oid AND d.objsubid = 0")
              + alone(
                  "'default of ' || a.attname",
                  "pg_get_expr(f.adbin, f.adrelid)",
                  "JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attgenerated = '' AND a.attidentity = '' JOIN pg_attrdef f ON f.adrelid = a.attrelid AND f.adnum = a.attnum JOIN pg_inherits h ON h.inhrelid = c.oid JOIN pg_attribute b ON b.attrelid = h.inhparent AND b.attname = a.attname LEFT JOIN pg_attrdef g ON g.adrelid = b.attrelid AND g.adnum = b.attnum AND pg_get_expr(g.adbin, g.adrelid) = pg_get_expr(f.adbin, f.adrelid)")
              + " AND g.oid IS NULL");

  /**
   * What a partition has by itself, while with its table come its bounds and what all of them have.
   *
   * @param what in words
   * @param content that tells whether it is the same
   */
  private static String alone(String what, String content, String from) {
    return " UNION ALL SELECT "
        + what
        + " || ' of partition ' || n.nspname || '.' || c.relname, NULL, NULL, "
        + content
        + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace "
        + from
        + " WHERE n.nspname = ? AND c.relispartition";
  }

  /** More pairs than {@link Map#of} takes. */
  private static Map<Sort, String> queries(Object... pairs) {
    Map<Sort, String> out = new EnumMap<>(Sort.class);
    for (int n = 0; n < pairs.length; n += 2) {
      out.put((Sort) pairs[n], (String) pairs[n + 1]);
    }
    return out;
  }

  private final Connection connection;

  UncarriedReader(Connection connection) {
    this.connection = connection;
  }

  /**
   * Everything of a schema that is not carried, in the order of what is shown.
   *
   * @param carried schema objects that are
   */
  List<Uncarried> read(String schema, List<SchemaObject> carried) throws SQLException {
    Set<String> known = carried.stream().map(UncarriedReader::shown).collect(Collectors.toSet());
    List<Uncarried> out = new ArrayList<>();
    for (Sort sort : Sort.values()) {
      String sql = QUERIES.get(sort);
      if (sql == null) {
        continue; // carried
      }
      int places = sql.split("\\?", -1).length - 1;
      try (PreparedStatement s = connection.prepareStatement(sql.replace("?1", "?"))) {
        for (int n = 1; n <= places; n++) {
          s.setString(n, schema);
        }
        try (ResultSet r = s.executeQuery()) {
          while (r.next()) {
            TableName on =
                r.getString(3) == null ? null : new TableName(r.getString(2), r.getString(3));
            out.add(
                new Uncarried(
                    sort,
                    r.getString(1),
                    on,
                    Digest.of(Printed.of(String.valueOf(r.getString(4)))).hex()));
          }
        }
      }
    }
    return out.stream().filter(u -> !known.contains(u.shown())).sorted().toList();
  }

  /** As it would be named if it were not carried. */
  private static String shown(SchemaObject o) {
    ObjectName n = o.name();
    Sort sort =
        switch (o.sort()) {
          case VIEW -> Sort.VIEW;
          case MATERIALIZED_VIEW -> Sort.MATERIALIZED_VIEW;
          case FUNCTION, PROCEDURE, AGGREGATE -> Sort.ROUTINE;
          case SEQUENCE -> Sort.SEQUENCE;
          case TRIGGER -> Sort.TRIGGER;
          case POLICY -> Sort.POLICY;
          case ENUM, DOMAIN, COMPOSITE, RANGE -> Sort.TYPE;
          case GRANT -> throw new IllegalStateException(o.key() + " is nothing by itself");
        };
    String name = n.arguments() == null ? n.name() : n.name() + "(" + n.arguments() + ")";
    return new Uncarried(sort, n.table() == null ? n.schema() + "." + name : n.name(), n.on(), "")
        .shown();
  }
}
