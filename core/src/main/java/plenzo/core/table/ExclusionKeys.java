package plenzo.core.table;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;

/**
 * What two rows must not have in common, read from an exclusion constraint as the server prints it:
 * no two rows may answer yes to all operators at once.
 *
 * @param keys columns and expressions, each as it can stand in a query
 * @param operators one for each key, as it can stand in a query
 * @param where only rows of that condition count; {@code true} for all
 */
public record ExclusionKeys(List<String> keys, List<String> operators, String where) {
  private static final Pattern BEGINS = Pattern.compile("^EXCLUDE USING [^ (]+ \\(");

  private static final Pattern ELEMENT =
      Pattern.compile("(.+) WITH ([-+*/<>=~!@#%^&|`?]+|OPERATOR\\([^)]+\\))", Pattern.DOTALL);

  /** The server's own ranges, whose ends it can put in order; their functions have their names. */
  private static final Set<String> RANGES =
      Set.of("int4range", "int8range", "numrange", "tsrange", "tstzrange", "daterange");

  public ExclusionKeys {
    keys = List.copyOf(keys);
    operators = List.copyOf(operators);
  }

  /**
   * Empty where it is about more than values: another operator class or collation may find others
   * beside one another.
   */
  public static Optional<ExclusionKeys> of(String definition) {
    Matcher begin = BEGINS.matcher(definition);
    int end = begin.find() ? IndexKeys.closing(definition, begin.end() - 1) : -1;
    if (end < 0) {
      return Optional.empty();
    }
    List<String> keys = new ArrayList<>();
    List<String> operators = new ArrayList<>();
    for (String part : IndexKeys.parts(definition.substring(begin.end(), end))) {
      Matcher element = ELEMENT.matcher(part.strip());
      if (!element.matches() || !IndexKeys.whole(element.group(1))) {
        return Optional.empty();
      }
      keys.add(element.group(1));
      operators.add(element.group(2));
    }
    String rest = definition.substring(end + 1);
    if (!rest.startsWith(" WHERE (")) {
      return Optional.of(new ExclusionKeys(keys, operators, "true"));
    }
    int open = " WHERE ".length();
    int close = IndexKeys.closing(rest, open);
    return close < 0
        ? Optional.empty()
        : Optional.of(new ExclusionKeys(keys, operators, rest.substring(open, close + 1)));
  }

  /**
   * The one range that must not overlap, where all else must be equal: such rows are counted in
   * their order, and none has to be held against each.
   */
  public Optional<String> overlapping(TableStructure table) {
    List<Integer> other =
        IntStream.range(0, keys.size()).filter(i -> !operators.get(i).equals("=")).boxed().toList();
    return other.size() == 1
            && operators.get(other.get(0)).equals("&&")
            && isRange(keys.get(other.get(0)), table)
        ? Optional.of(keys.get(other.get(0)))
        : Optional.empty();
  }

  private static boolean isRange(String key, TableStructure table) {
    int open = key.indexOf('(');
    return open > 0
        ? RANGES.contains(key.substring(0, open))
        : table
            .column(IndexKeys.unquoted(key))
            .map(Column::type)
            .filter(RANGES::contains)
            .isPresent();
  }
}
