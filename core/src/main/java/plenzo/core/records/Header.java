package plenzo.core.records;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The typed header of canonical rows: names, types, and how many leading columns are the key. */
public final class Header {
  private final List<String> names;
  private final List<String> types;
  private final List<KeyType> key;
  private final Map<String, Integer> positions = new HashMap<>();

  /** One that was found equal: both sides of a comparison ask that of each row. */
  private @Nullable Header same;

  public Header(List<String> names, List<String> types, int keyColumns) {
    this.names = List.copyOf(names);
    this.types = List.copyOf(types);
    this.key = this.types.subList(0, keyColumns).stream().map(KeyType::of).toList();
    for (int i = 0; i < names.size(); i++) {
      positions.put(names.get(i), i);
    }
    if (names.size() != types.size() || positions.size() != names.size()) {
      throw new IllegalArgumentException(
          "A header needs a type for every name, and no name twice: " + names);
    }
  }

  public List<String> names() {
    return names;
  }

  public List<String> types() {
    return types;
  }

  public int keyColumns() {
    return key.size();
  }

  KeyType keyType(int i) {
    return key.get(i);
  }

  /** Position of the column, −1 when it is not carried. */
  public int position(String name) {
    return positions.getOrDefault(name, -1);
  }

  @Override
  public boolean equals(Object o) {
    if (o == this || o != null && o == same) {
      return true;
    }
    boolean equal =
        o instanceof Header h
            && h.names.equals(names)
            && h.types.equals(types)
            && h.key.size() == key.size();
    if (equal) {
      same = (Header) o;
    }
    return equal;
  }

  @Override
  public int hashCode() {
    return names.hashCode();
  }
}
