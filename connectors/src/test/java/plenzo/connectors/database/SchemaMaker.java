package plenzo.connectors.database;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;

/**
 * Makes up a schema and then another one out of it: tables with rows, types, routines, views,
 * triggers and everything else that is carried, and the changes that people make between two
 * versions. The same seed makes the same.
 */
public final class SchemaMaker {
  private final Random random;

  /** What one schema is made of, in the order in which it is made; a name each. */
  private final Map<String, String> parts = new LinkedHashMap<>();

  /** Columns of each table with their types, the key first. */
  private final Map<String, Map<String, String>> tables = new LinkedHashMap<>();

  /** Tables whose rows stand in partitions. */
  private final Set<String> parted = new LinkedHashSet<>();

  private int next;

  public SchemaMaker(long seed) {
    random = new Random(seed);
  }

  private SchemaMaker(Random random, SchemaMaker of) {
    this.random = random;
    this.next = of.next;
    parts.putAll(of.parts);
    parted.addAll(of.parted);
    of.tables.forEach((name, columns) -> tables.put(name, new LinkedHashMap<>(columns)));
  }

  private static final List<String> TYPES =
      List.of("text", "integer", "bigint", "numeric(8,2)", "date", "boolean", "varchar(40)");

  private boolean maybe(int ofTen) {
    return random.nextInt(10) < ofTen;
  }

  private <T> T any(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private String name(String sort) {
    return sort + next++;
  }

  /** A schema of its own. */
  public SchemaMaker fill() {
    for (int n = 0; n < 1 + random.nextInt(2); n++) {
      type();
    }
    for (int n = 0; n < random.nextInt(2); n++) {
      sequence();
    }
    for (int n = 0; n < 2 + random.nextInt(3); n++) {
      table();
    }
    for (int n = 0; n < 4 + random.nextInt(8); n++) {
      more();
    }
    return this;
  }

  /** Another schema that somebody made out of this one. */
  public SchemaMaker changed() {
    SchemaMaker out = new SchemaMaker(random, this);
    for (int n = 0; n < 2 + random.nextInt(6); n++) {
      out.change();
    }
    return out;
  }

  /** The same with what is set of columns and with rules, which the first pairs did not have. */
  public SchemaMaker furnished() {
    for (int n = 0; n < 1 + random.nextInt(3); n++) {
      furnish();
    }
    return this;
  }

  /** Another one with columns that go too, and with other settings. */
  public SchemaMaker changedMore() {
    SchemaMaker out = changed();
    for (int n = 0; n < 1 + random.nextInt(2); n++) {
      out.dropColumn();
    }
    if (maybe(5)) {
      out.furnish();
    }
    return out;
  }

  /**
   * Another one whose own types are others, with values that hold what they held.
   *
   * @param ranges whether range types are too, which takes an account that may do anything
   */
  public SchemaMaker changedTypes(boolean ranges) {
    SchemaMaker out = changed();
    for (String part : List.copyOf(out.parts.keySet())) {
      if (part.startsWith("type")) {
        String was = out.parts.get(part);
        String is = was;
        if (was.contains("AS (a text")) {
          is = was.replaceAll("AS \\(.*", "AS " + any(COMPOSITES));
        } else if (was.contains("AS RANGE") && maybe(6) && ranges) {
          is = was.replace("numeric", "bigint");
        } else if (was.contains("DOMAIN") && maybe(7)) {
          is = was.replace("AS integer", maybe(5) ? "AS bigint" : "AS numeric");
        } else if (was.contains("AS ENUM") && maybe(7)) {
          is = was.replace("'one', 'two'", maybe(5) ? "'two', 'one'" : "'one'");
        }
        out.parts.replace(part, is);
      }
    }
    return out;
  }

  private static final List<String> COMPOSITES =
      List.of(
          "(a text, b integer)",
          "(b integer, a text)",
          "(a varchar(90), b bigint)",
          "(b numeric, \"C.c\" date, a text)");

  /** The same with tables whose rows stand in partitions. */
  public SchemaMaker partitioned() {
    for (String table : List.copyOf(tables.keySet())) {
      boolean takesNone =
          parts.values().stream()
              .anyMatch(
                  p ->
                      p.startsWith("ALTER TABLE " + quoted(table))
                          && (p.contains("SET (fillfactor") || p.contains("NOT VALID")));
      if (!takesNone && maybe(6)) {
        parted.add(table);
        parts.replace(table, made(table));
      }
    }
    return this;
  }

  /** Another one that has more partitions, or fewer. */
  public SchemaMaker changedPartitions() {
    SchemaMaker out = changedMore();
    for (String table : out.parted) {
      if (out.tables.containsKey(table) && maybe(5)) {
        boolean text = out.tables.get(table).get("key").equals("text");
        out.put(
            "partition",
            "CREATE TABLE fares.% PARTITION OF "
                + quoted(table)
                + (text
                    ? " FOR VALUES FROM ('zzz') TO ('zzzz')"
                    : " FOR VALUES FROM (900000) TO (900010)"));
      }
    }
    return out;
  }

  private void furnish() {
    String table = anyTable();
    String column = anyColumn(table);
    String alter = "ALTER TABLE " + quoted(table) + " ALTER COLUMN \"" + column + "\" ";
    switch (random.nextInt(5)) {
      case 0 -> put("set", alter + "SET STATISTICS " + (10 + random.nextInt(90)));
      case 1 -> {
        if (tables.get(table).get(column).equals("text")) {
          put("set", alter + "SET STORAGE " + any(List.of("PLAIN", "EXTERNAL", "MAIN")));
        }
      }
      case 2 -> put("set", alter + "SET (n_distinct = " + (2 + random.nextInt(90)) + ")");
      case 3 ->
          put(
              "rule",
              "CREATE RULE % AS ON DELETE TO "
                  + quoted(table)
                  + " WHERE OLD.\""
                  + column
                  + "\" IS NULL DO ALSO NOTHING");
      default -> {
        String view = last("view");
        if (view != null && parts.get(view).startsWith("CREATE VIEW")) {
          put("rule", "CREATE RULE % AS ON INSERT TO fares." + view + " DO INSTEAD NOTHING");
        }
      }
    }
  }

  /** A column goes that nothing else is built on, with what is set of it. */
  private void dropColumn() {
    String table = anyTable();
    for (String column : List.copyOf(tables.get(table).keySet())) {
      boolean used =
          parts.entrySet().stream()
              .filter(e -> !e.getKey().equals(table) && !e.getKey().startsWith("set"))
              .anyMatch(e -> e.getValue().contains("\"" + column + "\""));
      if (!column.equals("key") && !used) {
        parts.values().removeIf(p -> p.contains("ALTER COLUMN \"" + column + "\" SET"));
        tables.get(table).remove(column);
        parts.replace(table, made(table));
        return;
      }
    }
  }

  /**
   * Statements that give some of its tables and columns another name where they stand, and some of
   * the names that they had to others, which are new.
   */
  public List<String> renaming() {
    List<String> out = new ArrayList<>();
    List<String> names = new ArrayList<>(tables.keySet());
    java.util.Collections.shuffle(names, random);
    List<String> still = new ArrayList<>(names);
    for (String table : names.subList(0, 1 + random.nextInt(names.size()))) {
      String is = maybe(7) ? name(maybe(2) ? "Called \"so\" " : "called") : table;
      String quoted = "fares.\"" + is.replace("\"", "\"\"") + "\"";
      if (!is.equals(table)) {
        out.add(
            "ALTER TABLE " + quoted(table) + " RENAME TO " + quoted.substring("fares.".length()));
        still.remove(table);
      }
      List<String> columns = new ArrayList<>(tables.get(table).keySet());
      for (String column : tables.get(table).keySet()) {
        if (maybe(3)) {
          columns.remove(column);
          out.add(
              "ALTER TABLE " + quoted + " RENAME COLUMN \"" + column + "\" TO " + name("named"));
          if (maybe(4)) {
            out.add("ALTER TABLE " + quoted + " ADD COLUMN \"" + column + "\" " + anew());
          }
        }
      }
      List<String> plain = columns.stream().filter(c -> !c.equals("key")).toList();
      if (plain.size() > 1 && maybe(3)) {
        columns.clear();
        out.add("ALTER TABLE " + quoted + " DROP COLUMN \"" + plain.get(0) + "\" CASCADE");
        out.add(
            "ALTER TABLE "
                + quoted
                + " RENAME COLUMN \""
                + plain.get(1)
                + "\" TO \""
                + plain.get(0)
                + "\"");
      }
      if (columns.size() > 1 && maybe(4)) {
        java.util.Collections.shuffle(columns, random);
        exchange(
            "ALTER TABLE " + quoted + " RENAME COLUMN \"",
            "\" TO \"",
            columns.get(0),
            columns.get(1),
            out);
      }
      if (!is.equals(table) && maybe(4)) {
        String anew = quoted(table);
        out.add("CREATE TABLE " + anew + " (\"key\" integer PRIMARY KEY, note text)");
        out.add("INSERT INTO " + anew + " VALUES (1, 'one'), (2, NULL)");
      }
    }
    if (still.size() > 2 && maybe(3)) {
      String gone = still.remove(0);
      String taker = still.remove(0);
      out.add("DROP TABLE " + quoted(gone) + " CASCADE");
      out.add("ALTER TABLE " + quoted(taker) + " RENAME TO \"" + gone + "\"");
    }
    if (still.size() > 1 && maybe(4)) {
      exchange("ALTER TABLE fares.\"", "\" RENAME TO \"", still.get(0), still.get(1), out);
    }
    return out.isEmpty() ? renaming() : out;
  }

  /**
   * Two get each other's name.
   *
   * @param before what stands before its name
   * @param how what stands between its name and the one that it gets
   */
  private static void exchange(
      String before, String how, String one, String other, List<String> out) {
    out.add(before + one + how + "aside\"");
    out.add(before + other + how + one + "\"");
    out.add(before + "aside" + how + other + "\"");
  }

  private String anew() {
    return List.of("text", "integer NOT NULL DEFAULT 7", "date", "numeric(6,2)")
        .get(random.nextInt(4));
  }

  /** The statements that make it in an empty schema. */
  public List<String> statements() {
    List<String> out = new ArrayList<>();
    parts.values().forEach(p -> out.addAll(List.of(p.split(" ;; "))));
    return out;
  }

  private void type() {
    String name = name("type");
    parts.put(
        name,
        switch (random.nextInt(4)) {
          case 0 -> "CREATE DOMAIN fares." + name + " AS integer CHECK (VALUE > -1000)";
          case 1 -> "CREATE TYPE fares." + name + " AS (a text, b integer)";
          case 2 -> "CREATE TYPE fares." + name + " AS RANGE (SUBTYPE = numeric)";
          default -> "CREATE TYPE fares." + name + " AS ENUM ('one', 'two', 'it''s three')";
        });
  }

  private void sequence() {
    String name = name("sequence");
    parts.put(name, "CREATE SEQUENCE fares." + name + " START " + (1 + random.nextInt(50)));
  }

  private List<String> types() {
    List<String> out = new ArrayList<>(TYPES);
    parts.keySet().stream().filter(p -> p.startsWith("type")).forEach(p -> out.add("fares." + p));
    return out;
  }

  private void table() {
    String name = name(maybe(1) ? "Odd table." : "table");
    Map<String, String> columns = new LinkedHashMap<>();
    columns.put("key", maybe(5) ? "text" : "integer");
    for (int n = 0; n < 1 + random.nextInt(4); n++) {
      columns.put(name("column"), any(types()));
    }
    tables.put(name, columns);
    parts.put(name, made(name));
  }

  private String quoted(String table) {
    return "fares.\"" + table + "\"";
  }

  private String made(String table) {
    List<String> columns = new ArrayList<>();
    tables
        .get(table)
        .forEach(
            (c, type) ->
                columns.add("\"" + c + "\" " + type + (c.equals("key") ? " PRIMARY KEY" : "")));
    String whole = "CREATE TABLE " + quoted(table) + " (" + String.join(", ", columns) + ")";
    if (!parted.contains(table)) {
      return whole;
    }
    String low = tables.get(table).get("key").equals("text") ? "'text 3'" : "3";
    return whole
        + " PARTITION BY RANGE (\"key\") ;; CREATE TABLE fares.\"low of "
        + table
        + "\" PARTITION OF "
        + quoted(table)
        + " FOR VALUES FROM (MINVALUE) TO ("
        + low
        + ") ;; CREATE TABLE fares.\"rest of "
        + table
        + "\" PARTITION OF "
        + quoted(table)
        + " DEFAULT";
  }

  private String anyTable() {
    return any(List.copyOf(tables.keySet()));
  }

  private String anyColumn(String table) {
    return any(List.copyOf(tables.get(table).keySet()));
  }

  /** One more thing that stands on what is there. */
  private void more() {
    String table = anyTable();
    String column = anyColumn(table);
    String type = tables.get(table).get(column);
    String of = quoted(table);
    switch (random.nextInt(14)) {
      case 0 ->
          put(
              "view",
              "CREATE VIEW fares.% AS SELECT \"key\", \"" + column + "\" AS other FROM " + of);
      case 1 ->
          put(
              "view",
              "CREATE MATERIALIZED VIEW fares.% AS SELECT \"key\", count(*) AS n FROM "
                  + of
                  + " GROUP BY \"key\" ;; CREATE UNIQUE INDEX %_key ON fares.% (\"key\")");
      case 2 -> {
        String view = last("view");
        if (view != null) {
          put("view", "CREATE VIEW fares.% AS SELECT count(*) AS n FROM fares." + view);
        }
      }
      case 3 ->
          put(
              "routine",
              "CREATE FUNCTION fares.%(a "
                  + type
                  + ") RETURNS "
                  + type
                  + " LANGUAGE sql IMMUTABLE AS 'SELECT a'");
      case 4 -> {
        String f =
            put(
                "routine",
                "CREATE FUNCTION fares.%() RETURNS trigger LANGUAGE plpgsql AS $$BEGIN RETURN NEW; END$$");
        put(
            "trigger",
            "CREATE TRIGGER % BEFORE UPDATE"
                + (maybe(5) ? " OF \"" + column + "\"" : "")
                + " ON "
                + of
                + " FOR EACH ROW EXECUTE FUNCTION fares."
                + f
                + "()"
                + (maybe(2) ? " ;; ALTER TABLE " + of + " DISABLE TRIGGER %" : ""));
      }
      case 5 -> put("index", "CREATE INDEX % ON " + of + " (\"" + column + "\")");
      case 6 ->
          put(
              "check",
              "ALTER TABLE "
                  + of
                  + " ADD CONSTRAINT % CHECK (\""
                  + column
                  + "\" IS NOT NULL OR \"key\" IS NOT NULL"
                  + asPeopleWrite(column, type)
                  + ")");
      case 7 -> {
        String other = anyTable();
        if (tables.get(other).get("key").equals(type)
            && !column.equals("key")
            && !parted.contains(table)) {
          put(
              "foreign",
              "ALTER TABLE "
                  + of
                  + " ADD CONSTRAINT % FOREIGN KEY (\""
                  + column
                  + "\") REFERENCES "
                  + quoted(other)
                  + " NOT VALID");
        }
      }
      case 8 -> {
        String sequence = last("sequence");
        if (sequence != null && List.of("integer", "bigint").contains(type)) {
          put(
              "default",
              "ALTER TABLE "
                  + of
                  + " ALTER COLUMN \""
                  + column
                  + "\" SET DEFAULT nextval('fares."
                  + sequence
                  + "')");
        }
      }
      case 9 ->
          put("comment", "COMMENT ON COLUMN " + of + ".\"" + column + "\" IS 'it''s % of it'");
      case 10 -> {
        int fill = 50 + random.nextInt(50);
        if (!parted.contains(table)) {
          put("setting", "ALTER TABLE " + of + " SET (fillfactor = " + fill + ")");
        }
      }
      case 11 -> {
        String f = name("routine");
        parts.put(
            f,
            "CREATE FUNCTION fares."
                + f
                + "(a "
                + type
                + ") RETURNS boolean LANGUAGE sql IMMUTABLE AS 'SELECT a IS NOT NULL OR true'");
        put(
            "check",
            "ALTER TABLE " + of + " ADD CONSTRAINT % CHECK (fares." + f + "(\"" + column + "\"))");
      }
      case 12 ->
          put("policy", "CREATE POLICY % ON " + of + " USING (\"" + column + "\" IS NOT NULL)");
      default -> {
        String c = name("column");
        put(
            "computed",
            "ALTER TABLE "
                + of
                + " ADD COLUMN \""
                + c
                + "\" boolean GENERATED ALWAYS AS (\""
                + column
                + "\" IS NULL) STORED");
      }
    }
  }

  /** Puts a part whose own name stands for % in it. */
  private String put(String sort, String sql) {
    String name = name(sort);
    parts.put(name, sql.replace("%", name));
    return name;
  }

  private @org.jspecify.annotations.Nullable String last(String sort) {
    List<String> all = parts.keySet().stream().filter(p -> p.startsWith(sort)).toList();
    return all.isEmpty() ? null : any(all);
  }

  private void change() {
    switch (random.nextInt(8)) {
      case 0, 1 -> more();
      case 2 -> table();
      case 3 -> remove();
      case 4 -> {
        String table = anyTable();
        tables.get(table).put(name("column"), any(types()));
        parts.replace(table, made(table));
      }
      case 5 -> retype();
      case 6 -> {
        String type = last("type");
        if (type != null) {
          parts.replace(
              type, parts.get(type).replace("'two'", "'two', 'and " + name("label") + "'"));
        }
      }
      default -> {
        String routine = last("routine");
        if (routine != null) {
          parts.replace(routine, parts.get(routine).replace("SELECT a", "SELECT /* again */ a"));
        }
      }
    }
  }

  /** Something goes that nothing else is built on. */
  private void remove() {
    for (int tries = 0; tries < 10; tries++) {
      String part = any(List.copyOf(parts.keySet()));
      boolean used =
          parts.entrySet().stream()
              .anyMatch(e -> !e.getKey().equals(part) && e.getValue().contains(part));
      if (!used && tables.size() > 1) {
        parts.remove(part);
        tables.remove(part);
        return;
      }
    }
  }

  /** A column gets a type that holds all that it held. */
  private void retype() {
    String table = anyTable();
    for (String column : List.copyOf(tables.get(table).keySet())) {
      String wider =
          switch (tables.get(table).get(column)) {
            case "integer" -> "bigint";
            case "varchar(40)" -> "text";
            case "numeric(8,2)" -> "numeric(10,2)";
            default -> null;
          };
      boolean typed =
          parts.values().stream()
              .anyMatch(p -> p.contains("fares.routine") && p.contains("\"" + column + "\""));
      boolean key = column.equals("key");
      if (wider != null && !typed && !key) {
        tables.get(table).put(column, wider);
        parts.replace(table, made(table));
        return;
      }
    }
  }

  /** Rows for every table that the schema has, by statements. */
  public List<String> rows() {
    return rows(1, "");
  }

  /** The rows that somebody has later: one is gone, one is new, the others hold something else. */
  public List<String> laterRows() {
    return rows(2, " later");
  }

  private List<String> rows(int from, String word) {
    List<String> out = new ArrayList<>();
    tables.forEach(
        (table, columns) -> {
          List<String> values = new ArrayList<>();
          columns.forEach(
              (c, type) ->
                  values.add(
                      pointing(table, c)
                          ? "NULL"
                          : c.equals("key") ? value(type, "") : value(type, word)));
          out.add(
              "INSERT INTO "
                  + quoted(table)
                  + " (\""
                  + String.join("\", \"", columns.keySet())
                  + "\") SELECT "
                  + String.join(", ", values)
                  + " FROM generate_series("
                  + from
                  + ", "
                  + (from + 4)
                  + ") n");
        });
    return out;
  }

  private boolean pointing(String table, String column) {
    return parts.values().stream()
        .anyMatch(
            p ->
                p.startsWith("ALTER TABLE " + quoted(table) + " ADD")
                    && p.contains("FOREIGN KEY (\"" + column + "\")"));
  }

  private String value(String type, String word) {
    boolean later = !word.isEmpty();
    String made = parts.getOrDefault(type.replace("fares.", ""), "");
    String number = later ? "n + 100" : "n";
    if (made.contains("AS ENUM")) {
      // the last label, which may be new
      String labels = made.substring(made.lastIndexOf('(') + 1, made.length() - 1);
      String label = later ? labels.substring(labels.lastIndexOf(", '") + 2) : "'one'";
      return label + "::" + type;
    }
    if (made.contains("AS RANGE")) {
      return type + "(1, " + number + " + 1)";
    }
    if (made.contains("AS (b integer, a")) {
      return "ROW(" + number + ", 'it''s" + word + " ' || n)::" + type;
    }
    if (made.contains("AS (b numeric")) {
      return "ROW(" + number + ", NULL, 'it''s" + word + " ' || n)::" + type;
    }
    if (made.contains("AS (a ")) {
      return "ROW('it''s" + word + " ' || n, " + number + ")::" + type;
    }
    return switch (type) {
      case "text", "varchar(40)" -> "'it''s" + word + " ' || n";
      case "date" -> "date '2026-01-01' + " + number;
      case "boolean" -> later ? "n < 3" : "n > 2";
      default -> number;
    };
  }

  /** What the server prints otherwise once it has read its own print. */
  private static String asPeopleWrite(String column, String type) {
    return switch (type) {
      case "varchar(40)" -> " OR \"" + column + "\" IN ('a', 'it''s b')";
      case "date" -> " OR extract('YEAR' FROM \"" + column + "\") > 2000";
      case "integer" -> " OR (\"" + column + "\", \"key\") = (1, NULL) AND \"key\" IS NULL";
      default -> "";
    };
  }

  /** What of a table's rows another schema made out of this one must still have, as a query. */
  String kept(String table, SchemaMaker later) {
    List<String> both =
        tables.get(table).keySet().stream()
            .filter(c -> later.tables.get(table).containsKey(c))
            .map(
                c ->
                    parts
                            .getOrDefault(tables.get(table).get(c).replace("fares.", ""), "")
                            .contains("AS (a text")
                        ? "(\"" + c + "\").a, (\"" + c + "\").b"
                        : "\"" + c + "\"::text")
            .toList();
    return "SELECT string_agg(concat_ws('|', "
        + String.join(", ", both)
        + "), ';' ORDER BY \"key\") FROM "
        + quoted(table);
  }

  /** Names of its tables. */
  public List<String> tables() {
    return List.copyOf(tables.keySet());
  }
}
