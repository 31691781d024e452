package plenzo.core.table;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import plenzo.core.json.Json;

/**
 * How the values of a column are worked out from a row as it was: an SQL expression that a person
 * stated. It is part of the version, is shown before anybody agrees to it, and is held against
 * every row of a site beforehand.
 *
 * @param reads columns of the table that it reads, with the types that they had when it was stated
 */
public record Conversion(String expression, Map<String, String> reads) {
  /** Characters of an expression. */
  public static final int LONGEST = 2_000;

  private static final Pattern SIGNS =
      Pattern.compile(
          "'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|--|/\\*|\\*/|\\$[\\p{L}_0-9]*\\$|[()\\[\\];'\"\\\\\\p{Cntrl}&&[^\\n\\t\\r]]");

  public Conversion {
    reads = java.util.Collections.unmodifiableMap(new TreeMap<>(reads));
  }

  /**
   * What a person stated over the columns of a table.
   *
   * @throws IllegalArgumentException when it is no single expression; the message says why
   */
  public static Conversion of(String stated, TableStructure was) {
    return printed(checked(stated), was);
  }

  /** The same of an expression that the server printed. */
  public static Conversion printed(String expression, TableStructure was) {
    Set<String> words = words(expression);
    Map<String, String> reads = new TreeMap<>();
    was.columns().stream()
        .filter(c -> words.contains(c.name()))
        .forEach(c -> reads.put(c.name(), c.type()));
    return new Conversion(expression, reads);
  }

  /** Whether it has the word, as a name or for something else. */
  public boolean names(String word) {
    return words(expression).contains(word);
  }

  /**
   * @throws IllegalArgumentException when it could be more than one expression
   */
  public static String checked(String stated) {
    String expression = stated.strip();
    if (expression.isEmpty()) {
      throw wrong("it is empty");
    }
    if (expression.length() > LONGEST) {
      throw wrong("it has more than " + LONGEST + " characters");
    }
    if (expression.indexOf('\\') >= 0) {
      throw wrong("it cannot hold \\"); // in some texts it hides the end of the text
    }
    Deque<Character> open = new ArrayDeque<>();
    Matcher m = SIGNS.matcher(expression);
    while (m.find()) {
      String sign = m.group();
      switch (sign) {
        case "(", "[" -> open.push(sign.charAt(0));
        case ")", "]" -> {
          char wanted = sign.equals(")") ? '(' : '[';
          if (open.isEmpty() || open.pop() != wanted) {
            throw wrong("a " + sign + " closes nothing");
          }
        }
        case "'", "\"" -> throw wrong("a " + sign + " is not closed");
        default -> {
          if (sign.charAt(0) != '\'' && sign.charAt(0) != '"') {
            throw wrong("it cannot hold " + (sign.charAt(0) < ' ' ? "control characters" : sign));
          }
        }
      }
    }
    if (!open.isEmpty()) {
      throw wrong("a " + open.peek() + " is not closed");
    }
    return expression;
  }

  private static IllegalArgumentException wrong(String why) {
    return new IllegalArgumentException("The expression cannot be used: " + why);
  }

  private static final Pattern NAMES =
      Pattern.compile("'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"|[\\p{L}_][\\p{L}\\p{N}_$]*");

  /**
   * Every word and name in it as the server reads them: in small letters where it is not quoted.
   */
  private static Set<String> words(String expression) {
    return NAMES
        .matcher(expression)
        .results()
        .map(java.util.regex.MatchResult::group)
        .filter(token -> !token.startsWith("'"))
        .map(
            token ->
                token.startsWith("\"")
                    ? token.substring(1, token.length() - 1).replace("\"\"", "\"")
                    : token.toLowerCase(Locale.ROOT))
        .collect(Collectors.toSet());
  }

  /** Whether it asks other rows or tables. */
  public boolean asksElsewhere() {
    return words(expression).contains("select");
  }

  /** The same with other names of columns, from those that it has. */
  public Conversion renamed(Map<String, String> names, Renaming tables) {
    if (names.isEmpty() && tables.tables().isEmpty()) {
      return this;
    }
    Map<String, String> next = new TreeMap<>();
    reads.forEach((column, type) -> next.put(names.getOrDefault(column, column), type));
    return new Conversion(tables.qualified(Renaming.text(expression, names)), next);
  }

  /** Whether a table has every column that it reads, in the type that it was stated for. */
  public boolean isFor(TableStructure table) {
    return missing(table).isEmpty();
  }

  /** Columns that it reads and that the table has not so, in words. */
  public String missing(TableStructure table) {
    return reads.entrySet().stream()
        .filter(
            r ->
                table
                    .column(r.getKey())
                    .filter(c -> Objects.equals(c.type(), r.getValue()))
                    .isEmpty())
        .map(
            r ->
                r.getKey()
                    + " as "
                    + r.getValue()
                    + table.column(r.getKey()).map(c -> " (here " + c.type() + ")").orElse(""))
        .collect(Collectors.joining(", "));
  }

  public Json toJson() {
    Map<String, Json> texts = new TreeMap<>();
    reads.forEach((column, type) -> texts.put(column, new Json.Str(type)));
    return Json.object("expression", expression, "reads", Json.object(texts));
  }

  static Conversion of(Json.Obj j) {
    Map<String, String> reads = new TreeMap<>();
    if (j.find("reads") instanceof Json.Obj r) {
      r.members().keySet().forEach(column -> reads.put(column, r.text(column)));
    }
    return new Conversion(checked(j.text("expression")), reads);
  }
}
