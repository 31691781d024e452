package plenzo.server.web;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.api.Page;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;

/** How lists are asked a page at a time: {@code cursor} and {@code limit}. */
final class Paging {
  /** Items of a page when nothing is said, as text: annotations want it so. */
  static final String USUAL = "100";

  /** Items of the largest page (guess): bounds memory. */
  static final int MOST = 500;

  private Paging() {}

  static int limit(int asked) {
    return Math.max(1, Math.min(asked, MOST));
  }

  static long from(@Nullable String cursor) {
    return cursor == null ? 0 : PromotionController.number(cursor, "");
  }

  static Kept.Filter part(Kept.Filter filter, @Nullable String cursor, int limit) {
    return filter.part(from(cursor), limit(limit));
  }

  /**
   * A page of a list that is in the memory anyway.
   *
   * @param key ascending along the list, and different for each
   */
  static <T, R> Page<R> keyed(
      List<T> all,
      Function<T, String> key,
      @Nullable String cursor,
      int limit,
      Function<T, R> view) {
    int most = limit(limit);
    List<T> rest =
        all.stream()
            .dropWhile(x -> cursor != null && key.apply(x).compareTo(cursor) <= 0)
            .limit(most + 1L)
            .toList();
    boolean more = rest.size() > most;
    List<T> page = more ? rest.subList(0, most) : rest;
    return new Page<>(
        page.stream().<R>map(view).toList(), more ? key.apply(page.get(most - 1)) : null);
  }

  static <T, R> Page<R> page(Slice<T> slice, Function<T, R> view) {
    return new Page<>(
        slice.items().stream().<R>map(view).toList(),
        slice.next() == 0 ? null : String.valueOf(slice.next()));
  }
}
