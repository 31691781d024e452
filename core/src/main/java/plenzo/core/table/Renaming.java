package plenzo.core.table;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiPredicate;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;

/**
 * Tables and columns that have another name afterwards, their rows and values with them; all at
 * once, so that one may take the name that another gives up. Constraints, indexes and sequences of
 * a renamed table keep their names, as the server has it. What is new and takes a name that was
 * given up stands among them by a name that nothing has before, so that it is never taken for the
 * other one, in either direction ({@link #taking}).
 *
 * @param tables from the name before to the name after
 * @param columns by the table's name after, then from the name before to the name after
 */
public record Renaming(
    Map<TableName, TableName> tables, Map<TableName, Map<String, String>> columns) {
  public static final Renaming NONE = new Renaming(Map.of(), Map.of());

  public Renaming {
    Map<TableName, TableName> others = new LinkedHashMap<>();
    tables.forEach(
        (was, is) -> {
          if (!was.equals(is)) {
            others.put(was, is);
          }
        });
    GivingWay.settle(others);
    tables = java.util.Collections.unmodifiableMap(others);
    Map<TableName, Map<String, String>> copy = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          Map<String, String> some = new TreeMap<>();
          names.forEach(
              (was, is) -> {
                if (!was.equals(is)) {
                  some.put(was, is);
                }
              });
          GivingWay.settle(some);
          if (!some.isEmpty()) {
            copy.put(table, java.util.Collections.unmodifiableMap(some));
          }
        });
    columns = java.util.Collections.unmodifiableMap(copy);
  }

  /** Of columns alone. */
  public static Renaming ofColumns(Map<TableName, Map<String, String>> columns) {
    return new Renaming(Map.of(), columns);
  }

  /**
   * The same, with what is new afterwards under a name that was given up.
   *
   * @param table whether a table has the name afterwards
   * @param column whether a table, by its name afterwards, has a column of the name then
   */
  public Renaming taking(Predicate<TableName> table, BiPredicate<TableName, String> column) {
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (of, names) ->
            out.put(of, GivingWay.taking(names, c -> column.test(of, c), GivingWay::of)));
    return new Renaming(GivingWay.taking(tables, table, GivingWay::of), out);
  }

  /**
   * The same, with what goes because another takes its name.
   *
   * @param table whether a table had the name before
   * @param column whether a table, by its name before, had a column of the name then
   */
  public Renaming leaving(Predicate<TableName> table, BiPredicate<TableName, String> column) {
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (of, names) ->
            out.put(
                of, GivingWay.leaving(names, c -> column.test(before(of), c), GivingWay::older)));
    return new Renaming(GivingWay.leaving(tables, table, GivingWay::older), out);
  }

  /** Columns of a table by its name after that go because others take their names. */
  public Set<String> givingWay(TableName after) {
    Set<String> out = new LinkedHashSet<>(columns(after).values());
    out.removeIf(n -> !GivingWay.isOlder(n));
    return out;
  }

  /** Tables that go because others take their names. */
  public Set<TableName> givingWay() {
    Set<TableName> out = new LinkedHashSet<>(tables.values());
    out.removeIf(t -> !GivingWay.isOlder(t.table()));
    return out;
  }

  public boolean isEmpty() {
    return columns.isEmpty() && tables.isEmpty();
  }

  /** Columns of one table, from the name before to the name after. */
  public Map<String, String> columns(TableName after) {
    return columns.getOrDefault(after, Map.of());
  }

  /** Columns of one table that were there before, and stay. */
  public Map<String, String> renamedColumns(TableName after) {
    Map<String, String> out = new TreeMap<>(columns(after));
    out.keySet().removeIf(GivingWay::is);
    out.values().removeIf(GivingWay::isOlder);
    return out;
  }

  /**
   * Names of a table's columns, with what goes because another takes its name.
   *
   * @param had whether it had a column of the name before
   */
  public static Map<String, String> leaving(Map<String, String> columns, Predicate<String> had) {
    return GivingWay.leaving(columns, had, GivingWay::older);
  }

  /** The name of what goes, once another has its own. */
  public static String older(String name) {
    return GivingWay.older(name);
  }

  /** Whether it is the name of what goes because another takes its own. */
  public static boolean isGoing(String column) {
    return GivingWay.isOlder(column);
  }

  /** The name that a table has afterwards. */
  public TableName named(TableName before) {
    return tables.getOrDefault(before, before);
  }

  /** The name that a table had before; one that nothing has where it is new, by a name given up. */
  public TableName before(TableName after) {
    return tables.entrySet().stream()
        .filter(t -> t.getValue().equals(after))
        .map(Map.Entry::getKey)
        .findFirst()
        .orElse(after);
  }

  /** Whether a table has another name afterwards. */
  public boolean isRenamed(TableName after) {
    return tables.entrySet().stream()
        .anyMatch(t -> t.getValue().equals(after) && !GivingWay.is(t.getKey()));
  }

  /** Whether a name was given up, and no other table that was there took it. */
  public boolean isAway(TableName name) {
    return tables.containsKey(name) && !isRenamed(name);
  }

  /** Whether a table or a column of it has another name afterwards. */
  public boolean touches(TableName after) {
    return columns.containsKey(after) || isRenamed(after);
  }

  /** Every table that has another name afterwards, or a column that has, by its name after. */
  public Set<TableName> touched() {
    Set<TableName> out = new LinkedHashSet<>(tables.values());
    out.removeIf(t -> !isRenamed(t));
    out.addAll(columns.keySet());
    return out;
  }

  /** What a component is called afterwards: a table, its records, what works on it. */
  public ComponentKey named(ComponentKey before) {
    if (tables.isEmpty()) {
      return before;
    }
    return switch (before.kind()) {
      case TABLE, RECORDS ->
          new ComponentKey(before.kind(), named(TableName.of(before.name())).componentName());
      case TRIGGER, POLICY, GRANT -> {
        ObjectName name = ObjectName.of(before);
        TableName on = Objects.requireNonNull(name.on());
        yield tables.containsKey(on)
            ? ObjectName.on(named(on), name.name()).key(before.kind())
            : before;
      }
      default -> before;
    };
  }

  /** Whether it is, or works on, a table that gives way. */
  public boolean isNew(ComponentKey after) {
    return !inverse().named(after).equals(after) && GivingWay.is(table(after));
  }

  /** Whether it is, or works on, a table that goes because another takes its name. */
  public static boolean isGoing(ComponentKey key) {
    return switch (key.kind()) {
      case TABLE, RECORDS, TRIGGER, POLICY, GRANT -> GivingWay.isOlder(table(key).table());
      default -> false;
    };
  }

  private static TableName table(ComponentKey key) {
    return switch (key.kind()) {
      case TABLE, RECORDS -> TableName.of(key.name());
      default -> Objects.requireNonNull(ObjectName.of(key).on());
    };
  }

  /** From the names after to the names before. */
  public Renaming inverse() {
    Map<TableName, TableName> others = new LinkedHashMap<>();
    tables.forEach((was, is) -> others.put(is, was));
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          Map<String, String> back = new TreeMap<>();
          names.forEach((was, is) -> back.put(is, was));
          out.put(before(table), back);
        });
    return new Renaming(others, out);
  }

  /** Whether it is more than what {@link #taking} and {@link #leaving} tell again. */
  private static boolean goesOn(Object was, Object is) {
    boolean newer = GivingWay.isOne(was) && !GivingWay.isOlderOne(was);
    return !newer && !GivingWay.isOlderOne(is);
  }

  /**
   * This one, then another. What of this one is new or goes is told by {@link #taking} and {@link
   * #leaving} again.
   */
  public Renaming then(Renaming next) {
    Map<TableName, TableName> others = new LinkedHashMap<>();
    tables.forEach(
        (was, is) -> {
          if (goesOn(was, is)) {
            others.put(was, next.named(is));
          }
        });
    next.tables.forEach(
        (was, is) -> {
          if (!tables.containsValue(was)) {
            // one that gave the name up was called so before, and has another by now
            others.putIfAbsent(was, is);
          }
        });
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          Map<String, String> own = new TreeMap<>(names);
          own.entrySet().removeIf(n -> !goesOn(n.getKey(), n.getValue()));
          out.put(next.named(table), own);
        });
    next.columns.forEach(
        (table, names) -> {
          Map<String, String> all = out.computeIfAbsent(table, t -> new TreeMap<>());
          Map<String, String> more = new TreeMap<>(names);
          all.replaceAll(
              (was, is) -> {
                String then = more.remove(is);
                return then == null ? is : then;
              });
          more.forEach(all::putIfAbsent);
        });
    return new Renaming(others, out);
  }

  /**
   * What of names there is to do: one is there, and the name that it gets is free, or given up by
   * another one of them. Something new gives way where what had its name is there to take it.
   *
   * @param there whether something has the name
   * @param open whether names that change places among themselves have not done so yet, which what
   *     is there does not tell
   * @return what has a name now by the one that it gets; last, what is new afterwards under one of
   *     the names that are given up
   */
  public static <N> Map<N, N> atHand(
      Map<N, N> names, Predicate<N> there, Predicate<Map<N, N>> open) {
    Map<N, N> out = new LinkedHashMap<>();
    boolean more = true;
    while (more) {
      more = false;
      for (Map.Entry<N, N> n : names.entrySet()) {
        boolean free = !there.test(n.getValue()) || out.containsKey(n.getValue());
        boolean asked =
            !GivingWay.isOne(n.getValue())
                || names.entrySet().stream()
                    .anyMatch(o -> o.getValue().equals(n.getKey()) && there.test(o.getKey()));
        if (free && asked && !out.containsKey(n.getKey()) && there.test(n.getKey())) {
          out.put(n.getKey(), n.getValue());
          more = true;
        }
      }
    }
    names.forEach(
        (was, is) -> {
          if (GivingWay.isOne(was) && out.containsKey(is)) {
            out.put(was, is);
          }
        });
    cycles(names).stream()
        .filter(c -> c.keySet().stream().allMatch(there))
        .filter(open)
        .forEach(out::putAll);
    return out;
  }

  /** Whether tables, or columns of one, change places among themselves. */
  public boolean exchanges() {
    return !cycles(tables).isEmpty()
        || columns.values().stream().anyMatch(c -> !cycles(c).isEmpty());
  }

  /** Whether a name is that of something else afterwards. */
  public boolean reuses() {
    return exchanges()
        || !givingWay().isEmpty()
        || columns.keySet().stream().anyMatch(t -> !givingWay(t).isEmpty());
  }

  /** Names that change places among themselves, each lot by itself. */
  public static <N> List<Map<N, N>> cycles(Map<N, N> names) {
    List<Map<N, N>> out = new ArrayList<>();
    Set<N> seen = new LinkedHashSet<>();
    for (N first : names.keySet()) {
      Map<N, N> way = new LinkedHashMap<>();
      N at = first;
      while (names.containsKey(at) && seen.add(at)) {
        way.put(at, Objects.requireNonNull(names.get(at)));
        at = way.get(at);
      }
      if (!way.isEmpty() && at.equals(first)) {
        out.add(way);
      }
    }
    return out;
  }

  /**
   * Whether something gives its name to what had it before, and goes.
   *
   * @param is the name that it gets, of a column or of a table with its schema
   */
  public static boolean givesWay(String was, String is) {
    return !was.equals(is)
        && GivingWay.is(is.endsWith("\"") ? is.substring(0, is.length() - 1) : is);
  }

  /**
   * Names to give, one after the other, each of them free by then: of those that change places, one
   * stands aside in between.
   *
   * @param aside the name that it has then
   */
  private static <N> List<Map.Entry<N, N>> inOrder(Map<N, N> names, UnaryOperator<N> aside) {
    List<Map.Entry<N, N>> out = new ArrayList<>();
    atHand(names, n -> names.containsKey(n) && !GivingWay.isOne(n), c -> false).entrySet().stream()
        .filter(n -> !GivingWay.isOne(n.getKey()))
        .forEach(out::add);
    for (Map<N, N> cycle : cycles(names)) {
      List<Map.Entry<N, N>> around = new ArrayList<>(cycle.entrySet());
      N first = around.get(0).getKey();
      N between = aside.apply(first);
      out.add(Map.entry(first, between));
      for (int n = around.size() - 1; n > 0; n--) {
        out.add(around.get(n));
      }
      out.add(Map.entry(between, around.get(0).getValue()));
    }
    return out;
  }

  /** Columns of a table by its name after, one after the other, each new name free by then. */
  public List<Map.Entry<String, String>> columnsInOrder(TableName after) {
    return inOrder(columns(after), GivingWay::aside);
  }

  /** Tables, one after the other, each new name free by then. */
  public List<Map.Entry<TableName, TableName>> tablesInOrder() {
    return inOrder(tables, t -> new TableName(t.schema(), GivingWay.aside(t.table())));
  }

  /**
   * What of it there is to do.
   *
   * @param there a table by the name that it has
   * @param exchanges tells of names that change places
   */
  public Renaming atHand(Function<TableName, Optional<TableStructure>> there, Exchanges exchanges) {
    Map<TableName, TableName> others =
        atHand(
            tables,
            t -> there.apply(t).isPresent(),
            c -> exchanges.tables(c) == Exchanges.Progress.TO_DO);
    Renaming found = new Renaming(others, Map.of());
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          TableName now = found.before(table);
          TableStructure is = there.apply(now).orElse(TableStructure.EMPTY);
          out.put(
              table,
              atHand(
                  names,
                  c -> is.column(c).isPresent(),
                  c -> exchanges.columns(before(table), now, c) == Exchanges.Progress.TO_DO));
        });
    return new Renaming(others, out);
  }

  /**
   * A table as it is afterwards; its constraints and indexes name tables and columns as they are
   * then.
   *
   * @param table its name before
   */
  public TableStructure of(TableName table, TableStructure before) {
    Map<String, String> own = columns(named(table));
    boolean pointed =
        before.foreignKeys().stream()
            .anyMatch(k -> k.references() != null && touches(named(k.references())));
    if (own.isEmpty() && !pointed && tables.isEmpty()) {
      return before;
    }
    return new TableStructure(
        before.columns().stream()
            .map(c -> c.named(own.getOrDefault(c.name(), c.name())))
            .map(c -> c.generated() == null ? c : c.computed(text(c.generated(), own)))
            .map(c -> moved(table, c))
            .toList(),
        before.constraints().stream().map(k -> constraint(k, own)).toList(),
        before.indexes().stream()
            .map(i -> new Index(i.name(), i.unique(), qualified(text(i.definition(), own))))
            .toList(),
        before.comment(),
        before.places().named(own),
        before.settings().stream().map(s -> setting(table, s, own)).toList());
  }

  /** A column whose default draws from its own sequence, which goes to another schema with it. */
  private Column moved(TableName table, Column c) {
    String schema = named(table).schema();
    String text = c.defaultExpression();
    OwnedSequence owned = c.sequence();
    if (owned == null || text == null || schema.equals(table.schema())) {
      return c;
    }
    return c.withDefault(
        text.replace(
            "'" + literal(table.schema(), owned) + "'", "'" + literal(schema, owned) + "'"));
  }

  private static String literal(String schema, OwnedSequence owned) {
    return (quoted(schema) + "." + quoted(owned.name())).replace("'", "''");
  }

  /** Behind a rule whose words for the new names only the server knows: it equals no other. */
  private static final String BEFORE = " /* by its names of before */";

  /** Whether a rule is told by the names of before: which columns it holds is not known then. */
  static boolean isByNamesOfBefore(Setting rule) {
    return rule.value().endsWith(BEFORE);
  }

  /** What a partition's own key stands behind. */
  private static final String BY = " PARTITION BY ";

  /** A rule is printed in words of the server's own, so that it is made again. */
  private Setting setting(TableName table, Setting s, Map<String, String> own) {
    String column = s.column().orElse("");
    if (!column.isEmpty()) {
      String sort = s.name().substring(0, s.name().length() - column.length());
      return new Setting(sort + own.getOrDefault(column, column), s.value());
    }
    if (s.partitions()) {
      int key = s.name().equals(Setting.PARTITIONED) ? 0 : s.value().indexOf(BY);
      return new Setting(
          s.name(),
          key < 0
              ? qualified(s.value())
              : qualified(s.value().substring(0, key)) + text(s.value().substring(key), own));
    }
    if (s.inherits()) {
      TableName parent = TableName.of(s.name().substring(Setting.INHERITS.length()));
      return new Setting(Setting.INHERITS + named(parent).componentName(), s.value());
    }
    if (s.name().startsWith(Setting.STATISTICS)) {
      return new Setting(s.name(), qualified(text(s.value(), own)));
    }
    if (s.name().startsWith(Setting.RULE)) {
      String is = qualified(s.value());
      boolean touched = !own.isEmpty() || tables.containsKey(table) || !is.equals(s.value());
      boolean marked = is.endsWith(BEFORE); // taken back, it is as the server printed it
      String next = marked ? is.substring(0, is.length() - BEFORE.length()) : is + BEFORE;
      return touched ? new Setting(s.name(), next) : s;
    }
    return s;
  }

  /** Whether an expression as the server prints it names a column. */
  public static boolean names(String expression, String column) {
    return !text(expression, Map.of(column, column + "_")).equals(expression);
  }

  /**
   * Whether a statement as the server prints it names a column anywhere, behind a dot too: of
   * whichever table.
   */
  public static boolean mentions(String statement, String column) {
    return TOKENS
        .matcher(statement)
        .results()
        .map(java.util.regex.MatchResult::group)
        .anyMatch(token -> !token.startsWith("'") && IndexKeys.unquoted(token).equals(column));
  }

  private Constraint constraint(Constraint k, Map<String, String> own) {
    TableName other = k.references();
    Map<String, String> there = other == null ? Map.of() : columns(named(other));
    int at = other == null ? -1 : k.definition().indexOf(" REFERENCES ");
    String definition =
        at < 0
            ? text(k.definition(), own)
            : text(k.definition().substring(0, at), own)
                + qualified(text(k.definition().substring(at), there));
    return new Constraint(
        k.name(),
        k.type(),
        definition,
        names(k.columns(), own),
        other == null ? null : named(other),
        names(k.referencedColumns(), there));
  }

  /** Names as they are afterwards. */
  public static List<String> names(List<String> before, Map<String, String> renamed) {
    return before.stream().map(n -> renamed.getOrDefault(n, n)).toList();
  }

  /** A header of rows with the names of afterwards. */
  public static Header header(Header before, Map<String, String> renamed) {
    return new Header(names(before.names(), renamed), before.types(), before.keyColumns());
  }

  /** A text in quotes, a name in quotes, a word. */
  private static final Pattern TOKENS =
      Pattern.compile("'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|[\\p{L}_][\\p{L}\\p{N}_$]*");

  /**
   * An expression as the server prints it, with the columns' names of afterwards. What is called or
   * stands behind a dot is no column of the table.
   */
  public static String text(String expression, Map<String, String> renamed) {
    if (renamed.isEmpty()) {
      return expression;
    }
    StringBuilder out = new StringBuilder();
    int at = 0;
    Matcher m = TOKENS.matcher(expression);
    while (m.find()) {
      String token = m.group();
      String next = token.startsWith("'") ? null : renamed.get(IndexKeys.unquoted(token));
      boolean behindDot = m.start() > 0 && expression.charAt(m.start() - 1) == '.';
      boolean called = m.end() < expression.length() && expression.charAt(m.end()) == '(';
      boolean dot = m.end() < expression.length() && expression.charAt(m.end()) == '.';
      out.append(expression, at, m.start())
          .append(next == null || behindDot || called || dot ? token : quoted(next));
      at = m.end();
    }
    return out.append(expression.substring(at)).toString();
  }

  /**
   * A statement as the server prints it, with the tables' names of afterwards, each with its
   * schema.
   */
  public String qualified(String statement) {
    if (tables.isEmpty()) {
      return statement;
    }
    StringBuilder out = new StringBuilder();
    int at = 0;
    Matcher m = TOKENS.matcher(statement);
    String schema = null;
    int begin = 0;
    int end = -2;
    while (m.find()) {
      String token = m.group();
      TableName is =
          schema == null || end + 1 != m.start() || statement.charAt(end) != '.'
              ? null
              : tables.get(new TableName(schema, IndexKeys.unquoted(token)));
      if (is != null) {
        out.append(statement, at, begin)
            .append(quoted(is.schema()))
            .append('.')
            .append(quoted(is.table()));
        at = m.end();
      }
      boolean name = !token.startsWith("'");
      boolean behindDot = m.start() > 0 && statement.charAt(m.start() - 1) == '.';
      schema = name && !behindDot ? IndexKeys.unquoted(token) : null;
      begin = m.start();
      end = m.end();
    }
    return out.append(statement.substring(at)).toString();
  }

  /** As the server prints a name: in quotes where it is no plain word. */
  public static String quoted(String name) {
    return name.matches("[a-z_][a-z0-9_]*") && !WORDS.contains(name)
        ? name
        : "\"" + name.replace("\"", "\"\"") + "\"";
  }

  /** Words of SQL that the server prints in quotes where they are names. */
  private static final java.util.Set<String> WORDS =
      java.util.Set.of(
          "all",
          "analyse",
          "analyze",
          "and",
          "any",
          "array",
          "as",
          "asc",
          "asymmetric",
          "between",
          "bigint",
          "bit",
          "boolean",
          "both",
          "case",
          "cast",
          "char",
          "character",
          "check",
          "coalesce",
          "collate",
          "column",
          "constraint",
          "create",
          "current_date",
          "current_role",
          "current_time",
          "current_timestamp",
          "current_user",
          "dec",
          "decimal",
          "default",
          "deferrable",
          "desc",
          "distinct",
          "do",
          "else",
          "end",
          "except",
          "exists",
          "extract",
          "false",
          "fetch",
          "float",
          "for",
          "foreign",
          "from",
          "grant",
          "greatest",
          "group",
          "grouping",
          "having",
          "in",
          "initially",
          "inout",
          "int",
          "integer",
          "intersect",
          "interval",
          "into",
          "join",
          "lateral",
          "leading",
          "least",
          "left",
          "like",
          "limit",
          "localtime",
          "localtimestamp",
          "national",
          "natural",
          "nchar",
          "none",
          "normalize",
          "not",
          "null",
          "nullif",
          "numeric",
          "offset",
          "on",
          "only",
          "or",
          "order",
          "out",
          "outer",
          "overlaps",
          "overlay",
          "placing",
          "position",
          "precision",
          "primary",
          "real",
          "references",
          "returning",
          "right",
          "row",
          "select",
          "session_user",
          "setof",
          "similar",
          "smallint",
          "some",
          "substring",
          "symmetric",
          "table",
          "then",
          "time",
          "timestamp",
          "to",
          "trailing",
          "treat",
          "trim",
          "true",
          "union",
          "unique",
          "user",
          "using",
          "values",
          "varchar",
          "variadic",
          "when",
          "where",
          "window",
          "with",
          "xmlelement");

  /**
   * Lines for people: "fares.band becomes fares.rate", "price of fares.rate becomes base_price".
   */
  public List<String> words() {
    List<String> out = new ArrayList<>();
    tables.forEach(
        (was, is) ->
            out.add(
                GivingWay.is(was)
                    ? is + " is another table from then on"
                    : was + " becomes " + is + (GivingWay.is(is) ? ", and goes" : "")));
    columns.forEach(
        (table, names) ->
            names.forEach(
                (was, is) ->
                    out.add(
                        GivingWay.is(was)
                            ? is + " of " + table + " is another column from then on"
                            : was
                                + " of "
                                + table
                                + " becomes "
                                + is
                                + (GivingWay.is(is) ? ", and goes" : ""))));
    return out;
  }
}
