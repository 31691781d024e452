package plenzo.core.keeping;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Something that was worked out from records and holds as long as their stamp does ({@link
 * Keeper#stamp}). The stamp is asked for before the records are read, so what is kept is never
 * older than it says. For threads.
 */
public final class Memo<T> {
  private long stamp = -1;
  private @Nullable T value;

  /**
   * @param now the stamp as of now
   */
  public synchronized T get(long now, Supplier<T> work) {
    T known = value;
    if (known == null || stamp != now) {
      known = work.get();
      value = known;
      stamp = now;
    }
    return known;
  }
}
