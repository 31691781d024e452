package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.KeyType;
import plenzo.core.records.LongValue;
import plenzo.core.records.RowCondition;
import plenzo.core.table.Column;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/** Statements that read rows in key order and that write them from a staging table. */
public final class RowsSql {
  private RowsSql() {}

  /**
   * COPY of the columns, ordered by the leading key columns, in canonical CSV.
   *
   * @param marks expressions over the row {@code t} that come behind the columns
   * @param only a condition over it, null for all rows
   * @param longValues whether there may be some: then which a row has comes as a last column
   */
  public static String copyOut(
      TableName table,
      List<String> columns,
      List<String> types,
      int keyColumns,
      @Nullable RowCondition condition,
      List<String> marks,
      @Nullable String only,
      boolean longValues) {
    StringBuilder out = new StringBuilder("COPY (SELECT ");
    List<String> order = new ArrayList<>();
    for (int i = 0; i < columns.size(); i++) {
      String column = Sql.name(columns.get(i));
      String type = types.get(i);
      boolean numericKey = i < keyColumns && KeyType.of(type) == KeyType.NUMERIC;
      // what tells rows apart is short: an index has room for no more
      boolean mayBeLong = longValues && i >= keyColumns && LongValue.mayBe(type);
      out.append(i == 0 ? "" : ", ")
          .append(
              numericKey
                  ? "pg_catalog.trim_scale(" + column + ")"
                  : mayBeLong ? LongSql.inside(column, type) : column);
      if (i < keyColumns) {
        order.add(ordered(column, KeyType.of(type)));
      }
    }
    marks.forEach(m -> out.append(", ").append(m));
    if (longValues) {
      out.append(", ").append(LongSql.longOnes(columns, types, keyColumns));
    }
    out.append(" FROM ").append(Sql.alone(table)).append(" t");
    if (condition != null) {
      out.append(" WHERE ").append(condition(condition));
    }
    if (only != null) {
      out.append(condition == null ? " WHERE " : " AND ").append(only);
    }
    if (!order.isEmpty()) {
      out.append(" ORDER BY ").append(String.join(", ", order));
    }
    return out.append(") TO STDOUT (FORMAT csv, FORCE_QUOTE *)").toString();
  }

  /** What a key column is ordered by, as {@link KeyType#compare} orders its texts. */
  private static String ordered(String column, KeyType type) {
    return switch (type) {
      case TEXT -> column + " COLLATE \"C\"";
      case SCALED -> column + ", " + Sql.text(column) + " COLLATE \"C\"";
      case PRINTED, BY_TEXT -> Sql.text(column) + " COLLATE \"C\"";
      default -> column;
    };
  }

  static String condition(RowCondition c) {
    return switch (c.operator()) {
      case "and", "or" ->
          c.parts().stream()
              .map(RowsSql::condition)
              .collect(Collectors.joining(" " + c.operator() + " ", "(", ")"));
      case "not" -> "(not " + condition(c.parts().get(0)) + ")";
      case "is null" -> Sql.name(String.valueOf(c.column())) + " is null";
      default ->
          Sql.name(String.valueOf(c.column()))
              + " "
              + c.operator()
              + " "
              + Sql.literal(String.valueOf(c.value()));
    };
  }

  /** Name of the before-images of a run's n-th table. */
  public static String before(long run, int n) {
    return "\"plenzo\".\"before_" + run + "_" + n + "\"";
  }

  public static String copyIn(String stage) {
    return "COPY " + stage + " FROM STDIN (FORMAT csv)";
  }

  /**
   * Empties a column whose type changes in the rows that are removed or get another value, so that
   * no value in the way of the change is left.
   */
  static String empty(TableName table, String column, TablesDelta.RowsDelta rows, String stage) {
    Header columns = rows.columns();
    int at = columns.position(column);
    String changed =
        at < 0
            ? ""
            : " OR s.act = 'changed' AND "
                + StageSql.expected(columns, at, "s")
                + " IS DISTINCT FROM "
                + StageSql.printed(columns, at, "s");
    return "UPDATE "
        + Sql.alone(table)
        + " t SET "
        + Sql.name(column)
        + " = NULL FROM "
        + stage
        + " s WHERE "
        + join(rows, "s", "t")
        + " AND (s.act = 'removed'"
        + changed
        + ")";
  }

  private static String join(TablesDelta.RowsDelta rows, String stage, String table) {
    return join(rows, stage, table, Map.of());
  }

  /**
   * @param names of columns that are named otherwise in the table
   */
  static String join(
      TablesDelta.RowsDelta rows, String stage, String table, Map<String, String> names) {
    Header columns = rows.columns();
    return IntStream.range(0, columns.keyColumns())
        .mapToObj(
            i -> {
              String name = columns.names().get(i);
              String column = table + "." + Sql.name(names.getOrDefault(name, name));
              return rows.mayBeNull().contains(name)
                  ? StageSql.isOrNeither(column, columns, i, stage)
                  : StageSql.is(column, columns, i, stage);
            })
        .collect(Collectors.joining(" AND "));
  }

  /**
   * Rows that are no longer what the plan read: key, and the attributes that moved.
   *
   * @param present types of the table's columns
   */
  public static String moved(
      TableName table, Map<String, String> present, TablesDelta.RowsDelta rows, String stage) {
    Header columns = rows.columns();
    List<String> compared = rows.compared();
    List<String> moved = new ArrayList<>();
    for (int i = columns.keyColumns(); i < columns.names().size(); i++) {
      String name = columns.names().get(i);
      if (compared.contains(name)) {
        moved.add(
            "CASE WHEN "
                + LongSql.printed("t." + Sql.name(name), present.getOrDefault(name, ""))
                + " IS DISTINCT FROM "
                + StageSql.expected(columns, i, "s")
                + " THEN "
                + Sql.literal(name)
                + " END");
      }
    }
    String attributes =
        moved.isEmpty()
            ? "''"
            // an array has no limit of a hundred, as a call's arguments have
            : "pg_catalog.array_to_string(ARRAY[" + String.join(", ", moved) + "]::text[], ', ')";
    String key =
        "pg_catalog.array_to_string(ARRAY["
            + IntStream.range(0, columns.keyColumns())
                .mapToObj(i -> StageSql.value(columns, i, "s") + "::text")
                .collect(Collectors.joining(", "))
            + "], ', ')";
    String there = "t.ctid"; // a row that is there has one, whatever its columns hold
    return "SELECT * FROM (SELECT "
        + key
        + " AS k, CASE WHEN s.act = 'added' THEN CASE WHEN "
        + there
        + " IS NULL THEN '' ELSE 'is already there' END"
        + " WHEN "
        + there
        + " IS NULL THEN 'is gone' ELSE "
        + attributes
        + " END AS what FROM "
        + stage
        + " s LEFT JOIN "
        + Sql.alone(table)
        + " t ON "
        + join(rows, "s", "t")
        + ") q WHERE what <> '' LIMIT 20";
  }

  /** Rows that are not what the plan wanted after writing: how many. */
  public static String notAsPlanned(TableName table, TablesDelta.RowsDelta rows, String stage) {
    Header columns = rows.columns();
    String differs =
        IntStream.range(0, columns.names().size())
            .mapToObj(
                i -> {
                  String is = "t." + Sql.name(columns.names().get(i));
                  String planned = StageSql.value(columns, i, "s");
                  // the text of bytes is twice as long, and may be longer than a text can be
                  return columns.types().get(i).equals("bytea")
                      ? is + " IS DISTINCT FROM " + planned
                      : Sql.text(is) + " IS DISTINCT FROM " + Sql.text(planned);
                })
            .collect(Collectors.joining(" OR "));
    String there = "t.ctid"; // a row that is there has one, whatever its columns hold
    return "SELECT count(*) FROM "
        + stage
        + " s LEFT JOIN "
        + Sql.alone(table)
        + " t ON "
        + join(rows, "s", "t")
        + " WHERE CASE WHEN s.act = 'removed' THEN "
        + there
        + " IS NOT NULL ELSE "
        + there
        + " IS NULL OR "
        + differs
        + " END";
  }

  /**
   * The rows as they were.
   *
   * @param present the table's columns; those of a type that may go with this plan are kept as text
   */
  public static String keepBefore(
      TableName table,
      List<Column> present,
      TablesDelta.RowsDelta rows,
      String stage,
      String before) {
    return "CREATE TABLE "
        + before
        + " AS SELECT "
        + kept(present)
        + " FROM "
        + Sql.alone(table)
        + " t JOIN "
        + stage
        + " s ON "
        + join(rows, "s", "t");
  }

  /** Rows that the database will change with those that are removed. */
  public static String keepReached(
      TablesDelta.Reached reached,
      List<Column> present,
      Header columns,
      String stage,
      String before) {
    return "CREATE TABLE "
        + before
        + " AS SELECT "
        + kept(present)
        + " FROM "
        + Sql.alone(reached.table())
        + " t WHERE "
        + reaches(reached, reached.path().size() - 1, "t", columns, stage);
  }

  private static String kept(List<Column> present) {
    return present.stream()
        .map(
            c -> {
              String name = Sql.name(c.name());
              return c.type().indexOf('.') < 0
                  ? "t." + name
                  : Sql.text("t." + name) + " AS " + name;
            })
        .collect(Collectors.joining(", "));
  }

  private static String reaches(
      TablesDelta.Reached reached, int hop, String alias, Header columns, String stage) {
    Question.Hop h = reached.path().get(hop);
    String next = "p" + hop;
    String match =
        IntStream.range(0, h.columns().size())
            .mapToObj(
                i ->
                    hop == 0
                        ? staged(
                            alias + "." + Sql.name(h.columns().get(i)),
                            columns.position(h.referenced().get(i)),
                            columns)
                        : alias
                            + "."
                            + Sql.name(h.columns().get(i))
                            + " = "
                            + next
                            + "."
                            + Sql.name(h.referenced().get(i)))
            .collect(Collectors.joining(" AND "));
    return hop == 0
        ? "EXISTS (SELECT 1 FROM " + stage + " p0 WHERE p0.act = 'removed' AND " + match + ")"
        : "EXISTS (SELECT 1 FROM "
            + Sql.alone(reached.path().get(hop - 1).table())
            + " "
            + next
            + " WHERE "
            + match
            + " AND "
            + reaches(reached, hop - 1, next, columns, stage)
            + ")";
  }

  /** Key columns are staged in their type, the others as text. */
  private static String staged(String column, int position, Header columns) {
    return position < columns.keyColumns()
        ? StageSql.is(column, columns, position, "p0")
        : Sql.text(column) + " = " + StageSql.expected(columns, position, "p0");
  }

  public static String delete(TableName table, TablesDelta.RowsDelta rows, String stage) {
    return "DELETE FROM "
        + Sql.alone(table)
        + " t USING "
        + stage
        + " s WHERE s.act = 'removed' AND "
        + join(rows, "s", "t");
  }

  public static String update(TableName table, TablesDelta.RowsDelta rows, String stage) {
    Header columns = rows.columns();
    String sets =
        IntStream.range(columns.keyColumns(), columns.names().size())
            .mapToObj(
                i -> Sql.name(columns.names().get(i)) + " = " + StageSql.value(columns, i, "s"))
            .collect(Collectors.joining(", "));
    return "UPDATE "
        + Sql.alone(table)
        + " t SET "
        + sets
        + " FROM "
        + stage
        + " s WHERE s.act = 'changed' AND "
        + join(rows, "s", "t");
  }

  public static String insert(TableName table, TablesDelta.RowsDelta rows, String stage) {
    Header columns = rows.columns();
    String values =
        IntStream.range(0, columns.names().size())
            .mapToObj(i -> StageSql.value(columns, i, "s"))
            .collect(Collectors.joining(", "));
    return "INSERT INTO "
        + Sql.name(table)
        + " ("
        + Sql.names(columns.names())
        + ") OVERRIDING SYSTEM VALUE SELECT "
        + values
        + " FROM "
        + stage
        + " s WHERE s.act = 'added'";
  }

  /** Restores rows with every column named, identity values included. */
  public static String restore(TableName table, List<String> columns) {
    return "COPY " + Sql.name(table) + " (" + Sql.names(columns) + ") FROM STDIN (FORMAT csv)";
  }

  /**
   * Where a sequence must go on so that it hands out no number that the column has; null where it
   * does already. Up or down, as it counts; one that starts again at its end is left alone.
   */
  public static String ahead(TableName table, String column, String sequence) {
    String values =
        "FROM "
            + Sql.name(table)
            + " t WHERE pg_catalog.pg_typeof(t."
            + Sql.name(column)
            + ")::text IN ('smallint', 'integer', 'bigint', 'numeric')";
    String value = "t." + Sql.name(column) + "::pg_catalog.text::pg_catalog.numeric";
    return "SELECT CASE WHEN q.seqcycle THEN NULL WHEN q.seqincrement > 0 AND v.most >= l.last AND v.most + q.seqincrement <= q.seqmax THEN v.most + q.seqincrement WHEN q.seqincrement < 0 AND v.least <= l.last AND v.least + q.seqincrement >= q.seqmin THEN v.least + q.seqincrement END::bigint"
        + " FROM pg_catalog.pg_sequence q, (SELECT max("
        + value
        + ") AS most, min("
        + value
        + ") AS least "
        + values
        + ") v, (SELECT CASE WHEN is_called THEN last_value + 1 ELSE last_value END AS last FROM "
        + sequence
        + ") l WHERE q.seqrelid = "
        + Sql.literal(sequence)
        + "::pg_catalog.regclass";
  }
}
