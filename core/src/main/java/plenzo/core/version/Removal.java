package plenzo.core.version;

import plenzo.core.component.ComponentKey;
import plenzo.core.table.Renaming;

/**
 * Something that a version takes away: a whole component (empty part), a part of a structure
 * ({@code column/surcharge}) or a row ({@code row/} and its key line).
 */
public record Removal(ComponentKey component, String part) implements Comparable<Removal> {
  /** The same by the name that the component has afterwards. */
  public Removal named(Renaming names) {
    return new Removal(names.named(component), part);
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
