package plenzo.store;

import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Records that were read last, each with the very text that it was read of: as long as a table says
 * the same, nothing is read out of it a second time. A run asks for its own case dozens of times.
 * Records never change, so all who ask may have the same one.
 */
final class ReadBefore {
  /** Characters of text that are kept at most, for all records together. */
  static final int MOST = 1_000_000;

  private record Known(int revision, String text, @Nullable String apart, Object record) {
    int size() {
      return text.length() + (apart == null ? 0 : apart.length());
    }

    boolean isOf(int other, String body, @Nullable String beside) {
      return revision == other && text.equals(body) && Objects.equals(apart, beside);
    }
  }

  private final Map<String, Known> known = new LinkedHashMap<>(64, 0.75f, /* accessOrder= */ true);
  private int held;

  /**
   * @param apart what is kept apart from the record, null for nothing
   * @return what was read of that very text; null where it is another, or not known
   */
  synchronized @Nullable Object of(String table, BodyRow row, @Nullable String apart) {
    Known found = known.get(key(table, row));
    return found != null && found.isOf(row.revision(), row.body(), apart) ? found.record() : null;
  }

  synchronized void keep(String table, BodyRow row, @Nullable String apart, Object record) {
    Known next = new Known(row.revision(), row.body(), apart, record);
    Known before = known.remove(key(table, row));
    held -= before == null ? 0 : before.size();
    if (next.size() > MOST / 2) {
      return;
    }
    known.put(key(table, row), next);
    held += next.size();
    for (Iterator<Known> oldest = known.values().iterator(); held > MOST; ) {
      held -= oldest.next().size();
      oldest.remove();
    }
  }

  /** Forgets all: what names a person is blanked, and is not to stay in memory either. */
  synchronized void forget() {
    known.clear();
    held = 0;
  }

  private static String key(String table, BodyRow row) {
    return table + ' ' + row.id();
  }
}
