package plenzo.core.table;

import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;

/**
 * Tells of names that change places among themselves whether they did: each of them is there before
 * and afterwards, so that it is not told by what is there. The same of one that takes the name of
 * another.
 */
public interface Exchanges {
  enum Progress {
    TO_DO,
    DONE,
    NOT_KNOWN
  }

  /**
   * @param cycle from the name before to the name after
   */
  Progress tables(Map<TableName, TableName> cycle);

  /**
   * @param before the table's name before
   * @param now the table's name as it is at the site
   * @param cycle of its columns, from the name before to the name after
   */
  Progress columns(TableName before, TableName now, Map<String, String> cycle);

  /** Where it is known of all of them. */
  static Exchanges all(Progress progress) {
    return new Exchanges() {
      @Override
      public Progress tables(Map<TableName, TableName> cycle) {
        return progress;
      }

      @Override
      public Progress columns(TableName before, TableName now, Map<String, String> cycle) {
        return progress;
      }
    };
  }

  /**
   * By the numbers that the server has for them.
   *
   * @param before what was remembered, by the names before; empty for what was not
   * @param now what is there, by the names that it has
   */
  static Exchanges byNumbers(
      Function<TableName, Optional<Numbered>> before, Function<TableName, Optional<Numbered>> now) {
    return new Exchanges() {
      @Override
      public Progress tables(Map<TableName, TableName> cycle) {
        return progress(cycle, t -> number(before.apply(t)), t -> number(now.apply(t)));
      }

      @Override
      public Progress columns(TableName was, TableName is, Map<String, String> cycle) {
        Numbered then = before.apply(was).orElse(null);
        Numbered there = now.apply(is).orElse(null);
        boolean same = then != null && there != null && then.table() == there.table();
        return same
            ? progress(cycle, then.columns()::get, there.columns()::get)
            : Progress.NOT_KNOWN;
      }
    };
  }

  private static @Nullable Long number(Optional<Numbered> table) {
    return table.map(Numbered::table).orElse(null);
  }

  private static <N, X> Progress progress(
      Map<N, N> cycle, Function<N, @Nullable X> before, Function<N, @Nullable X> now) {
    boolean known = cycle.keySet().stream().allMatch(n -> before.apply(n) != null);
    if (known && cycle.keySet().stream().allMatch(n -> same(before.apply(n), now.apply(n)))) {
      return Progress.TO_DO;
    }
    boolean done =
        known
            && cycle.entrySet().stream()
                .allMatch(n -> same(before.apply(n.getKey()), now.apply(n.getValue())));
    return done ? Progress.DONE : Progress.NOT_KNOWN;
  }

  private static boolean same(@Nullable Object was, @Nullable Object is) {
    return Objects.equals(was, is);
  }
}
