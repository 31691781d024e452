package plenzo.core.component;

/**
 * How a component is named inside its application: {@code kind/name}, for example {@code
 * table/fares.band}.
 */
public record ComponentKey(Kind kind, String name) implements Comparable<ComponentKey> {
  public ComponentKey {
    if (name.isBlank() || name.length() > longest(kind)) {
      throw new IllegalArgumentException(
          "A component's name has 1 to " + longest(kind) + " characters");
    }
  }

  /**
   * How long a name may be, in characters. That of a routine has the types of all its arguments, of
   * which a server takes a hundred.
   */
  public static int longest(Kind kind) {
    return switch (kind) {
      case ROUTINE, GRANT -> 4_000;
      default -> 300;
    };
  }

  /**
   * @throws IllegalArgumentException when the text is not {@code kind/name} with a known kind
   */
  public static ComponentKey of(String text) {
    int slash = text.indexOf('/');
    if (slash <= 0) {
      throw new IllegalArgumentException(
          "A component is written kind/name, for example table/fares.band; got \"" + text + "\"");
    }
    return new ComponentKey(Kind.of(text.substring(0, slash)), text.substring(slash + 1));
  }

  /** The schema of a table, its rows, or a schema object. */
  public String schema() {
    return kind == Kind.TABLE || kind == Kind.RECORDS
        ? TableName.of(name).schema()
        : ObjectName.of(this).schema();
  }

  @Override
  public String toString() {
    return kind.code() + "/" + name;
  }

  /** In the order of the texts; no kind's code begins with another's. */
  @Override
  public int compareTo(ComponentKey other) {
    int c = kind.code().compareTo(other.kind.code());
    return c != 0 ? c : name.compareTo(other.name);
  }
}
