package plenzo.core.version;

import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.table.Renaming;

/**
 * Something that a version takes away: a whole component (empty part), a part of a structure
 * ({@code column/surcharge}) or a row ({@code row/} and its key line).
 */
public record Removal(ComponentKey component, String part) implements Comparable<Removal> {
  private static final String COLUMN = "column/";

  /** The same by the names that the component, or the column, has afterwards. */
  public Removal named(Renaming names) {
    ComponentKey is = names.named(component);
    if (!part.startsWith(COLUMN)) {
      return new Removal(is, part);
    }
    String column = part.substring(COLUMN.length());
    return new Removal(
        is, COLUMN + names.columns(TableName.of(is.name())).getOrDefault(column, column));
  }

  /** Whether it takes away what goes because another takes its name. */
  public boolean ofOlder() {
    return Renaming.isGoing(component)
        || part.startsWith(COLUMN) && Renaming.isGoing(part.substring(COLUMN.length()));
  }

  /** {@code table/fares.band#column/surcharge}. */
  @Override
  public String toString() {
    return part.isEmpty() ? component.toString() : component + "#" + part;
  }

  public static Removal of(String text) {
    int hash = text.indexOf('#');
    return hash < 0
        ? new Removal(ComponentKey.of(text), "")
        : new Removal(ComponentKey.of(text.substring(0, hash)), text.substring(hash + 1));
  }

  @Override
  public int compareTo(Removal other) {
    return toString().compareTo(other.toString());
  }
}
