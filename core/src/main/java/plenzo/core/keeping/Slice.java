package plenzo.core.keeping;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * A part of a list.
 *
 * @param next where the following part begins, to be given back as it is; 0 when this one reaches
 *     the end
 */
public record Slice<T>(List<T> items, long next) {
  public Slice {
    items = List.copyOf(items);
  }

  /** Everything there is, in one part. */
  public static <T> Slice<T> whole(List<T> items) {
    return new Slice<>(items, 0);
  }

  /**
   * A part of what a reader may see, where no index knows that: parts are asked until one is full
   * or there is no more. It may hold up to twice as many as were asked for.
   */
  public static <T> Slice<T> filled(
      Kept.Filter part, Function<Kept.Filter, Slice<T>> ask, Predicate<T> visible) {
    List<T> out = new ArrayList<>();
    Slice<T> now = ask.apply(part);
    now.items().stream().filter(visible).forEach(out::add);
    while (out.size() < part.limit() && now.next() != 0) {
      now = ask.apply(part.part(now.next(), part.limit()));
      now.items().stream().filter(visible).forEach(out::add);
    }
    return new Slice<>(out, now.next());
  }

  public <R> Slice<R> map(Function<T, R> each) {
    return new Slice<>(items.stream().<R>map(each).toList(), next);
  }
}
