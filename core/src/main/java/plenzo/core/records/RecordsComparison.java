package plenzo.core.records;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiPredicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.comparison.ThreeWay;

/** Streaming three-way merge of rows in key order: constant memory, one pass over each side. */
public final class RecordsComparison {
  private RecordsComparison() {}

  /**
   * Receives every row that differs or is kept, in key order; rows that are the same are only
   * counted.
   */
  public interface Sink {
    void row(RowDifference difference);
  }

  /** A row of one class with its sides; a side that does not exist is null. */
  public record RowDifference(
      Difference difference, @Nullable Row base, @Nullable Row present, @Nullable Row incoming) {
    public Row any() {
      return incoming != null ? incoming : Objects.requireNonNull(present != null ? present : base);
    }

    /**
     * The row as it would be with what either side moved; empty when both moved one attribute, when
     * one side has no such row, or when it is not known what they had in common.
     */
    public Optional<Row> both() {
      if (base == null || present == null || incoming == null) {
        return Optional.empty();
      }
      Header columns = incoming.header();
      List<@Nullable String> fields = new ArrayList<>();
      for (String name : columns.names()) {
        int there = present.header().position(name);
        boolean comes = !base.sameAt(name, incoming);
        boolean moved = there >= 0 && !base.sameAt(name, present);
        if (comes && moved && !present.sameAt(name, incoming)) {
          return Optional.empty();
        }
        fields.add(moved && !comes ? present.get(there) : incoming.get(columns.position(name)));
      }
      return Optional.of(Row.of(columns, fields));
    }

    /**
     * The attributes that differ, as people read them, between present and incoming, with what both
     * had before.
     */
    public List<AttributeDifference> attributes() {
      return attributes(/* same= */ false);
    }

    /**
     * @param same whether attributes that are the same on both sides are listed too
     */
    public List<AttributeDifference> attributes(boolean same) {
      Row a = present;
      Row b = incoming;
      Header columns = any().header();
      List<AttributeDifference> out = new ArrayList<>();
      for (String name : columns.names()) {
        int pa = a == null ? -1 : a.header().position(name);
        int pb = b == null ? -1 : b.header().position(name);
        String va = pa < 0 || a == null ? null : a.get(pa);
        String vb = pb < 0 || b == null ? null : b.get(pb);
        if (same || a == null || b == null || (pa >= 0 || pb >= 0) && !a.sameAt(name, b)) {
          out.add(
              AttributeDifference.of(name, LongValue.shown(va), LongValue.shown(vb), pa < 0, pb < 0)
                  .from(before(name)));
        }
      }
      return out;
    }

    private AttributeDifference.@Nullable Side before(String name) {
      if (base == null) {
        return null;
      }
      int at = base.header().position(name);
      return at < 0
          ? AttributeDifference.Side.ABSENT
          : AttributeDifference.Side.of(LongValue.shown(base.get(at)));
    }
  }

  /** Which of the sides of a row is its base; each may be missing. */
  public interface Base {
    /** What was recorded. */
    Base RECORDED = (base, present, incoming) -> base;

    /** Whatever is there, or was and is gone, stays as it is. */
    Base STAYING = (base, present, incoming) -> present == null && base == null ? null : incoming;

    /** What is only there goes whoever made it. */
    Base MIRRORED = (base, present, incoming) -> incoming == null ? present : base;

    /** The one under which rows of a version are compared. */
    static Base under(RowsPolicy policy) {
      return switch (policy) {
        case ADD_AND_CHANGE -> RECORDED;
        case ADD_ONLY -> STAYING;
        case MIRROR -> MIRRORED;
      };
    }

    /** What is there: whatever differs becomes as incoming. */
    Base PRESENT = (base, present, incoming) -> present;

    @Nullable Row of(@Nullable Row base, @Nullable Row present, @Nullable Row incoming);
  }

  /**
   * @param removals key lines of rows that the version removes
   * @return how many rows fell into each class
   */
  public static Counts merge(
      @Nullable RowReader base,
      @Nullable RowReader present,
      @Nullable RowReader incoming,
      Set<String> removals,
      Sink sink) {
    return merge(
        base,
        present,
        incoming,
        (b, row) -> !removals.isEmpty() && removals.contains(row.keyLine()),
        Base.RECORDED,
        sink);
  }

  /**
   * @param removal whether a row that the incoming side lacks is to be removed, by base and present
   * @param from what each row is held against
   */
  public static Counts merge(
      @Nullable RowReader base,
      @Nullable RowReader present,
      @Nullable RowReader incoming,
      BiPredicate<@Nullable Row, Row> removal,
      Base from,
      Sink sink) {
    long[] counts = new long[Difference.values().length];
    Row b = next(base);
    Row p = next(present);
    Row i = next(incoming);
    while (p != null || i != null || b != null) {
      Row least = Objects.requireNonNull(least(least(b, p), i));
      Row taken = takes(b, least);
      Row rp = takes(p, least);
      Row ri = takes(i, least);
      Row rb = from.of(taken, rp, ri);
      if (rp != null || ri != null) {
        boolean goes = ri == null && rp != null && removal.test(rb, rp);
        Header columns = ri != null ? ri.header() : rb != null ? rb.header() : least.header();
        Difference d = ThreeWay.decide(rb, rp, ri, goes, (x, y) -> x.sameIn(columns, y));
        counts[d.ordinal()]++;
        if (d != Difference.SAME) {
          sink.row(new RowDifference(d, rb, rp, ri));
        }
      }
      b = taken == null ? b : next(base);
      p = rp == null ? p : next(present);
      i = ri == null ? i : next(incoming);
    }
    Map<Difference, Long> all = new EnumMap<>(Difference.class);
    for (Difference d : Difference.values()) {
      if (counts[d.ordinal()] > 0) {
        all.put(d, counts[d.ordinal()]);
      }
    }
    return Counts.of(all);
  }

  /** Receives two rows with the same key. */
  public interface Each {
    void pair(Row a, Row b);
  }

  /** Every key that both sides have, in one pass. */
  public static void pairs(@Nullable RowReader left, @Nullable RowReader right, Each each) {
    Row a = next(left);
    Row b = next(right);
    while (a != null && b != null) {
      int order = a.compareKey(b);
      if (order == 0) {
        each.pair(a, b);
      }
      a = order <= 0 ? next(left) : a;
      b = order >= 0 ? next(right) : b;
    }
  }

  private static @Nullable Row next(@Nullable RowReader reader) {
    return reader == null ? null : reader.next();
  }

  private static @Nullable Row least(@Nullable Row a, @Nullable Row b) {
    if (a == null || b == null) {
      return a == null ? b : a;
    }
    return a.compareKey(b) <= 0 ? a : b;
  }

  private static @Nullable Row takes(@Nullable Row row, Row least) {
    return row != null && (row == least || row.compareKey(least) == 0) ? row : null;
  }
}
