package plenzo.core.drift;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.records.CanonicalCsv;

/**
 * Reads what was saved before a way back: lines of table, key, column and value, as "rollback
 * save-lost" writes them. Lines may be left out: what is not there is not brought in again.
 */
public final class SavedLines {
  private static final List<String> HEAD = List.of("table", "key", "column", "value");

  /** Rows that one file may hold (guess: more is a restore, not bringing in). */
  public static final int MOST = 10_000;

  private SavedLines() {}

  /**
   * Values by table and key line.
   *
   * @throws IllegalArgumentException when a line is none; the message says which
   */
  public static Map<TableName, Map<String, Map<String, @Nullable String>>> of(String text) {
    Map<TableName, Map<String, Map<String, @Nullable String>>> out = new TreeMap<>(byName());
    int rows = 0;
    int number = 0;
    for (String line : text.split("\r?\n")) {
      number++;
      if (line.isBlank()) {
        continue;
      }
      List<@Nullable String> fields = fields(line, number);
      if (number == 1 && fields.equals(HEAD)) {
        continue;
      }
      String table = fields.get(0);
      String key = fields.get(1);
      String column = fields.get(2);
      if (table == null || key == null || key.isEmpty() || column == null || column.isEmpty()) {
        continue; // a whole file or definition, or a row that nothing tells apart
      }
      Map<String, @Nullable String> row =
          out.computeIfAbsent(name(table, number), t -> new LinkedHashMap<>())
              .computeIfAbsent(key, k -> new LinkedHashMap<>());
      rows += row.isEmpty() ? 1 : 0;
      row.put(column, fields.get(3));
      if (rows > MOST) {
        throw new IllegalArgumentException("There are more than " + MOST + " rows in the file");
      }
    }
    return out;
  }

  private static List<@Nullable String> fields(String line, int number) {
    List<@Nullable String> fields;
    try {
      fields = CanonicalCsv.fields(line.getBytes(StandardCharsets.UTF_8));
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException("Line " + number + ": " + e.getMessage(), e);
    }
    if (fields.size() != HEAD.size()) {
      throw new IllegalArgumentException(
          "Line "
              + number
              + " has "
              + fields.size()
              + " fields; it needs table, key, column, value");
    }
    return fields;
  }

  private static TableName name(String table, int number) {
    try {
      return TableName.of(table);
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException("Line " + number + ": " + e.getMessage(), e);
    }
  }

  private static java.util.Comparator<TableName> byName() {
    return java.util.Comparator.comparing(TableName::toString);
  }
}
