package plenzo.e2e;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * Made-up tables whose columns become others by what somebody states: of another type, split,
 * joined, moved. The same seed makes the same.
 */
final class ConvertedTables {
  /** Values of a type, as literals. */
  private static final Map<String, List<String>> VALUES =
      Map.of(
          "text", List.of("'n 12'", "''", "'ÄÖ \"q\"'", "' 7'", "NULL"),
          "varchar(30)", List.of("'abc'", "'x y'", "NULL"),
          "integer", List.of("0", "-7", "2147483647", "NULL"),
          "bigint", List.of("9000000000", "5", "NULL"),
          "numeric(10,3)", List.of("1.500", "-0.001", "NULL"),
          "boolean", List.of("true", "false", "NULL"),
          "date", List.of("'2026-02-28'", "'1999-12-31'", "NULL"));

  /** From a type to another: what is stated of a column {@code c}. */
  private static final List<List<String>> STATED =
      List.of(
          List.of("text", "integer", "length(c)"),
          List.of("text", "varchar(30)", "left(c, 3)"),
          List.of("text", "text[]", "string_to_array(c, ' ')"),
          List.of("varchar(30)", "boolean", "c IS NOT NULL AND c <> ''"),
          List.of("integer", "text", "'no ' || c"),
          List.of("integer", "numeric(12,2)", "round(c / 3.0, 2)"),
          List.of("integer", "smallint", "(c % 100)::smallint"),
          List.of("bigint", "integer", "(c % 1000)::integer"),
          List.of("bigint", "date", "'2000-01-01'::date + (c % 100)::integer"),
          List.of("numeric(10,3)", "integer", "(c * 1000)::integer"),
          List.of("boolean", "text", "CASE WHEN c THEN 'yes' WHEN NOT c THEN 'no' ELSE '?' END"),
          List.of("date", "integer", "EXTRACT(year FROM c)::integer"),
          List.of("date", "text", "to_char(c, 'DD Mon YYYY')"));

  /**
   * What is stated of a column.
   *
   * @param sql what makes the same of it where it stands
   */
  record Stated(String table, String column, String expression, String sql) {}

  private final Random random;
  private final List<String> statements = new ArrayList<>();
  private final List<Stated> stated = new ArrayList<>();
  private final List<String> dropped = new ArrayList<>();

  ConvertedTables(long seed) {
    random = new Random(seed);
    for (int n = 0; n <= random.nextInt(2); n++) {
      table("made" + n);
    }
  }

  private <T> T any(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private void table(String name) {
    Map<String, String> columns = new LinkedHashMap<>();
    List<String> types = VALUES.keySet().stream().sorted().toList();
    for (int n = 0; n < 2 + random.nextInt(4); n++) {
      columns.put(n == 1 ? "Odd one" : "c" + n, any(types));
    }
    List<String> made = new ArrayList<>(List.of("id integer PRIMARY KEY"));
    columns.forEach((c, type) -> made.add("\"" + c + "\" " + type));
    statements.add("CREATE TABLE fares." + name + " (" + String.join(", ", made) + ")");
    for (int r = 0; r < random.nextInt(9); r++) {
      List<String> values = new ArrayList<>(List.of(String.valueOf(r)));
      columns.values().forEach(type -> values.add(any(VALUES.get(type))));
      statements.add("INSERT INTO fares." + name + " VALUES (" + String.join(", ", values) + ")");
    }
    columns.forEach((c, type) -> change(name, c, type));
    if (random.nextBoolean()) {
      joined(name, columns);
    }
  }

  private void change(String table, String column, String type) {
    List<List<String>> ways = STATED.stream().filter(s -> s.get(0).equals(type)).toList();
    if (ways.isEmpty() || random.nextInt(3) == 0) {
      return;
    }
    List<String> way = any(ways);
    String expression = way.get(2).replaceAll("\\bc\\b", "\"" + column + "\"");
    if (random.nextInt(4) == 0) {
      // into a column beside it, which goes or stays
      String next = "from " + column;
      stated.add(
          new Stated(
              table,
              next,
              expression,
              "ALTER TABLE fares."
                  + table
                  + " ADD COLUMN \""
                  + next
                  + "\" "
                  + way.get(1)
                  + "; UPDATE fares."
                  + table
                  + " SET \""
                  + next
                  + "\" = "
                  + expression));
      if (random.nextBoolean()) {
        dropped.add("ALTER TABLE fares." + table + " DROP COLUMN \"" + column + "\"");
      }
      return;
    }
    stated.add(
        new Stated(
            table,
            column,
            expression,
            "ALTER TABLE fares."
                + table
                + " ALTER COLUMN \""
                + column
                + "\" TYPE "
                + way.get(1)
                + " USING ("
                + expression
                + ")::"
                + way.get(1)));
  }

  private void joined(String table, Map<String, String> columns) {
    // by values of before, so it is said first
    String expression =
        "concat_ws('/', "
            + String.join(", ", columns.keySet().stream().map(c -> "\"" + c + "\"::text").toList())
            + ")";
    stated.add(
        0,
        new Stated(
            table,
            "joined",
            expression,
            "ALTER TABLE fares."
                + table
                + " ADD COLUMN joined text; UPDATE fares."
                + table
                + " SET joined = "
                + expression));
  }

  List<String> statements() {
    return statements;
  }

  List<Stated> stated() {
    return stated;
  }

  /** What makes the same in development. */
  List<String> later() {
    List<String> out = new ArrayList<>();
    // what reads a column goes before that column becomes another
    stated.stream().filter(s -> s.sql().contains("ADD COLUMN")).forEach(s -> out.add(s.sql()));
    stated.stream().filter(s -> !s.sql().contains("ADD COLUMN")).forEach(s -> out.add(s.sql()));
    out.addAll(dropped);
    return out;
  }
}
