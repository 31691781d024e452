package plenzo.core.table;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Expressions as the server prints them once it has read what it printed. Of a few it prints other
 * words the second time, though nothing changed: {@code status IN ('a', 'b')} of a varchar, the
 * field of EXTRACT in capitals, rows that are compared, the name that a cast gives to a column
 * which had none inside of a query. What is made from a print would be found another than the
 * print, so that both are told by the words of the second time.
 */
public final class Printed {
  private static final String EXTRACT = "EXTRACT(";
  private static final String ARRAY = "(ARRAY[";

  private static final String CAST = "::";

  /** A cast and the name behind it, which ends there. */
  private static final Pattern NAMED =
      Pattern.compile(
          "::((?:\"(?:[^\"]|\"\"){1,130}\"|[A-Za-z_0-9. ]){1,200}?(?:\\([0-9,]+\\))?(?: with(?:out)? time zone)?(?:\\[])*) AS (\"[^\"]{1,130}\"|[a-z_0-9]+)(?=[,)\\s;]|$)");

  private static final Pattern FIELD = Pattern.compile("([A-Za-z_]+)( FROM )");

  /** A type of list elements, as it is printed behind the list. */
  private static final Pattern TYPE =
      Pattern.compile(
          "\\)::((?:\"(?:[^\"]|\"\"){1,130}\"|[A-Za-z_0-9.])[^\\[\\]'(]*(?:\\([0-9,]+\\)[^\\[\\]'(]*)?)\\[]");

  /** Groups inside of one another that are looked into (guess: what people write has a few). */
  private static final int DEEPEST = 100;

  private final String text;
  private int depth;

  private Printed(String text) {
    this.text = text;
  }

  /** The expression in the words that stay. */
  public static String of(String expression) {
    boolean moves =
        expression.contains(EXTRACT)
            || expression.contains(ARRAY)
            || expression.contains(") AND ")
            || expression.contains(") OR ")
            || expression.contains(CAST) && expression.contains(" AS ");
    return moves ? new Printed(expression).settled(0, expression.length()) : expression;
  }

  /** What stands between two places. */
  private String settled(int from, int to) {
    StringBuilder out = new StringBuilder();
    int i = from;
    while (i < to) {
      char c = text.charAt(i);
      int next;
      if (c == '\'' || c == '"') {
        next = behindQuoted(i, to);
        out.append(text, i, next);
      } else if (text.startsWith(EXTRACT, i) && !isWord(i - 1)) {
        next = field(i + EXTRACT.length(), out.append(EXTRACT));
      } else if (text.startsWith(ARRAY, i)) {
        next = list(i, to, out);
      } else if (c == '(') {
        next = group(i, to, out);
      } else if (text.startsWith(CAST, i)) {
        next = cast(i, to, out);
      } else {
        next = i + 1;
        out.append(c);
      }
      i = next;
    }
    return out.toString();
  }

  private boolean isWord(int at) {
    return at >= 0 && Character.isJavaIdentifierPart(text.charAt(at));
  }

  private int field(int at, StringBuilder out) {
    Matcher m = FIELD.matcher(text).region(at, text.length());
    if (!m.lookingAt()) {
      return at;
    }
    out.append(m.group(1).toLowerCase(Locale.ROOT)).append(m.group(2));
    return m.end();
  }

  /** A cast without the name that the server gives to a column by it. */
  private int cast(int at, int to, StringBuilder out) {
    Matcher m = NAMED.matcher(text).region(at, to);
    if (!m.lookingAt() || !m.group(2).equals(nameBy(m.group(1)))) {
      out.append(CAST);
      return at + CAST.length();
    }
    out.append(CAST).append(m.group(1));
    return m.end();
  }

  /** The name that a column gets by a cast to a type, as it is printed. */
  private static String nameBy(String type) {
    String plain = type.replaceAll("\\([0-9,]+\\)|\\[]", "");
    return switch (plain) {
      case "character varying" -> "\"varchar\"";
      case "character" -> "bpchar";
      case "integer" -> "int4";
      case "bigint" -> "int8";
      case "smallint" -> "int2";
      case "boolean" -> "bool";
      case "real" -> "float4";
      case "double precision" -> "float8";
      case "bit varying" -> "varbit";
      case "timestamp with time zone" -> "timestamptz";
      case "timestamp without time zone" -> "\"timestamp\"";
      case "time with time zone" -> "timetz";
      case "time without time zone" -> "\"time\"";
      case "numeric", "interval", "bit" -> "\"" + plain + "\"";
      default -> plain.substring(plain.lastIndexOf('.') + 1);
    };
  }

  /** A list whose elements get another type: each of them gets it when it is read. */
  private int list(int at, int to, StringBuilder out) {
    int first = at + ARRAY.length();
    int close = closing(first - 1, to);
    Matcher m = TYPE.matcher(text).region(Math.min(close + 1, to), to);
    if (close >= to || depth == DEEPEST || !m.lookingAt() || text.startsWith("ARRAY[", first)) {
      return group(at, to, out);
    }
    depth++;
    List<String> elements = new ArrayList<>();
    int begin = first;
    for (int i = first; i < close; ) {
      char c = text.charAt(i);
      if (c == '\'' || c == '"') {
        i = behindQuoted(i, close);
      } else if (c == '(' || c == '[') {
        i = closing(i, close) + 1;
      } else if (c == ',') {
        elements.add(settled(begin, i).strip());
        begin = ++i;
      } else {
        i++;
      }
    }
    elements.add(settled(begin, close).strip());
    depth--;
    out.append("ARRAY[");
    for (int n = 0; n < elements.size(); n++) {
      out.append(n == 0 ? "(" : ", (").append(elements.get(n)).append(")::").append(m.group(1));
    }
    out.append(']');
    return m.end();
  }

  /** A group in parentheses: one that is joined by AND and begins with such a group has it open. */
  private int group(int at, int to, StringBuilder out) {
    int close = closing(at, to);
    if (close >= to || depth == DEEPEST) {
      int end = Math.min(close + 1, to);
      out.append(text, at, end);
      return end;
    }
    out.append('(');
    depth++;
    String inside = settled(at + 1, close);
    depth--;
    for (String join : List.of(" AND ", " OR ")) {
      inside = opened(inside, join);
    }
    out.append(inside).append(')');
    return close + 1;
  }

  private static String opened(String inside, String join) {
    if (!inside.startsWith("(")) {
      return inside;
    }
    Printed p = new Printed(inside);
    int close = p.closing(0, inside.length());
    if (close >= inside.length() || !inside.startsWith(join, close + 1)) {
      return inside;
    }
    return p.isJoined(1, close, join)
        ? inside.substring(1, close) + inside.substring(close + 1)
        : inside;
  }

  /** Whether the join stands between two places, outside of what is inside there. */
  private boolean isJoined(int from, int to, String join) {
    for (int i = from; i < to; ) {
      char c = text.charAt(i);
      if (c == '\'' || c == '"') {
        i = behindQuoted(i, to);
      } else if (c == '(' || c == '[') {
        i = closing(i, to) + 1;
      } else if (text.startsWith(join, i)) {
        return true;
      } else {
        i++;
      }
    }
    return false;
  }

  /** The place of the bracket that closes the one here; the end where none does. */
  private int closing(int at, int to) {
    int open = 0;
    for (int i = at; i < to; ) {
      char c = text.charAt(i);
      if (c == '\'' || c == '"') {
        i = behindQuoted(i, to);
        continue;
      }
      open += c == '(' || c == '[' ? 1 : c == ')' || c == ']' ? -1 : 0;
      if (open == 0) {
        return i;
      }
      i++;
    }
    return to;
  }

  /** Behind a text or a name in quotes; one with backslashes begins with E. */
  private int behindQuoted(int at, int to) {
    char quote = text.charAt(at);
    boolean escapes = quote == '\'' && at > 0 && "eE".indexOf(text.charAt(at - 1)) >= 0;
    int i = at + 1;
    while (i < to) {
      char c = text.charAt(i++);
      if (escapes && c == '\\') {
        i++;
      } else if (c == quote) {
        if (i < to && text.charAt(i) == quote) {
          i++;
        } else {
          return i;
        }
      }
    }
    return to;
  }
}
