package plenzo.core.table;

import java.util.HashMap;
import java.util.Map;

/**
 * The numbers by which a server knows a table and its columns, whatever they are called.
 *
 * @param table object id; another one for a table that was made anew
 * @param columns attribute number of each column, by its name
 */
public record Numbered(long table, Map<String, Integer> columns) {
  public Numbered {
    columns = Map.copyOf(columns);
  }

  /** The same by other names of its columns. */
  public Numbered named(Map<String, String> names) {
    Map<String, Integer> out = new HashMap<>();
    columns.forEach((name, n) -> out.put(names.getOrDefault(name, name), n));
    return new Numbered(table, out);
  }
}
