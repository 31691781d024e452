package plenzo.connectors.database.sql;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Setting;

/** What else is set of a table: how it is asked of the catalogue, and how it is set. */
public final class SettingsSql {
  private SettingsSql() {}

  private static String part(String name) {
    return "CASE WHEN position('.' IN "
        + name
        + ") > 0 OR position('\"' IN "
        + name
        + ") > 0 THEN '\"' || replace("
        + name
        + ", '\"', '\"\"') || '\"' ELSE "
        + name
        + " END";
  }

  /** Whether each column says how it is packed: since this version of the server. */
  private static final int COMPRESSION_OF_COLUMNS = 14;

  private static final String COMPRESSION =
      " UNION ALL SELECT t.oid, 'compression/' || a.attname, CASE a.attcompression WHEN 'p' THEN 'pglz' ELSE 'lz4' END FROM t JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attlen < 0 AND a.attcompression <> ''";

  /** What a server notes of a column for itself, by names that are its own: counts of changes. */
  private static final String OWN = "'pg\\_%'";

  /** What people set of a column, as its options; empty where it is nothing. */
  public static String options(String attribute) {
    return "(SELECT coalesce(pg_catalog.string_agg(o, ',' ORDER BY o), '') FROM unnest("
        + attribute
        + ".attoptions) o WHERE o NOT LIKE "
        + OWN
        + ")";
  }

  private static final String SETTINGS =
      "WITH t AS (SELECT c.* FROM pg_class c WHERE c.oid = ANY (?))"
          + " SELECT t.oid, 'logged', 'no' FROM t WHERE t.relpersistence = 'u'"
          + " UNION ALL SELECT t.oid, 'row security', 'yes' FROM t WHERE t.relrowsecurity UNION ALL SELECT t.oid, 'row security of the owner', 'yes' FROM t WHERE t.relforcerowsecurity"
          + " UNION ALL SELECT t.oid, 'option/' || split_part(o, '=', 1), substr(o, strpos(o, '=') + 1) FROM t, unnest(t.reloptions) o"
          + " UNION ALL SELECT t.oid, 'replica identity', CASE t.relreplident WHEN 'f' THEN 'full' WHEN 'n' THEN 'nothing' ELSE 'index ' || (SELECT x.relname FROM pg_index i JOIN pg_class x ON x.oid = i.indexrelid WHERE i.indrelid = t.oid AND i.indisreplident) END FROM t WHERE t.relreplident <> 'd'"
          + " UNION ALL SELECT t.oid, 'clustered', x.relname::text FROM t JOIN pg_index i ON i.indrelid = t.oid AND i.indisclustered JOIN pg_class x ON x.oid = i.indexrelid"
          + " UNION ALL SELECT t.oid, 'statistics target/' || a.attname, a.attstattarget::text FROM t JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attstattarget >= 0"
          + " UNION ALL SELECT t.oid, 'storage/' || a.attname, CASE a.attstorage WHEN 'p' THEN 'plain' WHEN 'e' THEN 'external' WHEN 'x' THEN 'extended' ELSE 'main' END FROM t JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum > 0 AND NOT a.attisdropped JOIN pg_type y ON y.oid = a.atttypid AND y.typstorage <> a.attstorage"
          + " UNION ALL SELECT t.oid, split_part(o, '=', 1) || '/' || a.attname, substr(o, strpos(o, '=') + 1) FROM t JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum > 0 AND NOT a.attisdropped AND a.attoptions IS NOT NULL, unnest(a.attoptions) o WHERE o NOT LIKE "
          + OWN
          + " UNION ALL SELECT t.oid, 'statistics/' || "
          + part("n.nspname::text")
          + " || '.' || "
          + part("s.stxname::text")
          + ", pg_get_statisticsobjdef(s.oid) FROM t JOIN pg_statistic_ext s ON s.stxrelid = t.oid JOIN pg_namespace n ON n.oid = s.stxnamespace"
          + " UNION ALL SELECT t.oid, 'rule/' || r.rulename, rtrim(pg_get_ruledef(r.oid), ';') FROM t JOIN pg_rewrite r ON r.ev_class = t.oid AND r.rulename <> '_RETURN' AND r.ev_enabled = 'O'"
          + " UNION ALL SELECT t.oid, 'inherits/' || "
          + part("n.nspname::text")
          + " || '.' || "
          + part("c.relname::text")
          + ", (row_number() OVER (PARTITION BY t.oid ORDER BY i.inhseqno))::text FROM t JOIN pg_inherits i ON i.inhrelid = t.oid JOIN pg_class c ON c.oid = i.inhparent AND c.relkind = 'r' JOIN pg_namespace n ON n.oid = c.relnamespace"
          + " UNION ALL SELECT t.oid, 'partitioned', pg_get_partkeydef(t.oid) FROM t WHERE t.relkind = 'p'"
          + " UNION ALL SELECT t.oid, 'partition/' || "
          + part("n.nspname::text")
          + " || '.' || "
          + part("c.relname::text")
          + ", x.parentrelid::text || ' ' || pg_get_expr(c.relpartbound, c.oid) || coalesce(' PARTITION BY ' || pg_get_partkeydef(c.oid), '') FROM t CROSS JOIN LATERAL pg_partition_tree(t.oid) x JOIN pg_class c ON c.oid = x.relid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE t.relkind = 'p' AND x.parentrelid IS NOT NULL"
          + " UNION ALL SELECT t.oid, 'comment/constraint/' || k.conname, d.description FROM t JOIN pg_constraint k ON k.conrelid = t.oid JOIN pg_description d ON d.classoid = 'pg_constraint'::regclass AND d.objoid = k.oid AND d.objsubid = 0"
          + " UNION ALL SELECT t.oid, 'comment/index/' || x.relname, d.description FROM t JOIN pg_index i ON i.indrelid = t.oid AND i.indisvalid JOIN pg_class x ON x.oid = i.indexrelid JOIN pg_description d ON d.classoid = 'pg_class'::regclass AND d.objoid = x.oid AND d.objsubid = 0";

  /**
   * The table's id, name and value of each; takes the ids of tables.
   *
   * @param server its version, such as 15
   */
  public static String settings(int server) {
    return server < COMPRESSION_OF_COLUMNS ? SETTINGS : SETTINGS + COMPRESSION;
  }

  /**
   * @param value null where it is set no more
   */
  static List<String> set(TableName table, String name, @Nullable String value) {
    String alter = "ALTER TABLE " + Sql.name(table) + " ";
    String itself = "ALTER TABLE " + Sql.alone(table) + " ";
    if (name.equals(Setting.LOGGED)) {
      return List.of(alter + (value == null ? "SET LOGGED" : "SET UNLOGGED"));
    }
    if (name.equals(Setting.ROW_SECURITY)) {
      return List.of(alter + (value == null ? "DISABLE" : "ENABLE") + " ROW LEVEL SECURITY");
    }
    if (name.equals(Setting.OWNERS_ROW_SECURITY)) {
      return List.of(alter + (value == null ? "NO FORCE" : "FORCE") + " ROW LEVEL SECURITY");
    }
    if (name.equals(Setting.REPLICA_IDENTITY)) {
      return List.of(
          alter
              + "REPLICA IDENTITY "
              + (value == null
                  ? "DEFAULT"
                  : value.startsWith("index ")
                      ? "USING INDEX " + Sql.name(value.substring("index ".length()))
                      : value.equals("full") ? "FULL" : "NOTHING"));
    }
    if (name.equals(Setting.CLUSTERED)) {
      return List.of(
          alter + (value == null ? "SET WITHOUT CLUSTER" : "CLUSTER ON " + Sql.name(value)));
    }
    if (name.startsWith(Setting.OPTION)) {
      String option = name.substring(Setting.OPTION.length());
      return List.of(
          alter
              + (value == null
                  ? "RESET (" + option(option) + ")"
                  : "SET (" + option(option) + " = " + Sql.literal(value).strip() + ")"));
    }
    if (name.startsWith(Setting.TARGET)) {
      return List.of(
          itself
              + "ALTER COLUMN "
              + Sql.name(name.substring(Setting.TARGET.length()))
              + " SET STATISTICS "
              + (value == null ? -1 : Integer.parseInt(value)));
    }
    if (name.startsWith(Setting.STORAGE)) {
      return List.of(storage(table, name.substring(Setting.STORAGE.length()), value));
    }
    if (name.startsWith(Setting.COMPRESSION)) {
      return List.of(
          itself
              + "ALTER COLUMN "
              + Sql.name(name.substring(Setting.COMPRESSION.length()))
              + " SET COMPRESSION "
              + (value == null ? "DEFAULT" : value.equals("lz4") ? "lz4" : "pglz"));
    }
    if (name.startsWith("n_distinct")) {
      int at = name.indexOf('/');
      String option = Sql.name(name.substring(0, at));
      return List.of(
          itself
              + "ALTER COLUMN "
              + Sql.name(name.substring(at + 1))
              + (value == null
                  ? " RESET (" + option + ")"
                  : " SET (" + option + " = " + Sql.literal(value).strip() + ")"));
    }
    if (name.startsWith(Setting.STATISTICS)) {
      String drop =
          "DROP STATISTICS IF EXISTS "
              + Sql.name(TableName.of(name.substring(Setting.STATISTICS.length())));
      return value == null ? List.of(drop) : List.of(drop, value);
    }
    if (name.startsWith(Setting.RULE)) {
      String rule = Sql.name(name.substring(Setting.RULE.length()));
      return List.of(
          value == null
              ? "DROP RULE " + rule + " ON " + Sql.name(table)
              : value.replaceFirst("^CREATE RULE", "CREATE OR REPLACE RULE"));
    }
    String text = value == null ? "NULL" : Sql.literal(value).strip();
    if (name.startsWith(Setting.CONSTRAINT_COMMENT)) {
      return List.of(
          "COMMENT ON CONSTRAINT "
              + Sql.name(name.substring(Setting.CONSTRAINT_COMMENT.length()))
              + " ON "
              + Sql.name(table)
              + " IS "
              + text);
    }
    if (name.startsWith(Setting.INDEX_COMMENT)) {
      return List.of(
          "COMMENT ON INDEX "
              + Sql.name(
                  new TableName(table.schema(), name.substring(Setting.INDEX_COMMENT.length())))
              + " IS "
              + text);
    }
    throw new IllegalArgumentException("Nothing is set of " + table + " as " + name);
  }

  /** Before PostgreSQL 16 what the type has must be asked for. */
  private static String storage(TableName table, String column, @Nullable String value) {
    if (value != null) {
      return "ALTER TABLE "
          + Sql.alone(table)
          + " ALTER COLUMN "
          + Sql.name(column)
          + " SET STORAGE "
          + switch (value) {
            case "plain" -> "PLAIN";
            case "external" -> "EXTERNAL";
            case "main" -> "MAIN";
            default -> "EXTENDED";
          };
    }
    String body =
        "BEGIN EXECUTE (SELECT pg_catalog.format('ALTER TABLE %s ALTER COLUMN %I SET STORAGE %s', a.attrelid::pg_catalog.regclass, a.attname, CASE y.typstorage WHEN 'p' THEN 'PLAIN' WHEN 'e' THEN 'EXTERNAL' WHEN 'x' THEN 'EXTENDED' ELSE 'MAIN' END) FROM pg_catalog.pg_attribute a JOIN pg_catalog.pg_type y ON y.oid = a.atttypid WHERE a.attrelid = "
            + Sql.literal(Sql.name(table))
            + "::pg_catalog.regclass AND a.attname = "
            + Sql.literal(column)
            + "); END";
    return "DO " + Sql.literal(body).strip();
  }

  /** A storage parameter, those of the table's long values behind a dot. */
  private static String option(String name) {
    return java.util.Arrays.stream(name.split("\\."))
        .map(Sql::name)
        .collect(java.util.stream.Collectors.joining("."));
  }
}
