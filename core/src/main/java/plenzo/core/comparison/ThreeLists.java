package plenzo.core.comparison;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Three lists held against each other: stretches that all have, and stretches that at least one
 * side moved since both last agreed. Pure and deterministic.
 */
public final class ThreeLists {
  private ThreeLists() {}

  /**
   * A stretch of the three lists.
   *
   * @param from where it begins in the present list, from 0
   */
  public record Stretch<T>(int from, List<T> base, List<T> present, List<T> incoming) {
    /** Whether both sides moved it, and not alike: somebody says which is taken. */
    public boolean clashes() {
      return merged() == null;
    }

    /** Whether what is there and what comes differ. */
    public boolean differs() {
      return !present.equals(incoming);
    }

    /** What either side moved; null where both did. */
    @Nullable List<T> merged() {
      if (present.equals(incoming) || incoming.equals(base)) {
        return present;
      }
      return present.equals(base) ? incoming : null;
    }
  }

  /** All stretches in order; together they are the three lists. */
  public static <T> List<Stretch<T>> of(List<T> base, List<T> present, List<T> incoming) {
    int[] inPresent = Matching.of(base, present);
    int[] inIncoming = Matching.of(base, incoming);
    List<Stretch<T>> out = new ArrayList<>();
    int b = 0;
    int p = 0;
    int i = 0;
    for (int k = 0; k <= base.size(); k++) {
      boolean end = k == base.size();
      if (!end && (inPresent[k] < 0 || inIncoming[k] < 0)) {
        continue;
      }
      int toP = end ? present.size() : inPresent[k];
      int toI = end ? incoming.size() : inIncoming[k];
      if (k > b || toP > p || toI > i) {
        out.add(
            new Stretch<>(
                p, base.subList(b, k), present.subList(p, toP), incoming.subList(i, toI)));
      }
      if (!end) {
        List<T> same = base.subList(k, k + 1);
        out.add(new Stretch<>(toP, same, same, same));
      }
      b = k + 1;
      p = toP + 1;
      i = toI + 1;
    }
    return out;
  }

  /**
   * The list with what either side moved.
   *
   * @param clash what is taken of a stretch that both moved; null where nobody said it
   * @return empty when nobody said it of one of them
   */
  public static <T> Optional<List<T>> both(
      List<Stretch<T>> stretches, Function<Stretch<T>, @Nullable List<T>> clash) {
    List<T> out = new ArrayList<>();
    for (Stretch<T> s : stretches) {
      List<T> taken = s.merged() != null ? s.merged() : clash.apply(s);
      if (taken == null) {
        return Optional.empty();
      }
      out.addAll(taken);
    }
    return Optional.of(out);
  }
}
