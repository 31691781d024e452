package plenzo.core.keeping;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;

/**
 * A few memos by what was asked; what was asked longest ago makes room. For threads: one that works
 * something out keeps only those waiting who ask the same.
 */
public final class Memos<K, V> {
  private final Map<K, Memo<V>> all;

  /**
   * @param most how many are kept
   */
  public Memos(int most) {
    all =
        new LinkedHashMap<>(16, 0.75f, /* accessOrder= */ true) {
          private static final long serialVersionUID = 1;

          @Override
          protected boolean removeEldestEntry(Map.Entry<K, Memo<V>> eldest) {
            return size() > most;
          }
        };
  }

  /**
   * @param now the stamp as of now, asked for before the work
   */
  public V get(K asked, long now, Supplier<V> work) {
    Memo<V> memo;
    synchronized (all) {
      memo = all.computeIfAbsent(asked, k -> new Memo<>());
    }
    return memo.get(now, work);
  }
}
