package plenzo.core.table;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;

/**
 * What else is set of a table, each by a name:
 *
 * <ul>
 *   <li>{@code logged} with the value {@code no};
 *   <li>{@code row security} with {@code yes}, {@code row security of the owner} with {@code yes};
 *   <li>{@code option/fillfactor} and other storage parameters;
 *   <li>{@code replica identity}: {@code full}, {@code nothing} or {@code index NAME};
 *   <li>{@code clustered} with the name of an index;
 *   <li>{@code statistics target/COLUMN} with a number;
 *   <li>{@code storage/COLUMN} ({@code plain}, {@code external}, {@code extended}, {@code main})
 *       and {@code compression/COLUMN}, where they are not what the type has;
 *   <li>{@code n_distinct/COLUMN} and {@code n_distinct_inherited/COLUMN};
 *   <li>{@code statistics/SCHEMA.NAME} and {@code rule/NAME} with the server's own statement;
 *   <li>{@code partitioned} with the key, such as {@code RANGE (day)}, and {@code
 *       partition/SCHEMA.NAME} with what it is a partition of, its bounds, and its own key if it
 *       has partitions itself: {@code fares.trip FOR VALUES FROM ('2024-01-01') TO ('2025-01-01')};
 *   <li>{@code inherits/SCHEMA.NAME} with its place among those that the table inherits from, from
 *       1;
 *   <li>{@code comment/constraint/NAME} and {@code comment/index/NAME} with a text.
 * </ul>
 */
public record Setting(String name, String value) {
  private static final Pattern COLUMNS =
      Pattern.compile("^(CREATE STATISTICS .+? ON )(.+)( FROM .+)$", Pattern.DOTALL);

  public Setting {
    if (name.startsWith(RULE) || name.startsWith(STATISTICS) || name.startsWith(PARTITION)) {
      value = Printed.of(value);
    }
    if (name.startsWith("statistics/")) {
      value = ordered(value);
    }
  }

  /**
   * Columns of statistics by their names: the server prints them in the order in which they stand
   * in the table, which means nothing, and is another where the same table was made otherwise.
   */
  private static String ordered(String statement) {
    Matcher m = COLUMNS.matcher(statement);
    if (!m.matches()) {
      return statement;
    }
    List<String> parts = IndexKeys.parts(m.group(2)).stream().map(String::strip).toList();
    Stream<String> columns = parts.stream().filter(p -> !p.startsWith("(")).sorted();
    Stream<String> others = parts.stream().filter(p -> p.startsWith("("));
    return m.group(1)
        + Stream.concat(columns, others).collect(Collectors.joining(", "))
        + m.group(3);
  }

  public static final String LOGGED = "logged";
  public static final String ROW_SECURITY = "row security";
  public static final String OWNERS_ROW_SECURITY = "row security of the owner";
  public static final String OPTION = "option/";
  public static final String REPLICA_IDENTITY = "replica identity";
  public static final String CLUSTERED = "clustered";
  public static final String TARGET = "statistics target/";
  public static final String STORAGE = "storage/";
  public static final String COMPRESSION = "compression/";
  public static final String STATISTICS = "statistics/";
  public static final String RULE = "rule/";
  public static final String PARTITIONED = "partitioned";
  public static final String PARTITION = "partition/";
  public static final String INHERITS = "inherits/";
  public static final String CONSTRAINT_COMMENT = "comment/constraint/";
  public static final String INDEX_COMMENT = "comment/index/";

  /** What is set of one column, by what its name begins with. */
  public static final List<String> OF_COLUMN =
      List.of(TARGET, STORAGE, COMPRESSION, "n_distinct/", "n_distinct_inherited/");

  /** The column that it is set of. */
  public Optional<String> column() {
    return OF_COLUMN.stream()
        .filter(name::startsWith)
        .map(sort -> name.substring(sort.length()))
        .findFirst();
  }

  /** Whether it tells into which tables rows go. */
  public boolean partitions() {
    return name.equals(PARTITIONED) || name.startsWith(PARTITION);
  }

  /** Whether it tells from which table this one inherits. */
  public boolean inherits() {
    return name.startsWith(INHERITS);
  }

  /** Whether it tells that this table inherits from that one. */
  public boolean isFrom(TableName parent) {
    return name.equals(INHERITS + parent.componentName());
  }

  /** Whether the server forgets it when the column gets another type. */
  boolean goesWithType() {
    return name.startsWith(STORAGE) || name.startsWith(COMPRESSION);
  }

  Json toJson() {
    return Json.object("name", name, "value", value);
  }

  static Setting of(Json.Obj j) {
    return new Setting(j.text("name"), j.text("value"));
  }
}
