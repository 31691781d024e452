package plenzo.core.comparison;

import java.util.EnumMap;
import java.util.Map;

/** How many parts fell into each class. */
public record Counts(long added, long changed, long removed, long conflict, long kept, long same) {
  public static final Counts NONE = new Counts(0, 0, 0, 0, 0, 0);

  public static Counts of(Map<Difference, Long> by) {
    Map<Difference, Long> m = new EnumMap<>(Difference.class);
    m.putAll(by);
    return new Counts(
        m.getOrDefault(Difference.ADDED, 0L),
        m.getOrDefault(Difference.CHANGED, 0L),
        m.getOrDefault(Difference.REMOVED, 0L),
        m.getOrDefault(Difference.CONFLICT, 0L),
        m.getOrDefault(Difference.KEPT, 0L),
        m.getOrDefault(Difference.SAME, 0L));
  }

  public Counts plus(Counts o) {
    return new Counts(
        added + o.added,
        changed + o.changed,
        removed + o.removed,
        conflict + o.conflict,
        kept + o.kept,
        same + o.same);
  }

  public long of(Difference difference) {
    return switch (difference) {
      case ADDED -> added;
      case CHANGED -> changed;
      case REMOVED -> removed;
      case CONFLICT -> conflict;
      case KEPT -> kept;
      case SAME -> same;
    };
  }

  /** Rows or parts that a promotion would write. */
  public long written() {
    return added + changed + removed;
  }
}
