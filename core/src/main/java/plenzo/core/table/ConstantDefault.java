package plenzo.core.table;

import java.math.BigDecimal;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A default that is one value, so that a value equal to it was not typed by anybody; compared as
 * the column's type compares.
 *
 * @param text the default as the server prints it, null when there is none or it is no constant
 * @param value the value that it gives
 */
public record ConstantDefault(@Nullable String text, @Nullable String value, boolean number) {
  private static final Pattern CONSTANT =
      Pattern.compile(
          "-?[0-9.]+|true|false|('(?:[^']|'')*')"
              + "(?:::(?:[a-z_0-9. ]|\"(?:[^\"]|\"\")+\")+(?:\\([0-9,]+\\))?(?:\\[\\])?)?");
  private static final Pattern NUMBERS =
      Pattern.compile("(smallint|integer|bigint|numeric|real|double).*");

  public static ConstantDefault of(@Nullable Column column) {
    String text = column == null ? null : column.defaultExpression();
    Matcher constant = CONSTANT.matcher(text == null ? "" : text);
    if (column == null || text == null || !constant.matches()) {
      return new ConstantDefault(null, null, false);
    }
    String quoted = constant.group(1);
    String bare =
        quoted == null ? text : quoted.substring(1, quoted.length() - 1).replace("''", "'");
    boolean yes = bare.equals("true") || bare.equals("false");
    return new ConstantDefault(
        text,
        yes && !text.startsWith("'") ? bare.substring(0, 1) : bare,
        NUMBERS.matcher(column.type()).matches());
  }

  public boolean is(String other) {
    if (value == null || !number) {
      return other.equals(value);
    }
    try {
      return new BigDecimal(other).compareTo(new BigDecimal(value)) == 0;
    } catch (NumberFormatException e) {
      return other.equals(value); // NaN and Infinity
    }
  }
}
