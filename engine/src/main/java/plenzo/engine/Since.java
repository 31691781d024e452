package plenzo.engine;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;

/**
 * What came to the history since somebody read it last. How far it was read is a fact that is
 * written in the reader's own transaction: nothing is read twice or passed over, also over a kill.
 */
public final class Since {
  private static final int PART = 200;

  private final String fact;

  /**
   * @param fact under which it is kept how far was read
   */
  public Since(String fact) {
    this.fact = fact;
  }

  /** Entries since, the oldest first; what was before the first question is read by nobody. */
  public List<HistoryEntry> read(Kept kept) {
    Optional<String> told = kept.fact(fact);
    List<HistoryEntry> newest = kept.history(Kept.HistoryFilter.part(0, PART));
    if (newest.isEmpty()) {
      if (told.isEmpty()) {
        kept.fact(fact, "0");
      }
      return List.of();
    }
    if (told.isEmpty()) {
      kept.fact(fact, String.valueOf(newest.get(0).sequence()));
      return List.of();
    }
    long until = Long.parseLong(told.get());
    List<HistoryEntry> out = new ArrayList<>();
    List<HistoryEntry> part = newest;
    while (!part.isEmpty()) {
      part.stream().filter(e -> e.sequence() > until).forEach(out::add);
      long last = part.get(part.size() - 1).sequence();
      if (last <= until + 1 || part.size() < PART) {
        break;
      }
      part = kept.history(Kept.HistoryFilter.part(last, PART));
    }
    Collections.reverse(out);
    if (!out.isEmpty()) {
      kept.fact(fact, String.valueOf(out.get(out.size() - 1).sequence()));
    }
    return out;
  }
}
