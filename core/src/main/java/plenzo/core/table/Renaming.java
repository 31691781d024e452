package plenzo.core.table;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;

/**
 * Columns that have another name afterwards, their values with them.
 *
 * @param columns by table, then from the name before to the name after
 */
public record Renaming(Map<TableName, Map<String, String>> columns) {
  public static final Renaming NONE = new Renaming(Map.of());

  public Renaming {
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
          if (!some.isEmpty()) {
            copy.put(table, java.util.Collections.unmodifiableMap(some));
          }
        });
    columns = java.util.Collections.unmodifiableMap(copy);
  }

  public boolean isEmpty() {
    return columns.isEmpty();
  }

  /** Of one table, from the name before to the name after. */
  public Map<String, String> of(TableName table) {
    return columns.getOrDefault(table, Map.of());
  }

  /** From the names after to the names before. */
  public Renaming inverse() {
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          Map<String, String> back = new TreeMap<>();
          names.forEach((was, is) -> back.put(is, was));
          out.put(table, back);
        });
    return new Renaming(out);
  }

  /** This one, then another. */
  public Renaming then(Renaming next) {
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach((table, names) -> out.put(table, new TreeMap<>(names)));
    next.columns.forEach(
        (table, names) -> {
          Map<String, String> all = out.computeIfAbsent(table, t -> new TreeMap<>());
          Map<String, String> more = new TreeMap<>(names);
          all.replaceAll(
              (was, is) -> {
                String then = more.remove(is);
                return then == null ? is : then;
              });
          all.putAll(more);
        });
    return new Renaming(out);
  }

  /** What of it there is to do: the table has the name before, and not the name after. */
  public Renaming atHand(Function<TableName, Optional<TableStructure>> there) {
    Map<TableName, Map<String, String>> out = new LinkedHashMap<>();
    columns.forEach(
        (table, names) -> {
          TableStructure is = there.apply(table).orElse(TableStructure.EMPTY);
          Map<String, String> some = new TreeMap<>();
          names.forEach(
              (was, next) -> {
                if (is.column(was).isPresent() && is.column(next).isEmpty()) {
                  some.put(was, next);
                }
              });
          out.put(table, some);
        });
    return new Renaming(out);
  }

  /** A table as it is afterwards; its constraints and indexes name the columns as they are then. */
  public TableStructure of(TableName table, TableStructure before) {
    Map<String, String> own = of(table);
    boolean pointed =
        before.foreignKeys().stream()
            .anyMatch(k -> k.references() != null && !of(k.references()).isEmpty());
    if (own.isEmpty() && !pointed) {
      return before;
    }
    return new TableStructure(
        before.columns().stream()
            .map(c -> c.named(own.getOrDefault(c.name(), c.name())))
            .map(c -> c.generated() == null ? c : c.computed(text(c.generated(), own)))
            .toList(),
        before.constraints().stream().map(k -> constraint(k, own)).toList(),
        before.indexes().stream()
            .map(i -> new Index(i.name(), i.unique(), text(i.definition(), own)))
            .toList(),
        before.comment(),
        names(before.order(), own),
        before.settings().stream().map(s -> setting(s, own)).toList());
  }

  /** A rule's text is the server's own. */
  private static Setting setting(Setting s, Map<String, String> own) {
    String column = s.column().orElse("");
    if (!column.isEmpty()) {
      String sort = s.name().substring(0, s.name().length() - column.length());
      return new Setting(sort + own.getOrDefault(column, column), s.value());
    }
    return s.name().startsWith(Setting.STATISTICS)
        ? new Setting(s.name(), text(s.value(), own))
        : s;
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
    Map<String, String> there = other == null ? Map.of() : of(other);
    int at = other == null ? -1 : k.definition().indexOf(" REFERENCES ");
    String definition =
        at < 0
            ? text(k.definition(), own)
            : text(k.definition().substring(0, at), own)
                + text(k.definition().substring(at), there);
    return new Constraint(
        k.name(),
        k.type(),
        definition,
        names(k.columns(), own),
        other,
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

  /** As the server prints a name: in quotes where it is no plain word. */
  private static String quoted(String name) {
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

  /** Lines for people: "price of fares.band becomes base_price". */
  public List<String> words() {
    List<String> out = new ArrayList<>();
    columns.forEach(
        (table, names) ->
            names.forEach((was, is) -> out.add(was + " of " + table + " becomes " + is)));
    return out;
  }
}
