package plenzo.store;

import org.jspecify.annotations.Nullable;
import plenzo.core.history.Names;

/** The names beside the history, read anew when one was added or blanked. */
final class NamesCache {
  private volatile @Nullable Read read;

  /** What was read at which count. */
  private record Read(EventMapper.CalledCount count, Names names) {}

  Names get(EventMapper events) {
    EventMapper.CalledCount count = events.calledCount();
    Read known = read;
    if (known == null || !known.count().equals(count)) {
      known = new Read(count, new Names(events.called()));
      read = known;
    }
    return known.names();
  }
}
