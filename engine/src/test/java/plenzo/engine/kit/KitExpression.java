package plenzo.engine.kit;

import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Works out the few expressions that tests of the engine state, as SQL would: terms joined by
 * {@code ||}, each a column, a text in quotes, {@code upper(c)}, {@code lower(c)}, or {@code
 * split_part(c, ' ', n)}. Of nothing comes nothing.
 */
final class KitExpression {
  private static final Pattern CALL =
      Pattern.compile("(upper|lower|split_part)\\((\\w+)(?:, ' ', (\\d))?\\)");

  private KitExpression() {}

  static @Nullable String of(String expression, Map<String, @Nullable String> row) {
    StringBuilder out = new StringBuilder();
    for (String term : expression.split(" \\|\\| ")) {
      String value = term(term, row);
      if (value == null) {
        return null;
      }
      out.append(value);
    }
    return out.toString();
  }

  private static @Nullable String term(String term, Map<String, @Nullable String> row) {
    if (term.startsWith("'")) {
      return term.substring(1, term.length() - 1);
    }
    Matcher call = CALL.matcher(term);
    if (!call.matches()) {
      return row.get(term);
    }
    String value = row.get(call.group(2));
    if (value == null) {
      return null;
    }
    return switch (call.group(1)) {
      case "upper" -> value.toUpperCase(Locale.ROOT);
      case "lower" -> value.toLowerCase(Locale.ROOT);
      default -> {
        String[] parts = value.split(" ", -1);
        int n = Integer.parseInt(call.group(3));
        yield n <= parts.length ? parts[n - 1] : "";
      }
    };
  }
}
