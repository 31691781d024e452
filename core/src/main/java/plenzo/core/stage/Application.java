package plenzo.core.stage;

import java.util.List;

/**
 * What is versioned and promoted as a unit.
 *
 * @param id permanent, never changes
 * @param key technical name
 * @param schema database schema whose tables belong to it
 * @param path key of the path its versions travel
 * @param privateColumns columns ({@code schema.table.column}) whose values are never shown: only
 *     that they differ
 */
public record Application(
    String id,
    String key,
    String name,
    String owner,
    String schema,
    String path,
    List<String> privateColumns,
    int revision) {
  public Application {
    privateColumns = List.copyOf(privateColumns);
    for (String column : privateColumns) {
      if (column.split("\\.").length < 3) {
        throw new IllegalArgumentException(
            "A private column is written schema.table.column; got \"" + column + "\"");
      }
    }
    if (!key.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "An application's key is lower-case letters, digits and hyphens; got \"" + key + "\"");
    }
  }
}
