package plenzo.connectors.database.sql;

import java.util.List;
import java.util.Map;
import java.util.function.BinaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import plenzo.core.component.TableName;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;

/** Queries that count for the impact check; each returns a count and up to five examples. */
public final class FactsSql {
  /** A value that is carried as one field may be this large (rules G, measured). */
  private static final long MOST_BYTES = 64L << 20;

  private static final Pattern NUMERIC = Pattern.compile("numeric\\((\\d+),(\\d+)\\)");
  private static final Map<String, String> INTEGERS =
      Map.of(
          "smallint", "-32768 AND 32767",
          "integer", "-2147483648 AND 2147483647",
          "bigint", "-9223372036854775808 AND 9223372036854775807");

  private FactsSql() {}

  /**
   * @param server the server's version number, 150004 for 15.4
   */
  public static String query(Question q, int server) {
    String table = Sql.name(q.table());
    String from = " FROM " + rows(q) + " t WHERE true";
    return switch (q.type()) {
      case ROWS -> count("'a row'", from + without(q, "t"));
      case FILLED -> {
        String column = "t." + Sql.name(q.columns().get(0));
        String typed =
            q.text().isEmpty() ? "" : " AND " + column + " IS DISTINCT FROM " + q.text().get(0);
        yield count(
            Sql.text(column), from + " AND " + column + " IS NOT NULL" + typed + without(q, "t"));
      }
      case FILLED_EACH ->
          "SELECT count(*), ARRAY["
              + q.columns().stream()
                  .map(c -> "count(t." + Sql.name(c) + ")::text")
                  .collect(Collectors.joining(", "))
              + "]::text[] FROM "
              + Sql.alone(q.table())
              + " t";
      case NULLS ->
          count(
              "t.ctid::text",
              from + " AND t." + Sql.name(q.columns().get(0)) + " IS NULL" + without(q, "t"));
      case NOT_FITTING ->
          count(
              Sql.text("t." + Sql.name(q.columns().get(0))),
              from + " AND " + unfit(q, server) + without(q, "t"));
      case DUPLICATES -> duplicates(q, from);
      case DUPLICATES_BY -> duplicatesBy(q);
      case EXCLUDING -> excluding(q);
      case OVERLAPPING -> overlapping(q);
      // the text of a check is part of the version and is shown before anybody agrees to it
      case VIOLATING ->
          count("t.ctid::text", from + " AND NOT (" + q.text().get(0) + ")" + without(q, "t"));
      case NO_LABEL, LABELS, VIOLATING_VALUE ->
          count(
              Sql.text("t." + Sql.name(q.columns().get(0))),
              from + " AND " + counts(q, List.of(), server));
      case ORPHANS -> count(shown(q), from + pointless(q) + without(q, "t"));
      case POINTING -> pointing(q);
      case CLASHING -> clashing(q);
      case UNKNOWN -> unknown(q);
      case OVERSIZE -> count("t.ctid::text", from + any(q, (column, type) -> oversize(column)));
      case LONG -> count("t.ctid::text", from + any(q, LongSql::isLong));
      case LARGE_OBJECTS -> count("t.ctid::text", from + largeObjects(q));
      case DEPENDENTS -> dependents(q);
      case BUILT_ON -> builtOn(q);
      case CODE -> code(table);
      case BYTES ->
          "SELECT "
              + EarlySql.size("(" + Sql.literal(table) + "::pg_catalog.regclass)")
              + ", ARRAY[]::text[]";
      case UNINDEXED ->
          "SELECT coalesce(sum(bytes), 0)::bigint, (array_agg(nspname || '.' || relname || ' (' || pg_catalog.array_to_string(columns, ', ') || ')' ORDER BY bytes DESC))[1:5] FROM ("
              + EarlySql.unindexed(q.table())
              + ") q";
      case CONVERSION_FAILS -> working(q);
      case CONVERSION_EMPTIES -> emptying(q);
    };
  }

  /**
   * The rows that are asked about; of columns that are worked out, the values that they will have.
   */
  private static String rows(Question q) {
    return rows(q.table(), q.converted());
  }

  private static String rows(TableName table, Question.Converted c) {
    return c.isEmpty()
        ? Sql.alone(table)
        : "(SELECT ctid, "
            + Stream.concat(
                    c.kept().stream().map(Sql::name),
                    c.made().stream().map(m -> worked(m) + " AS " + Sql.name(m.column())))
                .collect(Collectors.joining(", "))
            + " FROM "
            + Sql.alone(table)
            + ")";
  }

  /** All rows of afterwards: those that stay, and those that are given, by the columns of these. */
  private static String toBe(Question q) {
    String stay = " FROM " + rows(q) + " t WHERE true" + without(q, "t");
    Tuples g = q.given();
    return g.isEmpty()
        ? stay
        : " FROM (SELECT "
            + columns(g.columns())
            + stay
            + " UNION ALL SELECT "
            + IntStream.range(0, g.columns().size())
                .mapToObj(i -> "g.v" + i + "::" + g.types().get(i))
                .collect(Collectors.joining(", "))
            + " FROM "
            + table(g, "g")
            + ") t WHERE true";
  }

  private static String columns(List<String> names) {
    return names.stream().map(c -> "t." + Sql.name(c)).collect(Collectors.joining(", "));
  }

  /** The expression is part of the version, and is shown before anybody agrees to it. */
  private static String worked(Question.Made m) {
    return "(" + m.from().expression() + ")::" + m.type();
  }

  /** Works a column out for every row: it is refused where one of them cannot be. */
  private static String working(Question q) {
    Question.Made m = q.converted().made().get(0);
    return "SELECT 0 * count(" + worked(m) + "), ARRAY[]::text[] FROM " + Sql.alone(q.table());
  }

  /**
   * Works a column out for given values, in their order. They stand under the name of the table, so
   * that the expression finds them where it names that; as literals, because a question mark in it
   * is an operator.
   */
  public static String worked(TableName table, Question.Made m, Tuples rows) {
    int given = rows.columns().size();
    String typed =
        IntStream.range(0, given)
            .mapToObj(
                c ->
                    ", v"
                        + c
                        + "::"
                        + rows.types().get(c)
                        + " AS "
                        + Sql.name(rows.columns().get(c)))
            .collect(Collectors.joining());
    String arrays =
        given == 0
            ? "pg_catalog.generate_series(1, " + rows.values().size() + ")"
            : IntStream.range(0, given)
                .mapToObj(c -> "pg_catalog.unnest(" + texts(rows, c) + ")")
                .collect(Collectors.joining(", "));
    String names =
        IntStream.range(0, Math.max(1, given))
            .mapToObj(c -> "v" + c)
            .collect(Collectors.joining(", "));
    return "SELECT "
        + Sql.text("plenzo_value")
        + " FROM (SELECT plenzo_nth, "
        + worked(m)
        + " AS plenzo_value FROM (SELECT plenzo_nth"
        + typed
        + " FROM ROWS FROM ("
        + arrays
        + ") WITH ORDINALITY AS g("
        + names
        + ", plenzo_nth)) AS "
        + Sql.name(table.table())
        + ") w ORDER BY plenzo_nth";
  }

  private static String texts(Tuples rows, int column) {
    return rows.values().stream()
        .map(v -> v.get(column))
        .map(v -> v == null ? "NULL" : Sql.literal(v).strip())
        .collect(Collectors.joining(", ", "ARRAY[", "]::text[]"));
  }

  /** Settings of a transaction in which {@link #failing} leaves what it found. */
  public static final String FAILED = "plenzo.failed";

  /**
   * Works a column out, or gives it its new type, row by row, and leaves in {@link #FAILED} for how
   * many it cannot be, and the first of them, a line each. It writes nothing.
   *
   * @param server the server's version number, 150004 for 15.4
   */
  public static String failing(Question q, int server) {
    String row = " FROM " + Sql.alone(q.table()) + " t WHERE t.ctid = place_";
    boolean typed = q.type() == Question.Type.NOT_FITTING;
    List<String> reads =
        typed ? q.columns() : List.copyOf(q.converted().made().get(0).from().reads().keySet());
    String value =
        reads.isEmpty() ? "" : "(SELECT pg_catalog.left(" + shown(reads) + ", 60)" + row + ")";
    String said =
        typed
            ? "coalesce(" + value + ", '')"
            : (value.isEmpty() ? "" : value + " || ': ' || ") + "SQLERRM";
    String counted =
        "failed_ := failed_ + 1; IF failed_ <= 5 THEN said_ := said_ || pg_catalog.chr(10) || pg_catalog.replace("
            + said
            + ", pg_catalog.chr(10), ' '); END IF;";
    String body =
        "#variable_conflict use_column\nDECLARE place_ tid; bad_ boolean; failed_ bigint := 0; said_ text := ''; BEGIN FOR place_ IN SELECT t.ctid FROM "
            + Sql.alone(q.table())
            + " t WHERE true"
            + without(q, "t")
            + " LOOP BEGIN "
            + (typed
                ? "SELECT "
                    + unfit(q, server)
                    + " INTO bad_"
                    + row
                    + "; IF bad_ THEN "
                    + counted
                    + " END IF;"
                : "PERFORM "
                    + worked(q.converted().made().get(0))
                    + " FROM "
                    + Sql.alone(q.table())
                    + " WHERE ctid = place_;")
            + " EXCEPTION WHEN others THEN "
            + counted
            + " END; END LOOP; PERFORM pg_catalog.set_config("
            + Sql.literal(FAILED)
            + ", failed_::text || said_, true); END";
    return "DO LANGUAGE plpgsql " + Sql.literal(body);
  }

  private static String shown(List<String> columns) {
    return columns.stream()
        .map(c -> Sql.name(c) + "::text")
        .collect(Collectors.joining(", ", "pg_catalog.array_to_string(ARRAY[", "], ', ')"));
  }

  private static String emptying(Question q) {
    Question.Made m = q.converted().made().get(0);
    List<String> reads = List.copyOf(m.from().reads().keySet());
    String table = Sql.alone(q.table());
    return count(
        shown(reads),
        " FROM "
            + table
            + " WHERE "
            + worked(m)
            + " IS NULL"
            + reads.stream()
                .map(r -> " AND " + Sql.name(r) + " IS NOT NULL")
                .collect(Collectors.joining()));
  }

  /** Whether the question counts the row {@code t}, as "t" or "f" and never null. */
  public static String mark(Question q, List<String> key, int server) {
    return "CASE WHEN " + counts(q, key, server) + " THEN 't' ELSE 'f' END";
  }

  /**
   * Whether the question counts the row {@code t}.
   *
   * @param key tells rows apart, to leave the first of equal ones alone
   */
  public static String counts(Question q, List<String> key, int server) {
    String column = q.columns().isEmpty() ? "" : "t." + Sql.name(q.columns().get(0));
    String counted =
        switch (q.type()) {
          case ROWS -> "true";
          case NULLS -> column + " IS NULL";
          case NOT_FITTING -> unfit(q, server);
          case VIOLATING -> "NOT (" + q.text().get(0) + ")";
          case NO_LABEL ->
              column + " IS NOT NULL AND " + column + "::text <> ALL (" + labels(q.text()) + ")";
          case LABELS ->
              q.text().get(0).endsWith("]")
                  ? column + "::text[] && " + labels(q.text().subList(1, q.text().size()))
                  : column + "::text = ANY (" + labels(q.text().subList(1, q.text().size())) + ")";
          // the text of a domain's check is part of the version and is shown before anybody agrees
          case VIOLATING_VALUE -> "NOT (" + onValue(q.text().get(0), column) + ")";
          case DUPLICATES -> laterOne(q, key);
          case ORPHANS -> "true" + pointless(q);
          case POINTING -> leads(q, q.path().size() - 1, "t");
          default -> throw new IllegalArgumentException(q.type() + " marks no row");
        };
    return "(" + counted + ")" + without(q, "t");
  }

  private static String labels(List<String> all) {
    return all.stream()
        .map(l -> Sql.literal(l).strip())
        .collect(Collectors.joining(", ", "ARRAY[", "]::text[]"));
  }

  /** A domain's condition about a column; the word in a text or a quoted name is another. */
  private static String onValue(String condition, String column) {
    StringBuilder out = new StringBuilder();
    Matcher m =
        Pattern.compile("'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|\\bVALUE\\b").matcher(condition);
    while (m.find()) {
      m.appendReplacement(
          out, Matcher.quoteReplacement(m.group().equals("VALUE") ? column : m.group()));
    }
    return m.appendTail(out).toString();
  }

  /** Rows that are asked about and come, by key, after one that is equal. */
  private static String laterOne(Question q, List<String> key) {
    String asked = "(true" + filled(q) + without(q, "t") + ")";
    return asked
        + " AND pg_catalog.row_number() OVER (PARTITION BY "
        + asked
        + ", "
        + columns(q.columns())
        + " ORDER BY "
        + columns(key)
        + ") > 1";
  }

  private static String count(String example, String from) {
    return "SELECT (SELECT count(*)" + from + "), ARRAY(SELECT " + example + from + " LIMIT 5)";
  }

  /**
   * A value is unpacked only when it is large even when packed (128 KB: 64 MB packed by more than
   * 500 to 1 is missed).
   */
  private static String oversize(String column) {
    return "(pg_catalog.pg_column_size("
        + column
        + ") > 131072 AND pg_catalog.octet_length("
        + column
        + "::text) > "
        + MOST_BYTES
        + ")";
  }

  /** Whether something is so of one of the columns. */
  private static String any(Question q, BinaryOperator<String> ofColumnAndType) {
    return IntStream.range(0, q.columns().size())
        .mapToObj(i -> ofColumnAndType.apply("t." + Sql.name(q.columns().get(i)), q.text().get(i)))
        .collect(Collectors.joining(" OR ", " AND (", ")"));
  }

  private static String largeObjects(Question q) {
    return q.columns().stream()
        .map(Sql::name)
        .collect(
            Collectors.joining(
                ", t.",
                " AND EXISTS (SELECT FROM pg_catalog.pg_largeobject_metadata o WHERE o.oid IN (t.",
                "))"));
  }

  /** A value in one text, so that 1.5 and 1.50 meet. */
  private static String one(String value, String type) {
    return type.startsWith("numeric")
        ? "pg_catalog.format('%s', pg_catalog.trim_scale(" + value + "::numeric))"
        : "pg_catalog.format('%s', " + value + ")";
  }

  /** The values as a table of texts, so that the engine can join with them by hash. */
  private static String table(Tuples given, String alias) {
    return IntStream.range(0, given.columns().size())
            .mapToObj(
                c ->
                    given.values().stream()
                        .map(v -> v.get(c) == null ? "NULL" : Sql.literal(v.get(c)).strip())
                        .collect(
                            Collectors.joining(", ", "pg_catalog.unnest(ARRAY[", "]::text[])")))
            .collect(Collectors.joining(", ", "ROWS FROM (", ") AS "))
        + alias
        + IntStream.range(0, given.columns().size())
            .mapToObj(i -> "v" + i)
            .collect(Collectors.joining(", ", "(", ")"));
  }

  private static String without(Question q, String alias) {
    return without(q.without(), alias);
  }

  private static String without(Tuples w, String alias) {
    if (w.isEmpty()) {
      return "";
    }
    return " AND NOT EXISTS (SELECT 1 FROM "
        + table(w, "w")
        + " WHERE "
        + equal(w, alias, "w")
        + ")";
  }

  private static String equal(Tuples values, String alias, String given) {
    return equal(values, 0, values.columns().size(), alias, given);
  }

  private static String equal(Tuples values, int from, int to, String alias, String given) {
    return IntStream.range(from, to)
        .mapToObj(
            i -> {
              String column = alias + "." + Sql.name(values.columns().get(i));
              String value = given + ".v" + i;
              // what is null is printed as nothing, and is not the empty text
              boolean nulls = values.values().stream().anyMatch(v -> v.get(i) == null);
              return one(column, values.types().get(i))
                  + " = "
                  + one(value, values.types().get(i))
                  + (nulls ? " AND (" + column + " IS NULL) = (" + value + " IS NULL)" : "");
            })
        .collect(Collectors.joining(" AND "));
  }

  private static String shown(Question q) {
    return "pg_catalog.array_to_string(ARRAY["
        + q.columns().stream()
            .map(c -> "t." + Sql.name(c) + "::text")
            .collect(Collectors.joining(", "))
        + "], ', ')";
  }

  private static String filled(Question q) {
    return q.columns().stream()
        .map(c -> " AND t." + Sql.name(c) + " IS NOT NULL")
        .collect(Collectors.joining());
  }

  private static String duplicates(Question q, String from) {
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT "
        + shown(q)
        + " AS e"
        + from
        + filled(q)
        + without(q, "t")
        + " GROUP BY "
        + columns(q.columns())
        + " HAVING count(*) > 1) q";
  }

  /** What stands in the index is part of the version, and is shown before anybody agrees to it. */
  private static String duplicatesBy(Question q) {
    List<String> keys = q.text().subList(2, q.text().size());
    boolean nullsAreEqual = Boolean.parseBoolean(q.text().get(1));
    List<String> names = IntStream.range(0, keys.size()).mapToObj(i -> "c" + i).toList();
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT pg_catalog.array_to_string(ARRAY["
        + names.stream().map(Sql::text).collect(Collectors.joining(", "))
        + "], ', ') AS e FROM (SELECT "
        // by names of their own: a constant in GROUP BY is the place of a column, or refused
        + IntStream.range(0, keys.size())
            .mapToObj(i -> "(" + keys.get(i) + ") AS " + names.get(i))
            .collect(Collectors.joining(", "))
        + toBe(q)
        + " AND ("
        + q.text().get(0)
        + ")) k"
        + (nullsAreEqual
            ? ""
            : names.stream()
                .map(n -> n + " IS NOT NULL")
                .collect(Collectors.joining(" AND ", " WHERE ", "")))
        + " GROUP BY "
        + String.join(", ", names)
        + " HAVING count(*) > 1) q";
  }

  /** What stands in the constraint is part of the version, and is shown before anybody agrees. */
  private static String excluding(Question q) {
    int keys = q.text().size() / 2;
    String columns =
        IntStream.range(0, keys)
            .mapToObj(i -> "(" + q.text().get(2 * i + 1) + ") AS c" + i)
            .collect(Collectors.joining(", "));
    String beside =
        IntStream.range(0, keys)
            .mapToObj(i -> "a.c" + i + " " + q.text().get(2 * i + 2) + " b.c" + i)
            .collect(Collectors.joining(" AND "));
    String shown =
        IntStream.range(0, keys)
            .mapToObj(i -> Sql.text("a.c" + i))
            .collect(Collectors.joining(", "));
    return "WITH r AS MATERIALIZED (SELECT pg_catalog.row_number() OVER () AS at, "
        + columns
        + toBe(q)
        + " AND ("
        + q.text().get(0)
        + ")) SELECT count(*), (array_agg(e))[1:5] FROM (SELECT pg_catalog.array_to_string(ARRAY["
        + shown
        + "], ', ') AS e FROM r a WHERE EXISTS (SELECT 1 FROM r b WHERE b.at <> a.at AND "
        + beside
        + ")) q";
  }

  /**
   * Rows in the order of their ranges, which begin one after the other: one overlaps a later one
   * where it overlaps the next, and an earlier one where some earlier one ends behind its begin.
   */
  private static String overlapping(Question q) {
    List<String> equal = q.text().subList(2, q.text().size());
    List<String> names = IntStream.range(0, equal.size()).mapToObj(i -> "e" + i).toList();
    String window =
        names.isEmpty()
            ? "(ORDER BY r"
            : "(PARTITION BY " + String.join(", ", names) + " ORDER BY r";
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT pg_catalog.array_to_string(ARRAY["
        + Stream.concat(names.stream(), Stream.of("r"))
            .map(Sql::text)
            .collect(Collectors.joining(", "))
        + "], ', ') AS e FROM (SELECT *, pg_catalog.lead(r) OVER later AS next, count(*) OVER earlier AS before, bool_or(upper_inf(r)) OVER earlier AS open, max(upper(r)) OVER earlier AS until, max(upper(r)) FILTER (WHERE upper_inc(r)) OVER earlier AS through FROM (SELECT ("
        + q.text().get(1)
        + ") AS r"
        + IntStream.range(0, equal.size())
            .mapToObj(i -> ", (" + equal.get(i) + ") AS e" + i)
            .collect(Collectors.joining())
        + toBe(q)
        + " AND ("
        + q.text().get(0)
        + ")) k WHERE NOT isempty(r)"
        + names.stream().map(n -> " AND " + n + " IS NOT NULL").collect(Collectors.joining())
        + " WINDOW later AS "
        + window
        + "), earlier AS "
        + window
        + " ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING)) s WHERE r && next OR before > 0 AND (lower_inf(r) OR open OR until > lower(r) OR through = lower(r) AND lower_inc(r))) q";
  }

  /** Conditions for a row whose values point at nothing. */
  private static String pointless(Question q) {
    Question.Hop hop = q.path().get(0);
    String there =
        q.given().isEmpty()
            ? ""
            : " AND NOT EXISTS (SELECT 1 FROM "
                + table(q.given(), "g")
                + " WHERE "
                + equal(new Tuples(hop.columns(), q.given().types(), q.given().values()), "t", "g")
                + ")";
    boolean comes = q.text().contains(Question.COMES);
    return filled(q)
        + (comes
            ? ""
            : " AND NOT EXISTS (SELECT 1 FROM "
                + rows(hop.table(), hop.becoming())
                + " o WHERE "
                + match(q, hop)
                + without(hop.gone(), "o")
                + ")")
        + there;
  }

  /** Rows at the end of the path; hops lead from the asked table's rows to the given values. */
  private static String pointing(Question q) {
    Question.Hop last = q.path().get(q.path().size() - 1);
    String columns =
        last.columns().stream()
            .map(c -> "pg_catalog.format('%s', t." + Sql.name(c) + ")")
            .collect(Collectors.joining(", "));
    return count(
        "pg_catalog.array_to_string(ARRAY[" + columns + "], ', ')",
        " FROM "
            + Sql.alone(last.table())
            + " t WHERE "
            + leads(q, q.path().size() - 1, "t")
            + without(q, "t"));
  }

  private static String leads(Question q, int hop, String alias) {
    Question.Hop h = q.path().get(hop);
    if (hop == 0) {
      Tuples given = new Tuples(h.columns(), q.given().types(), q.given().values());
      return "EXISTS (SELECT 1 FROM "
          + table(given, "g")
          + " WHERE "
          + equal(given, alias, "g")
          + ")";
    }
    String next = "p" + hop;
    return "EXISTS (SELECT 1 FROM "
        + Sql.alone(q.path().get(hop - 1).table())
        + " "
        + next
        + " WHERE "
        + match(h.columns(), alias, h.referenced(), next)
        + " AND "
        + leads(q, hop - 1, next)
        + ")";
  }

  private static String clashing(Question q) {
    int n = q.columns().size();
    Tuples g = q.given();
    return count(
        shown(q),
        " FROM "
            + Sql.alone(q.table())
            + " t JOIN "
            + table(g, "g")
            + " ON "
            + equal(g, 0, n, "t", "g")
            + " WHERE NOT ("
            + equal(g, n, g.columns().size(), "t", "g")
            + ")"
            + without(q, "t"));
  }

  private static String unknown(Question q) {
    Tuples g = new Tuples(q.columns(), q.given().types(), q.given().values());
    String all =
        IntStream.range(0, g.columns().size())
            .mapToObj(i -> "g.v" + i)
            .collect(Collectors.joining(", "));
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT DISTINCT pg_catalog.array_to_string(ARRAY["
        + all
        + "], ', ') AS e FROM "
        + table(g, "g")
        + " WHERE NOT EXISTS (SELECT 1 FROM "
        + rows(q)
        + " t WHERE "
        + equal(g, "t", "g")
        + without(q, "t")
        + ")) q";
  }

  private static String code(String table) {
    String oid = Sql.literal(table) + "::pg_catalog.regclass";
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT 'trigger ' || g.tgname || ' of ' || pg_catalog.pg_get_userbyid(p.proowner) AS e FROM pg_catalog.pg_trigger g JOIN pg_catalog.pg_proc p ON p.oid = g.tgfoid WHERE NOT g.tgisinternal AND g.tgenabled <> 'D' AND g.tgrelid = "
        + oid
        + " UNION ALL SELECT 'rule ' || r.rulename || ' of ' || pg_catalog.pg_get_userbyid(c.relowner) FROM pg_catalog.pg_rewrite r JOIN pg_catalog.pg_class c ON c.oid = r.ev_class WHERE c.relkind <> 'v' AND c.relkind <> 'm' AND r.ev_class = "
        + oid
        + ") q";
  }

  private static String match(Question q, Question.Hop hop) {
    return q.text().contains(Question.AS_TEXT)
        ? IntStream.range(0, hop.columns().size())
            .mapToObj(
                i ->
                    "pg_catalog.format('%s', t."
                        + Sql.name(hop.columns().get(i))
                        + ") = pg_catalog.format('%s', o."
                        + Sql.name(hop.referenced().get(i))
                        + ")")
            .collect(Collectors.joining(" AND "))
        : match(hop.columns(), "t", hop.referenced(), "o");
  }

  private static String match(List<String> a, String x, List<String> b, String y) {
    return IntStream.range(0, a.size())
        .mapToObj(i -> x + "." + Sql.name(a.get(i)) + " = " + y + "." + Sql.name(b.get(i)))
        .collect(Collectors.joining(" AND "));
  }

  /**
   * Values that the new type refuses, and values that would not come back from it. The types are
   * the server's own texts. Before PostgreSQL 16 a refusal cannot be asked for, so whole numbers
   * and decimals are measured by their bounds; another type that refuses fails the question, and is
   * asked row by row.
   */
  private static String unfit(Question q, int server) {
    String column = "t." + Sql.name(q.columns().get(0));
    String type = q.text().get(0);
    String text = "pg_catalog.format('%s', " + column + ")";
    String was = q.text().get(1);
    // a number that is cast keeps its value, though its text would be refused: 30.00 as an integer
    boolean numbers = number(was) && number(type);
    String refused =
        server >= 160000 && !numbers
            ? "NOT pg_catalog.pg_input_is_valid(" + text + ", " + Sql.literal(type) + ")"
            : outside(column, type, was);
    String there = numbers ? column + "::" + type : text + "::" + type + "::text";
    String back = "pg_catalog.format('%s', (" + there + ")::" + was + ")";
    return column
        + " IS NOT NULL AND CASE WHEN "
        + refused
        + " THEN true ELSE "
        + back
        + " <> "
        + text
        + " END";
  }

  private static boolean number(String type) {
    return INTEGERS.containsKey(type)
        || type.startsWith("numeric")
        || type.equals("real")
        || type.equals("double precision");
  }

  private static String outside(String column, String type, String present) {
    boolean number = number(present);
    String bounds = INTEGERS.get(type);
    if (number && bounds != null) {
      return "("
          + column
          + "::numeric NOT BETWEEN "
          + bounds
          + " OR "
          + column
          + "::numeric <> pg_catalog.trunc("
          + column
          + "::numeric))";
    }
    Matcher m = NUMERIC.matcher(type);
    if (number && m.matches()) {
      return "pg_catalog.abs(pg_catalog.round("
          + column
          + "::numeric, "
          + m.group(2)
          + ")) >= 1e"
          + (Integer.parseInt(m.group(1)) - Integer.parseInt(m.group(2)))
          + "::numeric";
    }
    return "false";
  }

  private static String dependents(Question q) {
    String oid = Sql.literal(Sql.name(q.table())) + "::pg_catalog.regclass";
    String column =
        q.columns().isEmpty()
            ? ""
            : " AND d.refobjsubid = (SELECT attnum FROM pg_catalog.pg_attribute WHERE attrelid = "
                + oid
                + " AND attname = "
                + Sql.literal(q.columns().get(0))
                + ")";
    String where =
        " WHERE d.refclassid = 'pg_catalog.pg_class'::pg_catalog.regclass AND d.refobjid = "
            + oid
            + column;
    return "SELECT count(*), (array_agg(e))[1:5] FROM (SELECT DISTINCT CASE c.relkind WHEN 'v' THEN 'view ' WHEN 'm' THEN 'materialized view ' ELSE 'rule on ' END || n.nspname || '.' || c.relname AS e"
        + " FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_rewrite r ON d.classid = 'pg_catalog.pg_rewrite'::pg_catalog.regclass AND r.oid = d.objid JOIN pg_catalog.pg_class c ON c.oid = r.ev_class JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace"
        + where
        // its own rules go and change with it
        + " AND c.oid <> "
        + oid
        + " UNION SELECT DISTINCT 'routine ' || n.nspname || '.' || p.proname FROM pg_catalog.pg_depend d JOIN pg_catalog.pg_proc p ON d.classid = 'pg_catalog.pg_proc'::pg_catalog.regclass AND p.oid = d.objid JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace"
        + where
        + ") q"
        + (q.text().isEmpty() ? "" : " WHERE e <> ALL (" + labels(q.text()) + ")");
  }

  /** The object, and the types that are made with it. */
  private static String roots(Question q) {
    String name = Sql.name(q.table());
    String types =
        "SELECT 'pg_catalog.pg_type'::pg_catalog.regclass, x.oid FROM pg_catalog.pg_type y JOIN pg_catalog.pg_type x ON x.oid IN (y.oid, y.typarray) WHERE y.oid = ";
    String relation = "pg_catalog.to_regclass(" + Sql.literal(name) + ")";
    String itself = "SELECT 'pg_catalog.pg_class'::pg_catalog.regclass, " + relation + "::oid";
    return switch (q.text().get(0)) {
      case "routine" ->
          "SELECT 'pg_catalog.pg_proc'::pg_catalog.regclass, pg_catalog.to_regprocedure("
              + Sql.literal(name + "(" + q.text().get(1) + ")")
              + ")::oid";
      case "type" ->
          types
              + "pg_catalog.to_regtype("
              + Sql.literal(name)
              + ") UNION ALL SELECT 'pg_catalog.pg_type'::pg_catalog.regclass, x.oid FROM pg_catalog.pg_range g JOIN pg_catalog.pg_type y ON y.oid = g.rngmultitypid JOIN pg_catalog.pg_type x ON x.oid IN (y.oid, y.typarray) WHERE g.rngtypid = pg_catalog.to_regtype("
              + Sql.literal(name)
              + ") UNION ALL "
              + itself;
      default ->
          itself
              + " UNION ALL "
              + types
              + "(SELECT reltype FROM pg_catalog.pg_class WHERE oid = "
              + relation
              + ")";
    };
  }

  /** The schema in which something of a kind that is carried stands; of all else none. */
  private static final String STANDS_IN =
      "CASE d.classid"
          + " WHEN 'pg_catalog.pg_proc'::pg_catalog.regclass THEN (SELECT p.pronamespace FROM pg_catalog.pg_proc p LEFT JOIN pg_catalog.pg_aggregate a ON a.aggfnoid = p.oid WHERE p.oid = d.objid AND coalesce(a.aggmtransfn::oid, 0) = 0)"
          + " WHEN 'pg_catalog.pg_class'::pg_catalog.regclass THEN (SELECT c.relnamespace FROM pg_catalog.pg_class c WHERE c.oid = d.objid AND c.relkind <> 'f')"
          + " WHEN 'pg_catalog.pg_type'::pg_catalog.regclass THEN (SELECT y.typnamespace FROM pg_catalog.pg_type y WHERE y.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_rewrite'::pg_catalog.regclass THEN (SELECT c.relnamespace FROM pg_catalog.pg_rewrite r JOIN pg_catalog.pg_class c ON c.oid = r.ev_class WHERE r.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_attrdef'::pg_catalog.regclass THEN (SELECT c.relnamespace FROM pg_catalog.pg_attrdef x JOIN pg_catalog.pg_class c ON c.oid = x.adrelid WHERE x.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_constraint'::pg_catalog.regclass THEN (SELECT k.connamespace FROM pg_catalog.pg_constraint k WHERE k.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_trigger'::pg_catalog.regclass THEN (SELECT c.relnamespace FROM pg_catalog.pg_trigger x JOIN pg_catalog.pg_class c ON c.oid = x.tgrelid WHERE x.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_policy'::pg_catalog.regclass THEN (SELECT c.relnamespace FROM pg_catalog.pg_policy x JOIN pg_catalog.pg_class c ON c.oid = x.polrelid WHERE x.oid = d.objid)"
          + " WHEN 'pg_catalog.pg_statistic_ext'::pg_catalog.regclass THEN (SELECT x.stxnamespace FROM pg_catalog.pg_statistic_ext x WHERE x.oid = d.objid)"
          + " END";

  private static String builtOn(Question q) {
    return "SELECT count(*), (array_agg(e ORDER BY e))[1:5] FROM (SELECT DISTINCT i.type || ' ' || i.identity AS e FROM ("
        + roots(q)
        + ") o(class, id) JOIN pg_catalog.pg_depend d ON d.refclassid = o.class AND d.refobjid = o.id AND d.deptype IN ('n', 'a') LEFT JOIN pg_catalog.pg_rewrite v ON d.classid = 'pg_catalog.pg_rewrite'::pg_catalog.regclass AND v.oid = d.objid AND v.rulename = '_RETURN' CROSS JOIN LATERAL pg_catalog.pg_identify_object(CASE WHEN v.oid IS NULL THEN d.classid ELSE 'pg_catalog.pg_class'::pg_catalog.regclass END, coalesce(v.ev_class, d.objid), d.objsubid) i WHERE v.ev_class IS DISTINCT FROM o.id AND NOT EXISTS (SELECT 1 FROM pg_catalog.pg_namespace n WHERE n.oid = "
        + STANDS_IN
        + " AND n.nspname = ANY ("
        + labels(q.text().subList(2, q.text().size()))
        + "))) q";
  }
}
