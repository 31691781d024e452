package plenzo.core.table;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * What the rows of an index are told apart by, read from its definition as the server prints it.
 *
 * @param keys columns and expressions, each as it can stand in a query
 * @param where only rows of that condition are in it; null for all
 * @param nullsAreEqual whether rows without a value count as equal
 */
public record IndexKeys(List<String> keys, @Nullable String where, boolean nullsAreEqual) {
  public IndexKeys {
    keys = List.copyOf(keys);
  }

  private static final Pattern BEGINS =
      Pattern.compile("^CREATE (?:UNIQUE )?INDEX .*? USING btree \\(");

  private static final Pattern ORDER =
      Pattern.compile("(?: (?:ASC|DESC))?(?: NULLS (?:FIRST|LAST))?$");

  /** A column, plain or in quotes. */
  private static final Pattern COLUMN =
      Pattern.compile("[\\p{L}_][\\p{L}\\p{N}_$]*|\"(?:[^\"]|\"\")+\"");

  /**
   * Empty where one is told apart by more than that: another operator class or collation may find
   * values equal that are not, and another method knows no equal.
   */
  public static Optional<IndexKeys> of(Index index) {
    String text = index.definition();
    Matcher begin = BEGINS.matcher(text);
    if (!begin.find()) {
      return Optional.empty();
    }
    int end = closing(text, begin.end() - 1);
    if (end < 0) {
      return Optional.empty();
    }
    List<String> keys = new ArrayList<>();
    for (String part : parts(text.substring(begin.end(), end))) {
      String key = ORDER.matcher(part.strip()).replaceFirst("");
      if (!whole(key)) {
        return Optional.empty();
      }
      keys.add(key);
    }
    String rest = text.substring(end + 1);
    int where = rest.indexOf(" WHERE ");
    String behind = where < 0 ? rest : rest.substring(0, where);
    return Optional.of(
        new IndexKeys(
            keys,
            where < 0 ? null : rest.substring(where + " WHERE ".length()),
            behind.contains(" NULLS NOT DISTINCT")));
  }

  /** Its columns where it is over whole columns of all rows; empty else. */
  public Optional<List<String>> columns() {
    boolean plain =
        where == null && !nullsAreEqual && keys.stream().allMatch(k -> COLUMN.matcher(k).matches());
    return plain ? Optional.of(keys.stream().map(IndexKeys::unquoted).toList()) : Optional.empty();
  }

  /** A name without the quotes that it may stand in. */
  static String unquoted(String column) {
    return column.startsWith("\"")
        ? column.substring(1, column.length() - 1).replace("\"\"", "\"")
        : column;
  }

  /** A column, an expression in parentheses, or one call: nothing behind it. */
  static boolean whole(String key) {
    if (COLUMN.matcher(key).matches()) {
      return true;
    }
    int open = key.indexOf('(');
    if (open < 0 || closing(key, open) != key.length() - 1) {
      return false;
    }
    String name = key.substring(0, open);
    return name.isEmpty()
        || name.matches(
            "(?:(?:[\\p{L}_][\\p{L}\\p{N}_$]*|\"(?:[^\"]|\"\")+\")\\.)?(?:[\\p{L}_][\\p{L}\\p{N}_$]*|\"(?:[^\"]|\"\")+\")");
  }

  /** Where the parenthesis at a place is closed; −1 where it is not. */
  static int closing(String text, int open) {
    int depth = 0;
    for (int at = open; at < text.length(); at++) {
      char c = text.charAt(at);
      if (c == '\'' || c == '"') {
        at = text.indexOf(c, at + 1);
        if (at < 0) {
          return -1;
        }
      } else if (c == '(') {
        depth++;
      } else if (c == ')' && --depth == 0) {
        return at;
      }
    }
    return -1;
  }

  /** What stands between the commas that are in no parenthesis and no quotes. */
  static List<String> parts(String text) {
    List<String> out = new ArrayList<>();
    int depth = 0;
    int from = 0;
    for (int at = 0; at < text.length(); at++) {
      char c = text.charAt(at);
      if (c == '\'' || c == '"') {
        int end = text.indexOf(c, at + 1);
        at = end < 0 ? text.length() : end;
      } else if (c == '(' || c == '[') {
        depth++;
      } else if (c == ')' || c == ']') {
        depth--;
      } else if (c == ',' && depth == 0) {
        out.add(text.substring(from, at));
        from = at + 1;
      }
    }
    out.add(text.substring(from));
    return out;
  }
}
