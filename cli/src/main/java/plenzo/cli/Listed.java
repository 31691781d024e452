package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What was asked of a list.
 *
 * @param next where it goes on at the server; null when this is all
 */
record Listed<T>(List<T> items, @Nullable String next) {
  Listed {
    items = List.copyOf(items);
  }

  /** What the server is asked for: nothing where any state will do. */
  static @Nullable String wanted(String state) {
    return state.equals("any") ? null : state;
  }

  static <T> Listed<T> whole(List<T> items) {
    return new Listed<>(items, null);
  }
}
