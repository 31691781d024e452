package plenzo.core.object;

import java.util.Map;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** How the parts of a grant are written: a right each, of the whole or of one column. */
public final class GrantedRights {
  /** Everybody, as statements and components name it. */
  public static final String EVERYBODY = "PUBLIC";

  public static final String GIVEN = "yes";

  public static final String PASSED_ON = "may be passed on";

  /**
   * Every routine can be called and every type used by everybody without a word. Where that was
   * taken away, the grant of {@link #EVERYBODY} says so.
   */
  public static final String TAKEN = "no";

  private GrantedRights() {}

  /** {@code SELECT}, or of one column {@code SELECT (code)}. */
  public static String right(String right, @Nullable String column) {
    return column == null ? right : right + " (" + column + ")";
  }

  /** The column that a right is about; null of one about the whole. */
  public static @Nullable String column(String right) {
    int at = right.indexOf(" (");
    return at < 0 ? null : right.substring(at + 2, right.length() - 1);
  }

  /** The right alone: {@code SELECT}. */
  public static String word(String right) {
    int at = right.indexOf(" (");
    return at < 0 ? right : right.substring(0, at);
  }

  /** Whether a grant says that everybody lacks what everybody has. */
  public static boolean isTaken(SchemaObject grant) {
    return grant.parts().containsValue(TAKEN);
  }

  /** The same rights where columns have other names. */
  static SortedMap<String, String> renamed(
      SortedMap<String, String> rights, Map<String, String> columns) {
    SortedMap<String, String> out = new TreeMap<>();
    rights.forEach(
        (right, how) -> {
          String column = column(right);
          out.put(
              column == null ? right : right(word(right), columns.getOrDefault(column, column)),
              how);
        });
    return out;
  }

  /**
   * What somebody may do by a grant.
   *
   * @param grant null where there is none
   * @param without what they may do without one
   */
  public static SortedSet<String> may(@Nullable SchemaObject grant, SortedSet<String> without) {
    if (grant == null) {
      return without;
    }
    SortedSet<String> out = new TreeSet<>();
    grant
        .parts()
        .forEach(
            (right, how) -> {
              if (!how.equals(TAKEN)) {
                out.add(right);
              }
              if (how.equals(PASSED_ON)) {
                out.add("pass " + right + " on");
              }
            });
    return out;
  }
}
