package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.target.TablesDelta;

/**
 * Values that are too long to be read with their row. The server says the digest of each; its bytes
 * are read by the row's own place, some at a time, and put together again where they go to.
 */
public final class LongSql {
  /** Bytes that are read and written at once. */
  public static final int PART = 256 << 10;

  /**
   * A value of which less is stored has no text of {@link LongValue#INSIDE} bytes: the server packs
   * 273 bytes into three at most. One that another way packs tighter stands in its row.
   */
  private static final int STORED = 65_536;

  private LongSql() {}

  /**
   * Whether a column's value is so long. The length is in the header of a text or bytea, so that
   * nothing is unpacked; of other types only what is large even when packed.
   */
  static String isLong(String column, String type) {
    return switch (type) {
      case "bytea" -> "pg_catalog.octet_length(" + column + ") > " + LongValue.INSIDE / 2;
      case "json", "jsonb", "xml" ->
          "(pg_catalog.pg_column_size("
              + column
              + ") > "
              + STORED
              + " AND pg_catalog.octet_length("
              + column
              + "::text) > "
              + LongValue.INSIDE
              + ")";
      default -> "pg_catalog.octet_length(" + column + ") > " + LongValue.INSIDE;
    };
  }

  /** The bytes of a value, unpacked once. */
  private static String bytes(String column, String type) {
    return type.equals("bytea")
        ? "(" + column + " || ''::bytea)"
        : "pg_catalog.convert_to(" + column + "::text, 'UTF8')";
  }

  /** Digest and length of a value, as {@link LongValue} names it, without the mark. */
  private static String named(String column, String type) {
    return "(SELECT pg_catalog.encode(pg_catalog.sha256(v.b), 'hex') || ':' || pg_catalog.octet_length(v.b) FROM (SELECT "
        + bytes(column, type)
        + " OFFSET 0) v(b))";
  }

  /** The value, or nothing where it is long. */
  static String inside(String column, String type) {
    return "CASE WHEN " + isLong(column, type) + " THEN NULL ELSE " + column + " END";
  }

  /**
   * Where a row of {@code t} is and which of its values are long, such as {@code 16384/(0,1)
   * 2:9f12…:70000000}; null where none is.
   */
  static String longOnes(List<String> columns, List<String> types, int keyColumns) {
    List<Integer> some =
        IntStream.range(keyColumns, columns.size())
            .filter(i -> LongValue.mayBe(types.get(i)))
            .boxed()
            .toList();
    return some.stream()
            .map(i -> isLong(Sql.name(columns.get(i)), types.get(i)))
            .collect(Collectors.joining(" OR ", "CASE WHEN ", " THEN "))
        + some.stream()
            .map(
                i -> {
                  String column = Sql.name(columns.get(i));
                  String type = types.get(i);
                  return "CASE WHEN "
                      + isLong(column, type)
                      + " THEN '"
                      + i
                      + ":' || "
                      + named(column, type)
                      + " END";
                })
            .collect(
                Collectors.joining(
                    ", ",
                    "pg_catalog.array_to_string(ARRAY[t.tableoid || '/' || t.ctid, ",
                    "], ' ') END"));
  }

  /** How the staging table names an expected value that is long. */
  public static String expected(LongValue value) {
    return "\u0001long value " + value.name().substring(1);
  }

  /** A present value as the staging table expects it. */
  static String printed(String column, String type) {
    return LongValue.mayBe(type)
        ? "CASE WHEN "
            + isLong(column, type)
            + " THEN E'\\x01long value ' || "
            + named(column, type)
            + " ELSE "
            + Sql.text(column)
            + " END"
        : Sql.text(column);
  }

  /**
   * The bytes of one value in parts, in their order.
   *
   * @param row where the row is, such as {@code 16384/(0,1)}
   */
  public static String read(TableName table, String column, String type, String row) {
    String[] place = row.split("/", 2);
    return "COPY (SELECT pg_catalog.substring(v.b, g.n, "
        + PART
        + ") FROM (SELECT "
        + bytes("t." + Sql.name(column), type)
        + " AS b FROM "
        + Sql.alone(table)
        + " t WHERE t.ctid = "
        + Sql.literal(place[1])
        + " AND t.tableoid = "
        + Sql.literal(place[0])
        + " OFFSET 0) v, LATERAL pg_catalog.generate_series(1, pg_catalog.octet_length(v.b), "
        + PART
        + ") g(n)) TO STDOUT (FORMAT binary)";
  }

  /** A mark that no value has: what stands for a long value until it is put together. */
  public static final String MARK =
      "SELECT pg_catalog.md5(pg_catalog.random() || ' ' || pg_catalog.clock_timestamp())";

  /**
   * What stands for a value in a column until it is put together.
   *
   * @param mark as the server made it up
   */
  public static String placeholder(LongValue value, String type, String mark) {
    String text = mark + value.digest().hex();
    return switch (type) {
      case "bytea" ->
          "\\x"
              + java.util.HexFormat.of()
                  .formatHex(text.getBytes(java.nio.charset.StandardCharsets.US_ASCII));
      case "json", "jsonb" -> "\"" + text + "\"";
      default -> text;
    };
  }

  /** The digest of the value that a placeholder stands for; null of any other value. */
  private static String standsFor(String column, String type, String mark) {
    String text =
        switch (type) {
          case "bytea" -> "pg_catalog.encode(" + column + ", 'escape')";
          case "json", "jsonb" -> "pg_catalog.btrim(" + column + "::text, '\"')";
          default -> column + "::text";
        };
    return "CASE WHEN pg_catalog.pg_column_size("
        + column
        + ") < 400 THEN pg_catalog.substring("
        + text
        + ", '^"
        + mark
        + "([0-9a-f]{64})$') END";
  }

  public static String createParts(String parts) {
    return "CREATE "
        + (parts.startsWith("pg_temp.") ? "" : "UNLOGGED ")
        + "TABLE "
        + parts
        + " (digest text, n int, part bytea)";
  }

  public static String index(String parts) {
    return "CREATE INDEX ON " + parts + " (digest, n)";
  }

  public static String copyParts(String parts) {
    return "COPY " + parts + " FROM STDIN (FORMAT binary)";
  }

  /**
   * Puts every value together whose parts are there.
   *
   * @param columns of the table, with their types: those that have placeholders
   */
  public static String fill(String table, Map<String, String> columns, String parts, String mark) {
    List<String> sets = new ArrayList<>();
    List<String> where = new ArrayList<>();
    columns.forEach(
        (name, type) -> {
          String column = Sql.name(name);
          String digest = standsFor("t." + column, type, mark);
          String whole =
              "(SELECT "
                  + whole("pg_catalog.string_agg(p.part, ''::bytea ORDER BY p.n)", type)
                  + " FROM "
                  + parts
                  + " p WHERE p.digest = "
                  + digest
                  + ")";
          sets.add(
              column
                  + " = CASE WHEN "
                  + digest
                  + " IS NULL THEN t."
                  + column
                  + " ELSE "
                  + whole
                  + " END");
          where.add(digest + " IS NOT NULL");
        });
    return "UPDATE "
        + table
        + " t SET "
        + String.join(", ", sets)
        + " WHERE "
        + String.join(" OR ", where);
  }

  private static String whole(String bytes, String type) {
    return switch (type) {
      case "bytea" -> bytes;
      case "json", "jsonb", "xml" -> "pg_catalog.convert_from(" + bytes + ", 'UTF8')::" + type;
      default -> "pg_catalog.convert_from(" + bytes + ", 'UTF8')";
    };
  }

  /**
   * Takes a value that stays out of the row that has it.
   *
   * @param table as it is named before the switch, as its column is
   */
  public static String keep(
      TableName table,
      String column,
      TablesDelta.RowsDelta rows,
      int at,
      Map<String, String> namesBefore,
      String stage,
      String mark) {
    Header columns = rows.columns();
    String type = columns.types().get(at);
    return "UPDATE "
        + stage
        + " s SET n"
        + at
        + " = t."
        + Sql.name(column)
        + " FROM "
        + Sql.alone(table)
        + " t WHERE "
        + RowsSql.join(rows, "s", "t", namesBefore)
        + " AND "
        + standsFor("s.n" + at, type, mark)
        + " IS NOT NULL";
  }
}
