package plenzo.core.component;

/**
 * A table's schema and name. As a component's name it is written {@code schema.table}; a part that
 * holds a dot or a quote is put in double quotes.
 */
public record TableName(String schema, String table) {
  public String componentName() {
    return part(schema) + "." + part(table);
  }

  private static String part(String name) {
    return name.indexOf('.') < 0 && name.indexOf('"') < 0
        ? name
        : "\"" + name.replace("\"", "\"\"") + "\"";
  }

  /**
   * @throws IllegalArgumentException when the text is not {@code schema.table}
   */
  public static TableName of(String text) {
    StringBuilder[] parts = {new StringBuilder(), new StringBuilder()};
    int part = 0;
    boolean quoted = false;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c == '"' && quoted && i + 1 < text.length() && text.charAt(i + 1) == '"') {
        parts[part].append('"');
        i++;
      } else if (c == '"') {
        quoted = !quoted;
      } else if (c == '.' && !quoted && part == 0) {
        part = 1;
      } else {
        parts[part].append(c);
      }
    }
    if (part == 0 || parts[0].isEmpty() || parts[1].isEmpty()) {
      throw new IllegalArgumentException("A table is written schema.table; got \"" + text + "\"");
    }
    return new TableName(parts[0].toString(), parts[1].toString());
  }

  @Override
  public String toString() {
    return componentName();
  }
}
