package plenzo.core.comparison;

import java.util.function.BiPredicate;
import org.jspecify.annotations.Nullable;

/**
 * The one rule of three-way comparison, for components, parts of a structure and rows alike.
 * Nothing is removed because it is absent: only what the version lists as a removal goes.
 */
public final class ThreeWay {
  private ThreeWay() {}

  /**
   * @param base what the newest common ancestor had, or null
   * @param present what the site has now, or null
   * @param incoming what the version has, or null
   * @param removal whether the version lists it as a removal
   */
  public static <T> Difference decide(
      @Nullable T base,
      @Nullable T present,
      @Nullable T incoming,
      boolean removal,
      BiPredicate<T, T> equal) {
    if (incoming == null) {
      if (present == null) {
        return Difference.SAME;
      }
      if (!removal) {
        return Difference.KEPT;
      }
      return base != null && equal.test(base, present) ? Difference.REMOVED : Difference.CONFLICT;
    }
    if (present == null) {
      if (base == null) {
        return Difference.ADDED;
      }
      return equal.test(base, incoming) ? Difference.KEPT : Difference.CONFLICT;
    }
    if (equal.test(present, incoming)) {
      return Difference.SAME;
    }
    if (base == null) {
      return Difference.CONFLICT;
    }
    if (equal.test(base, present)) {
      return Difference.CHANGED;
    }
    return equal.test(base, incoming) ? Difference.KEPT : Difference.CONFLICT;
  }
}
