package plenzo.connectors.database.sql;

import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;

/** Statements about what is done beside running work, before a switch and after it. */
public final class EarlySql {
  /** The names of indexes that were built before; nobody else's index is called so. */
  public static final String NAME = "^plenzo_early_[0-9]+_[0-9]+$";

  /** Every one of a run, with its schema and whether it came about whole. */
  public static final String OF_RUN =
      "SELECT n.nspname, c.relname, i.indisvalid FROM pg_catalog.pg_class c JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace JOIN pg_catalog.pg_index i ON i.indexrelid = c.oid WHERE c.relkind = 'i' AND c.relname ~ ? ORDER BY c.relname";

  /** Whether there is something left to look at. */
  public static final String EXISTS = "SELECT pg_catalog.to_regclass(?) IS NOT NULL";

  /** The bytes of a table that is there, else null. */
  public static final String BYTES =
      "SELECT " + size("t.oid") + " FROM (SELECT pg_catalog.to_regclass(?) AS oid) t";

  /** What the names of such tables begin with. */
  public static final String FINISH = "finish_";

  private EarlySql() {}

  /** The bytes of a table with its indexes and partitions. */
  static String size(String table) {
    return "pg_catalog.pg_total_relation_size("
        + table
        + ") + coalesce((SELECT sum(pg_catalog.pg_total_relation_size(x.relid))::bigint FROM pg_catalog.pg_partition_tree("
        + table
        + ") x WHERE x.relid <> "
        + table
        + "), 0)";
  }

  public static String name(long run, int n) {
    return "plenzo_early_" + run + "_" + n;
  }

  /** What the names of a run's indexes match. */
  public static String names(long run) {
    return "^plenzo_early_" + run + "_[0-9]+$";
  }

  /** Where a run keeps what it left to be looked at. */
  public static String finish(long run) {
    return "plenzo." + FINISH + run;
  }

  public static String createFinish(long run) {
    return "CREATE TABLE "
        + finish(run)
        + " (schema_name text NOT NULL, table_name text NOT NULL, constraint_name text NOT NULL, column_name text)";
  }

  public static String left(long run) {
    // a run of an earlier build left a table without the last column
    return "SELECT schema_name, table_name, constraint_name, pg_catalog.to_jsonb(f) ->> 'column_name' FROM "
        + finish(run)
        + " f";
  }

  /** The name of the check that stands for NOT NULL until every row was looked at. */
  public static String filled(long run, int n) {
    return "plenzo_filled_" + run + "_" + n;
  }

  /** NOT NULL without reading a row, as the check was found to hold; then that goes. */
  public static String fill(TableName table, String check, String column) {
    return "ALTER TABLE "
        + Sql.name(table)
        + " ALTER COLUMN "
        + Sql.name(column)
        + " SET NOT NULL; ALTER TABLE "
        + Sql.name(table)
        + " DROP CONSTRAINT "
        + Sql.name(check);
  }

  public static String done(long run, String constraint) {
    return "DELETE FROM " + finish(run) + " WHERE constraint_name = " + Sql.literal(constraint);
  }

  /**
   * @param column that gets NOT NULL in its place, null for a constraint of the version
   */
  public static String leave(
      long run, TableName table, String constraint, @Nullable String column) {
    return "INSERT INTO "
        + finish(run)
        + " VALUES ("
        + Sql.literal(table.schema())
        + ", "
        + Sql.literal(table.table())
        + ", "
        + Sql.literal(constraint)
        + ", "
        + (column == null ? "NULL" : Sql.literal(column))
        + ")";
  }

  public static String validate(TableName table, String constraint) {
    return "ALTER TABLE " + Sql.name(table) + " VALIDATE CONSTRAINT " + Sql.name(constraint);
  }

  public static String drop(String schema, String index) {
    return "DROP INDEX CONCURRENTLY IF EXISTS " + Sql.name(schema) + "." + Sql.name(index);
  }

  public static String rename(String schema, String index, String becomes) {
    return "ALTER INDEX "
        + Sql.name(schema)
        + "."
        + Sql.name(index)
        + " RENAME TO "
        + Sql.name(becomes);
  }

  /** An index for as long as rows go that others may point at. */
  public static String helping(long run, int n, TableName table, Iterable<String> columns) {
    java.util.List<String> names = new java.util.ArrayList<>();
    columns.forEach(names::add);
    return "CREATE INDEX CONCURRENTLY "
        + Sql.name(name(run, n))
        + " ON "
        + Sql.name(table)
        + " ("
        + Sql.names(names)
        + ")";
  }

  /**
   * Foreign keys that point at a table by columns with which no whole index begins: the engine
   * reads all of such a table for each row that goes.
   */
  public static String unindexed(TableName table) {
    return "SELECT n.nspname, r.relname, pg_catalog.pg_relation_size(r.oid) AS bytes, pg_catalog.pg_has_role(r.relowner, 'USAGE') AS owned,"
        + " ARRAY(SELECT a.attname::text FROM pg_catalog.unnest(c.conkey) WITH ORDINALITY k(n, o) JOIN pg_catalog.pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = k.n ORDER BY k.o) AS columns"
        + " FROM pg_catalog.pg_constraint c JOIN pg_catalog.pg_class r ON r.oid = c.conrelid JOIN pg_catalog.pg_namespace n ON n.oid = r.relnamespace"
        + " WHERE c.contype = 'f' AND r.relkind = 'r' AND c.confrelid = pg_catalog.to_regclass("
        + Sql.literal(Sql.name(table))
        + ") AND NOT EXISTS (SELECT 1 FROM pg_catalog.pg_index i WHERE i.indrelid = c.conrelid AND i.indisvalid AND i.indpred IS NULL AND (i.indkey::int2[])[0:pg_catalog.cardinality(c.conkey) - 1] @> c.conkey)";
  }
}
