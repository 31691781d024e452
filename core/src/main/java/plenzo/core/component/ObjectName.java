package plenzo.core.component;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The name of what stands in a schema beside tables. As a component's name it is written {@code
 * schema.name}, of a trigger or policy {@code schema.table.name}, of a grant {@code
 * schema.what.role}, of a routine with the types of its arguments: {@code schema.name(bigint,
 * text)}. A part that holds a dot, a quote or a parenthesis is put in double quotes.
 *
 * @param table the one that it works on; null where it works on none
 * @param arguments types as the server prints them, between the parentheses; null of what has none
 */
public record ObjectName(
    String schema, @Nullable String table, String name, @Nullable String arguments) {

  /** Of a type, sequence or view. */
  public static ObjectName of(String schema, String name) {
    return new ObjectName(schema, null, name, null);
  }

  /** Of a trigger, a policy, or what a role may do with one thing. */
  public static ObjectName on(TableName table, String name) {
    return new ObjectName(table.schema(), table.table(), name, null);
  }

  public static ObjectName routine(String schema, String name, String arguments) {
    return new ObjectName(schema, null, name, arguments);
  }

  /** The table that it works on. */
  public @Nullable TableName on() {
    return table == null ? null : new TableName(schema, table);
  }

  public ComponentKey key(Kind kind) {
    return new ComponentKey(kind, componentName());
  }

  public String componentName() {
    return part(schema)
        + "."
        + (table == null ? "" : part(table) + ".")
        + part(name)
        + (arguments == null ? "" : "(" + arguments + ")");
  }

  private static String part(String name) {
    return name.chars().noneMatch(c -> c == '.' || c == '"' || c == '(')
        ? name
        : "\"" + name.replace("\"", "\"\"") + "\"";
  }

  /**
   * @throws IllegalArgumentException when the key is no such name
   */
  public static ObjectName of(ComponentKey key) {
    List<String> parts = new ArrayList<>();
    StringBuilder part = new StringBuilder();
    String text = key.name();
    String arguments = null;
    boolean quoted = false;
    for (int i = 0; i < text.length() && arguments == null; i++) {
      char c = text.charAt(i);
      if (c == '"' && quoted && i + 1 < text.length() && text.charAt(i + 1) == '"') {
        part.append('"');
        i++;
      } else if (c == '"') {
        quoted = !quoted;
      } else if (c == '.' && !quoted) {
        parts.add(part.toString());
        part.setLength(0);
      } else if (c == '(' && !quoted && text.endsWith(")")) {
        arguments = text.substring(i + 1, text.length() - 1);
      } else {
        part.append(c);
      }
    }
    parts.add(part.toString());
    boolean works = key.kind().worksOnOne();
    boolean routine = key.kind() == Kind.ROUTINE;
    if (quoted
        || parts.size() != (works ? 3 : 2)
        || parts.stream().anyMatch(String::isEmpty)
        || routine != (arguments != null)) {
      throw new IllegalArgumentException(
          "A "
              + key.kind().code()
              + " is written "
              + (key.kind() == Kind.GRANT
                  ? "schema.table.role"
                  : works ? "schema.table.name" : routine ? "schema.name(types)" : "schema.name")
              + "; got \""
              + text
              + "\"");
    }
    return new ObjectName(
        parts.get(0), works ? parts.get(1) : null, parts.get(parts.size() - 1), arguments);
  }

  @Override
  public String toString() {
    return componentName();
  }
}
