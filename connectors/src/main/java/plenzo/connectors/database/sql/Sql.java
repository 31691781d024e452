package plenzo.connectors.database.sql;

import java.util.Collection;
import java.util.stream.Collectors;
import plenzo.core.component.TableName;

/** The one quoting function for identifiers and the one for literals. */
public final class Sql {
  private Sql() {}

  public static String name(String identifier) {
    if (identifier.isEmpty() || identifier.indexOf('\0') >= 0) {
      throw new IllegalArgumentException("Not a name: \"" + identifier + "\"");
    }
    return "\"" + identifier.replace("\"", "\"\"") + "\"";
  }

  public static String name(TableName table) {
    return name(table.schema()) + "." + name(table.table());
  }

  /** Stands before a table of which its own rows are meant, without those that inherit from it. */
  static final String ALONE = "/* alone */";

  /** The table alone: {@link Alone} says so to the server where others inherit from it. */
  static String alone(TableName table) {
    return ALONE + name(table);
  }

  public static String names(Collection<String> identifiers) {
    return identifiers.stream().map(Sql::name).collect(Collectors.joining(", "));
  }

  public static String literal(String value) {
    if (value.indexOf('\0') >= 0) {
      throw new IllegalArgumentException("A value with a zero byte cannot be written");
    }
    String quoted = "'" + value.replace("'", "''") + "'";
    return value.indexOf('\\') < 0 ? quoted : " E" + quoted.replace("\\", "\\\\");
  }

  /** The column as its type's own output text, null as null; what COPY would write. */
  static String text(String column) {
    return "case when "
        + column
        + " is null then null else pg_catalog.format('%s', "
        + column
        + ") end";
  }
}
