package plenzo.core.table;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;

/**
 * Foreign keys that rest on a key of the table that they point at. Where that key goes while
 * another one keeps the same columns apart, they stay what they are, and have to be made again: the
 * server holds each to the key that was there when it was made.
 */
public final class Resting {
  private Resting() {}

  /**
   * Whether foreign keys at these columns have to be made again.
   *
   * @param present the table that they point at
   * @param result the same as it is to be
   */
  public static boolean renews(
      @Nullable TableStructure present, @Nullable TableStructure result, List<String> columns) {
    if (present == null || result == null || present.equals(result)) {
      return false;
    }
    boolean goes =
        present.constraints().stream()
            .anyMatch(k -> isKeyOf(k, columns) && !result.constraints().contains(k));
    return goes && hasKey(result, columns);
  }

  /** Whether a constraint of a table keeps these columns apart. */
  public static boolean hasKey(@Nullable TableStructure table, List<String> columns) {
    return table != null && table.constraints().stream().anyMatch(k -> isKeyOf(k, columns));
  }

  /** Foreign keys of a table at another that have to be made again. */
  public static List<Constraint> of(
      TableStructure table,
      TableName other,
      @Nullable TableStructure present,
      @Nullable TableStructure result) {
    return table.foreignKeys().stream()
        .filter(k -> other.equals(k.references()))
        .filter(k -> renews(present, result, k.referencedColumns()))
        .toList();
  }

  private static boolean isKeyOf(Constraint k, List<String> columns) {
    Set<String> all = new HashSet<>(columns);
    return (k.type() == Constraint.Type.PRIMARY || k.type() == Constraint.Type.UNIQUE)
        && all.equals(Set.copyOf(k.columns()));
  }
}
