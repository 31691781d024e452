package plenzo.core.table;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What two rows must not have in common, read from an exclusion constraint as the server prints it:
 * no two rows may answer yes to all operators at once.
 *
 * @param columns without quotes
 * @param operators one for each column, as it can stand in a query
 * @param where only rows of that condition count; {@code true} for all
 */
public record ExclusionKeys(List<String> columns, List<String> operators, String where) {
  private static final Pattern BEGINS = Pattern.compile("^EXCLUDE USING [^ (]+ \\(");

  private static final Pattern ELEMENT =
      Pattern.compile(
          "([\\p{L}_][\\p{L}\\p{N}_$]*|\"(?:[^\"]|\"\")+\") WITH ([-+*/<>=~!@#%^&|`?]+|OPERATOR\\([^)]+\\))");

  public ExclusionKeys {
    columns = List.copyOf(columns);
    operators = List.copyOf(operators);
  }

  /**
   * Empty where it is about more than whole columns: an expression, or another operator class or
   * collation.
   */
  public static Optional<ExclusionKeys> of(String definition) {
    Matcher begin = BEGINS.matcher(definition);
    int end = begin.find() ? IndexKeys.closing(definition, begin.end() - 1) : -1;
    if (end < 0) {
      return Optional.empty();
    }
    List<String> columns = new ArrayList<>();
    List<String> operators = new ArrayList<>();
    for (String part : IndexKeys.parts(definition.substring(begin.end(), end))) {
      Matcher element = ELEMENT.matcher(part.strip());
      if (!element.matches()) {
        return Optional.empty();
      }
      columns.add(IndexKeys.unquoted(element.group(1)));
      operators.add(element.group(2));
    }
    String rest = definition.substring(end + 1);
    if (!rest.startsWith(" WHERE (")) {
      return Optional.of(new ExclusionKeys(columns, operators, "true"));
    }
    int open = " WHERE ".length();
    int close = IndexKeys.closing(rest, open);
    return close < 0
        ? Optional.empty()
        : Optional.of(new ExclusionKeys(columns, operators, rest.substring(open, close + 1)));
  }
}
