package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.Uncarried;
import plenzo.core.inventory.Uncarried.Sort;

/**
 * Names everything in a schema that Plenzo does not carry, with a digest of its definition as the
 * server prints it. Members of extensions are left out: they come and go with the extension.
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
      Map.of(
          Sort.SEQUENCE,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, concat_ws(' ', format_type(s.seqtypid, NULL), s.seqstart, s.seqincrement, s.seqmin, s.seqmax, s.seqcycle)"
              + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_sequence s ON s.seqrelid = c.oid WHERE n.nspname = ?"
              + " AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.refobjsubid > 0 AND d.deptype IN ('a', 'i'))"
              + member("pg_class", "c.oid"),
          Sort.TRIGGER,
          "SELECT t.tgname::text, n.nspname, c.relname, pg_get_triggerdef(t.oid) || ' ' || t.tgenabled::text FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND NOT t.tgisinternal",
          Sort.RULE,
          "SELECT r.rulename::text, n.nspname, c.relname, pg_get_ruledef(r.oid) || ' ' || r.ev_enabled::text FROM pg_rewrite r JOIN pg_class c ON c.oid = r.ev_class JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND r.rulename <> '_RETURN'",
          Sort.POLICY,
          "SELECT p.polname::text, n.nspname, c.relname, concat_ws(' ', p.polcmd::text, p.polpermissive, pg_get_expr(p.polqual, p.polrelid), pg_get_expr(p.polwithcheck, p.polrelid)) FROM pg_policy p JOIN pg_class c ON c.oid = p.polrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ?",
          Sort.ROUTINE,
          "SELECT n.nspname || '.' || p.proname || '(' || pg_get_function_identity_arguments(p.oid) || ')', NULL, NULL, CASE WHEN p.prokind = 'a' THEN 'aggregate ' || p.oid::regprocedure::text ELSE pg_get_functiondef(p.oid) END FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE n.nspname = ?"
              + member("pg_proc", "p.oid"),
          Sort.VIEW,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, pg_get_viewdef(c.oid) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'v'"
              + member("pg_class", "c.oid"),
          Sort.MATERIALIZED_VIEW,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, pg_get_viewdef(c.oid) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'm'"
              + member("pg_class", "c.oid"),
          Sort.FOREIGN_TABLE,
          "SELECT n.nspname || '.' || c.relname, NULL, NULL, (SELECT string_agg(a.attname || ' ' || format_type(a.atttypid, a.atttypmod), ', ' ORDER BY a.attname) FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind = 'f'"
              + member("pg_class", "c.oid"),
          Sort.TYPE,
          "SELECT n.nspname || '.' || t.typname, NULL, NULL, concat_ws(' ', t.typtype::text, format_type(t.typbasetype, t.typtypmod), t.typnotnull, t.typdefault, (SELECT string_agg(e.enumlabel, ',' ORDER BY e.enumsortorder) FROM pg_enum e WHERE e.enumtypid = t.oid), (SELECT string_agg(pg_get_constraintdef(k.oid), ' ' ORDER BY k.conname) FROM pg_constraint k WHERE k.contypid = t.oid), (SELECT string_agg(a.attname || ' ' || format_type(a.atttypid, a.atttypmod), ', ' ORDER BY a.attnum) FROM pg_attribute a WHERE a.attrelid = t.typrelid AND a.attnum > 0 AND NOT a.attisdropped))"
              + " FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace LEFT JOIN pg_class c ON c.oid = t.typrelid WHERE n.nspname = ? AND (t.typtype IN ('d', 'e', 'r') OR t.typtype = 'c' AND c.relkind = 'c')"
              + member("pg_type", "t.oid"),
          Sort.STATISTICS,
          "SELECT n.nspname || '.' || x.stxname, tn.nspname, c.relname, pg_get_statisticsobjdef(x.oid) FROM pg_statistic_ext x JOIN pg_namespace n ON n.oid = x.stxnamespace JOIN pg_class c ON c.oid = x.stxrelid JOIN pg_namespace tn ON tn.oid = c.relnamespace WHERE n.nspname = ?");

  private final Connection connection;

  UncarriedReader(Connection connection) {
    this.connection = connection;
  }

  /** Everything of a schema, in the order of what is shown. */
  List<Uncarried> read(String schema) throws SQLException {
    List<Uncarried> out = new ArrayList<>();
    for (Sort sort : Sort.values()) {
      try (PreparedStatement s =
          connection.prepareStatement(java.util.Objects.requireNonNull(QUERIES.get(sort)))) {
        s.setString(1, schema);
        try (ResultSet r = s.executeQuery()) {
          while (r.next()) {
            TableName on =
                r.getString(3) == null ? null : new TableName(r.getString(2), r.getString(3));
            out.add(
                new Uncarried(
                    sort, r.getString(1), on, Digest.of(String.valueOf(r.getString(4))).hex()));
          }
        }
      }
    }
    return out.stream().sorted().toList();
  }
}
