package plenzo.core.table;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;

/**
 * Columns whose values are worked out from rows as they were.
 *
 * @param tables by the name of the table, then of the column, as both are called afterwards
 */
public record Conversions(Map<TableName, Map<String, Conversion>> tables) {
  public static final Conversions NONE = new Conversions(Map.of());

  public Conversions {
    Map<TableName, Map<String, Conversion>> copy = new LinkedHashMap<>();
    tables.forEach(
        (table, columns) -> {
          if (!columns.isEmpty()) {
            copy.put(table, java.util.Collections.unmodifiableMap(new TreeMap<>(columns)));
          }
        });
    tables = java.util.Collections.unmodifiableMap(copy);
  }

  public boolean isEmpty() {
    return tables.isEmpty();
  }

  /** Columns of one table. */
  public Map<String, Conversion> of(TableName table) {
    return tables.getOrDefault(table, Map.of());
  }

  /** These and others; of one column the others. */
  public Conversions and(Conversions others) {
    Map<TableName, Map<String, Conversion>> out = new LinkedHashMap<>();
    tables.forEach((table, columns) -> out.put(table, new TreeMap<>(columns)));
    others.tables.forEach(
        (table, columns) -> out.computeIfAbsent(table, t -> new TreeMap<>()).putAll(columns));
    return new Conversions(out);
  }

  /** The same by the names of afterwards, both what is worked out and what it is worked out of. */
  public Conversions renamed(Renaming names) {
    return named(names, /* madeToo= */ true);
  }

  /** Only what is worked out keeps its name; what it is worked out of has that of afterwards. */
  public Conversions reading(Renaming names) {
    return named(names, /* madeToo= */ false);
  }

  private Conversions named(Renaming names, boolean madeToo) {
    if (names.isEmpty()) {
      return this;
    }
    Map<TableName, Map<String, Conversion>> out = new LinkedHashMap<>();
    tables.forEach(
        (table, columns) -> {
          Map<String, String> own = names.columns(names.named(table));
          Map<String, Conversion> some = new TreeMap<>();
          columns.forEach(
              (column, c) ->
                  some.put(
                      madeToo ? own.getOrDefault(column, column) : column, c.renamed(own, names)));
          out.put(names.named(table), some);
        });
    return new Conversions(out);
  }

  /** Columns of one table as JSON. */
  public static Json toJson(Map<String, Conversion> columns) {
    Map<String, Json> out = new TreeMap<>();
    columns.forEach((column, c) -> out.put(column, c.toJson()));
    return Json.object(out);
  }

  /** Reads what {@link #toJson} wrote. */
  public static Map<String, Conversion> of(Json json) {
    Map<String, Conversion> out = new TreeMap<>();
    Json.Obj j = json.asObject();
    j.members().forEach((column, c) -> out.put(column, Conversion.of(c.asObject())));
    return out;
  }
}
