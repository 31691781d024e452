package plenzo.e2e;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;

/**
 * Made-up tables without a key: columns of any type, that may be null, and rows none of which
 * stands there twice. The same seed makes the same.
 */
final class LooseTables {
  /** Values of a type, as literals; null is added to each. */
  private static final Map<String, List<String>> TYPES = types();

  private final Random random;
  private final Map<String, Map<String, String>> columns = new LinkedHashMap<>();
  private final Map<String, Set<List<String>>> rows = new LinkedHashMap<>();

  LooseTables(long seed) {
    random = new Random(seed);
    for (int n = 0; n <= random.nextInt(3); n++) {
      Map<String, String> made = new LinkedHashMap<>();
      for (int c = 0; c <= random.nextInt(5); c++) {
        made.put(c == 2 ? "Odd \"one\"" : "c" + c, one(List.copyOf(TYPES.keySet())));
      }
      columns.put("loose" + n, made);
      Set<List<String>> all = new LinkedHashSet<>();
      for (int r = 0; r < random.nextInt(12); r++) {
        all.add(row(made));
      }
      rows.put("loose" + n, all);
    }
  }

  private static Map<String, List<String>> types() {
    Map<String, List<String>> out = new LinkedHashMap<>();
    out.put("integer", List.of("0", "-5", "7", "2147483647"));
    out.put("numeric", List.of("1.5", "1.50", "'NaN'", "1e20", "-0.001"));
    out.put("numeric(8,3)", List.of("1.5", "20", "-3.125"));
    out.put("text", List.of("''", "'a'", "'A'", "' a'", "E'l\\n\\\\'", "'ß'", "'\"q\"'", "'NULL'"));
    out.put("character(3)", List.of("'a'", "'ab '", "''"));
    out.put("boolean", List.of("true", "false"));
    out.put("date", List.of("'2026-02-28'", "'infinity'", "'-infinity'"));
    out.put("timestamp with time zone", List.of("'2026-05-01 12:00+02'", "'infinity'"));
    out.put("time with time zone", List.of("'12:00+02'", "'10:00+00'"));
    out.put("interval", List.of("'1 day'", "'24:00:00'", "'-1 mon 2 days'"));
    out.put("double precision", List.of("'NaN'", "'-0'", "0", "1e-7", "0.1", "'Infinity'"));
    out.put("json", List.of("'{\"a\":1,\"a\":2}'", "'[ 1]'", "'[1]'", "'null'"));
    out.put("jsonb", List.of("'{\"b\": [1, null]}'", "'{}'", "'null'"));
    out.put("xml", List.of("'<a/>'", "'<a></a>'"));
    out.put("bytea", List.of("'\\x00ff'", "'\\x'"));
    out.put("text[]", List.of("'{}'", "'{a,NULL,\"\"}'", "'{{a},{b}}'"));
    out.put("int4range", List.of("'empty'", "'[1,5)'", "'(,3)'"));
    out.put("inet", List.of("'10.0.0.1'", "'10.0.0.1/24'", "'::1'"));
    out.put("bit(3)", List.of("B'101'", "B'000'"));
    out.put("bit varying(5)", List.of("B''", "B'10'"));
    out.put("uuid", List.of("'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11'"));
    out.put("money", List.of("1.5", "-20"));
    out.put("point", List.of("'(1,2)'", "'(0,-1)'"));
    return out;
  }

  private <T> T one(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private String value(String type) {
    return random.nextInt(4) == 0 ? "NULL" : "CAST(" + one(TYPES.get(type)) + " AS " + type + ")";
  }

  private List<String> row(Map<String, String> of) {
    return of.values().stream().map(this::value).toList();
  }

  /** Rows go, come and change; a column comes or goes now and then. */
  void change() {
    for (String table : columns.keySet()) {
      Map<String, String> of = columns.get(table);
      Set<List<String>> all = rows.get(table);
      all.removeIf(r -> random.nextInt(4) == 0);
      for (int r = 0; r < random.nextInt(5); r++) {
        all.add(row(of));
      }
      if (random.nextInt(3) == 0) {
        String type = one(List.copyOf(TYPES.keySet()));
        of.put("late", type);
        Set<List<String>> wider = new LinkedHashSet<>();
        for (List<String> r : all) {
          List<String> more = new ArrayList<>(r);
          more.add(value(type));
          wider.add(more);
        }
        rows.put(table, wider);
      }
    }
  }

  List<String> statements() {
    List<String> out = new ArrayList<>();
    columns.forEach(
        (table, of) -> {
          List<String> parts = new ArrayList<>();
          of.forEach((name, type) -> parts.add("\"" + name.replace("\"", "\"\"") + "\" " + type));
          out.add("CREATE TABLE fares." + table + " (" + String.join(", ", parts) + ")");
          rows.get(table)
              .forEach(
                  r ->
                      out.add(
                          "INSERT INTO fares." + table + " VALUES (" + String.join(", ", r) + ")"));
        });
    return out;
  }
}
