package plenzo.e2e;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;

/**
 * Made-up tables that inherit from one another, each with rows of its own, and what people do to
 * them where they stand. The same seed makes the same.
 */
final class FamilyTables {
  private static final Map<String, List<String>> VALUES =
      Map.of(
          "integer", List.of("1", "-7", "NULL"),
          "bigint", List.of("1", "-7", "NULL"),
          "text", List.of("'a'", "''", "NULL"),
          "varchar(9)", List.of("'a'", "'long'", "NULL"),
          "numeric(6,2)", List.of("1.50", "0", "NULL"),
          "date", List.of("'2026-02-28'", "NULL"));

  private final Random random;

  /** Each table with those that it inherits from. */
  private final Map<String, Set<String>> parents = new LinkedHashMap<>();

  /** Each table with the columns that it brings itself. */
  private final Map<String, Map<String, String>> own = new LinkedHashMap<>();

  private final Map<String, String> checks = new LinkedHashMap<>();
  private final List<String> said = new ArrayList<>();
  private int next;

  FamilyTables(long seed) {
    random = new Random(seed);
    for (int n = 0; n <= random.nextInt(2); n++) {
      table(Set.of());
    }
    for (int n = 0; n < 1 + random.nextInt(4); n++) {
      table(some());
    }
    for (int n = 0; n < random.nextInt(4); n++) {
      check(any());
    }
    for (String table : parents.keySet()) {
      for (int n = 0; n < random.nextInt(4); n++) {
        row(table);
      }
    }
  }

  /** What was said since this was last asked. */
  List<String> statements() {
    List<String> out = List.copyOf(said);
    said.clear();
    return out;
  }

  /** A few things that somebody does next. */
  FamilyTables change() {
    for (int n = 0; n < 2 + random.nextInt(6); n++) {
      one();
    }
    check(any()); // nothing of the others may have been possible
    return this;
  }

  private String any() {
    return any(List.copyOf(parents.keySet()));
  }

  private <T> T any(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private Set<String> some() {
    Set<String> out = new LinkedHashSet<>(Set.of(any()));
    String more = any();
    // two that have a table above in common may hand down other defaults
    if (random.nextInt(3) == 0 && isApart(more, any(List.copyOf(out)))) {
      out.add(more);
    }
    return out;
  }

  private boolean isApart(String one, String other) {
    Set<String> of = above(one);
    of.add(one);
    Set<String> others = above(other);
    others.add(other);
    return java.util.Collections.disjoint(of, others);
  }

  private Set<String> above(String table) {
    Set<String> out = new LinkedHashSet<>();
    for (String p : parents.get(table)) {
      out.add(p);
      out.addAll(above(p));
    }
    return out;
  }

  private Map<String, String> columns(String table) {
    Map<String, String> out = new LinkedHashMap<>();
    parents.get(table).forEach(p -> columns(p).forEach(out::putIfAbsent));
    own.get(table).forEach(out::putIfAbsent);
    return out;
  }

  private String type() {
    return any(VALUES.keySet().stream().sorted().toList());
  }

  private void table(Set<String> from) {
    String name = random.nextInt(8) == 0 ? "Odd \"" + next++ : "family" + next++;
    Map<String, String> brings = new LinkedHashMap<>();
    if (from.isEmpty()) {
      brings.put("k", "integer");
    }
    for (int n = 0; n < random.nextInt(3); n++) {
      brings.put("c" + next++, type());
    }
    parents.put(name, from);
    own.put(name, brings);
    List<String> columns = new ArrayList<>();
    brings.forEach(
        (c, type) ->
            columns.add(
                c
                    + " "
                    + type
                    + (!c.equals("k") && random.nextInt(3) == 0 ? " DEFAULT " + value(type) : "")));
    columns.add("PRIMARY KEY (k)");
    said.add(
        "CREATE TABLE "
            + quoted(name)
            + " ("
            + String.join(", ", columns)
            + ")"
            + (from.isEmpty()
                ? ""
                : " INHERITS ("
                    + String.join(", ", from.stream().map(FamilyTables::quoted).toList())
                    + ")"));
  }

  private static String quoted(String table) {
    return "fares.\"" + table.replace("\"", "\"\"") + "\"";
  }

  private String value(String type) {
    return any(VALUES.get(type));
  }

  private void row(String table) {
    List<String> values = new ArrayList<>();
    columns(table).forEach((c, type) -> values.add(c.equals("k") ? "" + next++ : value(type)));
    said.add(
        "INSERT INTO "
            + quoted(table)
            + " ("
            + String.join(", ", columns(table).keySet())
            + ") VALUES ("
            + String.join(", ", values)
            + ")");
  }

  private void check(String table) {
    String name = "check" + next++;
    String column = any(List.copyOf(columns(table).keySet()));
    checks.put(name, table);
    said.add(
        "ALTER TABLE "
            + quoted(table)
            + " ADD CONSTRAINT "
            + name
            + " CHECK ("
            + column
            + " IS NOT NULL OR k > -1)"
            + (random.nextInt(4) == 0 ? " NO INHERIT" : ""));
  }

  private List<String> plain(String table) {
    return own.get(table).keySet().stream().filter(c -> !c.equals("k")).toList();
  }

  /** Its own that nothing has but what inherits them from it. */
  private List<String> alone(String table) {
    return plain(table).stream()
        .filter(
            c ->
                parents.keySet().stream()
                    .filter(t -> !t.equals(table) && columns(t).containsKey(c))
                    .allMatch(t -> above(t).contains(table) && !own.get(t).containsKey(c)))
        .toList();
  }

  private boolean hasBelow(String table) {
    return parents.values().stream().anyMatch(p -> p.contains(table));
  }

  private void one() {
    String table = any();
    String alter = "ALTER TABLE " + quoted(table) + " ";
    List<String> plain = plain(table);
    switch (random.nextInt(15)) {
      case 0, 1 -> {
        String column = "c" + next++;
        String type = type();
        own.get(table).put(column, type);
        said.add(
            alter
                + "ADD COLUMN "
                + column
                + " "
                + type
                + (random.nextInt(2) == 0 ? " DEFAULT " + value(type) : ""));
      }
      case 2, 3 -> {
        if (!plain.isEmpty()) {
          String column = any(plain);
          own.get(table).remove(column);
          said.add(alter + "DROP COLUMN " + column + " CASCADE");
          checks.clear(); // which of them went with it only the server knows
        }
      }
      case 4 -> {
        for (String column : plain) {
          String wider =
              Map.of("integer", "bigint", "varchar(9)", "text").get(own.get(table).get(column));
          if (wider != null) {
            own.get(table).put(column, wider);
            said.add(alter + "ALTER COLUMN " + column + " TYPE " + wider);
            return;
          }
        }
      }
      case 5 -> {
        String column = any(List.copyOf(columns(table).keySet()));
        if (!column.equals("k")) {
          said.add(
              "ALTER TABLE ONLY "
                  + quoted(table)
                  + " ALTER COLUMN "
                  + column
                  + (random.nextInt(3) == 0
                      ? " DROP DEFAULT"
                      : " SET DEFAULT " + value(columns(table).get(column))));
        }
      }
      case 6 -> check(table);
      case 7 -> {
        if (!checks.isEmpty()) {
          String name = any(List.copyOf(checks.keySet()));
          String of = checks.remove(name);
          if (parents.containsKey(of)) {
            said.add("ALTER TABLE " + quoted(of) + " DROP CONSTRAINT " + name);
          }
        }
      }
      case 8 -> {
        table(some());
        row(List.copyOf(parents.keySet()).get(parents.size() - 1));
      }
      case 9 -> {
        if (!hasBelow(table) && parents.size() > 2) {
          parents.remove(table);
          own.remove(table);
          checks.values().removeIf(table::equals);
          said.add("DROP TABLE " + quoted(table));
        }
      }
      case 10 -> {
        if (parents.get(table).size() == 1) {
          Map<String, String> all = columns(table);
          said.add(alter + "NO INHERIT " + quoted(parents.get(table).iterator().next()));
          parents.put(table, Set.of());
          own.put(table, all);
        }
      }
      case 11 ->
          said.add(
              "COMMENT ON COLUMN "
                  + quoted(table)
                  + "."
                  + any(List.copyOf(columns(table).keySet()))
                  + " IS 'said "
                  + next++
                  + "'");
      case 12 -> {
        List<String> alone = alone(table);
        if (!alone.isEmpty()) {
          String was = any(alone);
          String is = "c" + next++;
          own.get(table).put(is, own.get(table).remove(was));
          said.add(alter + "RENAME COLUMN " + was + " TO " + is);
        }
      }
      case 13 -> {
        List<String> alone = alone(table);
        if (alone.size() > 1) {
          String one = alone.get(0);
          String other = any(alone.subList(1, alone.size()));
          Map<String, String> types = own.get(table);
          types.put(one, types.put(other, types.get(one)));
          said.add(alter + "RENAME COLUMN " + one + " TO aside");
          said.add(alter + "RENAME COLUMN " + other + " TO " + one);
          said.add(alter + "RENAME COLUMN aside TO " + other);
        }
      }
      default -> {
        row(table);
        if (!plain.isEmpty()) {
          String column = any(plain);
          said.add(
              "UPDATE ONLY "
                  + quoted(table)
                  + " SET "
                  + column
                  + " = "
                  + value(own.get(table).get(column)));
        }
        said.add("DELETE FROM ONLY " + quoted(table) + " WHERE k % 3 = 0");
      }
    }
  }
}
