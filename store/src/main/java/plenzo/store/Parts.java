package plenzo.store;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.Function;
import java.util.function.ToLongFunction;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Sight;

/**
 * Parts of lists for who sees only some places: each place is asked by its own index for as many as
 * a part holds, and the newest of all are taken. So a part costs the same however much there is
 * that cannot be seen.
 */
final class Parts {
  private Parts() {}

  /**
   * @param ask newest first, at most as many as the filter says
   * @param ordinal the key by which the list is ordered; no two rows share one
   */
  static <R> Slice<R> of(
      Filter filter, Sight sight, Function<Filter, List<R>> ask, ToLongFunction<R> ordinal) {
    int most = filter.limit();
    Filter oneMore = filter.most(most + 1);
    List<R> found = new ArrayList<>();
    for (Sight.Place place : sight.places()) {
      Filter within = within(oneMore, place);
      if (within != null) {
        found.addAll(ask.apply(within));
      }
    }
    if (sight.places().size() > 1) {
      found.sort(Comparator.comparingLong(ordinal).reversed());
      distinct(found, ordinal);
    }
    return cut(found, most, ordinal);
  }

  /** The first of a list that was asked for one more than it shows. */
  static <R> Slice<R> cut(List<R> found, int most, ToLongFunction<R> ordinal) {
    if (found.size() <= most) {
      return new Slice<>(found, 0);
    }
    return new Slice<>(found.subList(0, most), ordinal.applyAsLong(found.get(most - 1)));
  }

  /** Two places may overlap: one stage for all applications, and one application everywhere. */
  static <R> void distinct(List<R> sorted, ToLongFunction<R> ordinal) {
    for (int i = sorted.size() - 1; i > 0; i--) {
      if (ordinal.applyAsLong(sorted.get(i)) == ordinal.applyAsLong(sorted.get(i - 1))) {
        sorted.remove(i);
      }
    }
  }

  /** What of the question lies in the place; null when nothing does. */
  private static @Nullable Filter within(Filter filter, Sight.Place place) {
    Filter out = filter;
    String application = place.application();
    if (application != null) {
      if (filter.application() != null && !filter.application().equals(application)) {
        return null;
      }
      out = out.of(application);
    }
    String stage = place.stage();
    if (stage != null) {
      if (filter.stage() != null && !filter.stage().equals(stage)) {
        return null;
      }
      out = out.stage(stage);
    }
    return out;
  }
}
