package plenzo.core.table;

import java.util.Collection;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The sequences that a table's defaults draw from and that it does not own: by column, with the
 * name as the default has it, which may lack the schema where it is a text that is looked up when a
 * row is written.
 */
public record NeededSequences(Map<String, String> byColumn) {
  /** {@code nextval('fares.s'::regclass)} and {@code nextval(('s'::text)::regclass)}. */
  private static final Pattern DRAWS =
      Pattern.compile("\\b(?:nextval|currval|setval)\\(\\(?'((?:[^']|'')+)'");

  public NeededSequences {
    byColumn = Map.copyOf(byColumn);
  }

  public static NeededSequences of(TableStructure table) {
    Map<String, String> out = new TreeMap<>();
    for (Column c : table.columns()) {
      if (c.sequence() != null || c.defaultExpression() == null) {
        continue;
      }
      Matcher m = DRAWS.matcher(c.defaultExpression());
      if (m.find()) {
        out.put(c.name(), m.group(1).replace("''", "'").replace("\"", ""));
      }
    }
    return new NeededSequences(out);
  }

  /**
   * Those that neither a column of these tables owns nor stand there by themselves.
   *
   * @param alone names with their schema of sequences that no column owns
   */
  public Map<String, String> missing(Collection<TableStructure> tables, Collection<String> alone) {
    Map<String, String> out = new TreeMap<>(byColumn);
    out.values()
        .removeIf(
            name ->
                alone.stream().anyMatch(a -> same(name, a))
                    || tables.stream()
                        .flatMap(t -> t.columns().stream())
                        .map(Column::sequence)
                        .filter(Objects::nonNull)
                        .anyMatch(s -> same(name, s.name())));
    return out;
  }

  private static boolean same(String wanted, String there) {
    String bare = there.replace("\"", "");
    return wanted.equals(bare)
        || wanted.indexOf('.') < 0 && wanted.equals(bare.substring(bare.lastIndexOf('.') + 1))
        || bare.indexOf('.') < 0 && bare.equals(wanted.substring(wanted.lastIndexOf('.') + 1));
  }
}
