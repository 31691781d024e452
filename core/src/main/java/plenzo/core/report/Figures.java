package plenzo.core.report;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** How often, how long, how much came back: of runs that ended in a span. */
public final class Figures {
  private Figures() {}

  /** How a run ended, as figures tell it. */
  public enum End {
    DONE,
    /** Done, with something to look at. */
    LOOK,
    STOPPED,
    PUT_BACK,
    HALF
  }

  /**
   * One run that ended.
   *
   * @param back whether it went back to what was there
   * @param took from its start to its end
   * @param usersOut how long users were kept out; null where they were not, or it is not over
   * @param fromSealing from the version's sealing to the run's end, where it brought a version and
   *     came through; null else
   * @param forYes from being prepared to the last yes; null where nobody was asked
   * @param forStart from then (or from being prepared) to the start
   */
  public record One(
      long run,
      String application,
      String stage,
      Instant ended,
      End end,
      boolean back,
      Duration took,
      @Nullable Duration usersOut,
      @Nullable Duration fromSealing,
      @Nullable Duration forYes,
      Duration forStart) {}

  /**
   * Of one group.
   *
   * @param name of the stage or application, or the month as 2027-03
   * @param cameThrough runs that brought a version or put something right, and came through
   * @param wentBack runs that went back, and came through
   * @param usersOut in all
   * @param tookMedian null where there are none
   * @param sealingMedian from sealing to the end of the run
   */
  public record Row(
      String name,
      int runs,
      int cameThrough,
      int toLookAt,
      int stopped,
      int putBack,
      int halfWritten,
      int wentBack,
      Duration usersOut,
      @Nullable Duration tookMedian,
      @Nullable Duration tookMost,
      @Nullable Duration sealingMedian,
      @Nullable Duration forYesMedian,
      @Nullable Duration forStartMedian) {}

  /** All of them as one row. */
  public static Row whole(List<One> runs) {
    return row("all", runs);
  }

  public static List<Row> byStage(List<One> runs) {
    return grouped(runs, One::stage);
  }

  public static List<Row> byApplication(List<One> runs) {
    return grouped(runs, One::application);
  }

  /** In order of time; months in which nothing ran are left out. */
  public static List<Row> byMonth(List<One> runs) {
    return grouped(runs, r -> r.ended().atOffset(ZoneOffset.UTC).toString().substring(0, 7));
  }

  private static List<Row> grouped(List<One> runs, Function<One, String> by) {
    TreeMap<String, List<One>> groups = new TreeMap<>();
    runs.forEach(r -> groups.computeIfAbsent(by.apply(r), g -> new ArrayList<>()).add(r));
    return groups.entrySet().stream().map(e -> row(e.getKey(), e.getValue())).toList();
  }

  private static Row row(String name, List<One> runs) {
    return new Row(
        name,
        runs.size(),
        count(runs, r -> !r.back() && (r.end() == End.DONE || r.end() == End.LOOK)),
        count(runs, r -> r.end() == End.LOOK),
        count(runs, r -> r.end() == End.STOPPED),
        count(runs, r -> r.end() == End.PUT_BACK),
        count(runs, r -> r.end() == End.HALF),
        count(runs, r -> r.back() && (r.end() == End.DONE || r.end() == End.LOOK)),
        runs.stream()
            .map(One::usersOut)
            .filter(d -> d != null)
            .reduce(Duration.ZERO, Duration::plus),
        median(runs, One::took),
        runs.stream().map(One::took).max(Duration::compareTo).orElse(null),
        median(runs, One::fromSealing),
        median(runs, One::forYes),
        median(runs, One::forStart));
  }

  private static int count(List<One> runs, Function<One, Boolean> which) {
    return (int) runs.stream().filter(which::apply).count();
  }

  /** The middle one; of an even number the lower of both, so that it is one that there was. */
  private static @Nullable Duration median(List<One> runs, Function<One, @Nullable Duration> what) {
    List<Duration> all = new ArrayList<>();
    for (One r : runs) {
      Duration d = what.apply(r);
      if (d != null) {
        all.add(d);
      }
    }
    Collections.sort(all);
    return all.isEmpty() ? null : all.get((all.size() - 1) / 2);
  }
}
