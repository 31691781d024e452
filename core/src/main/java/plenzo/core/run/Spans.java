package plenzo.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.plan.Plan.Act;

/**
 * How long runs at a site took that came through: what another one may take. What people took for
 * work by hand, and what it was paused, does not count.
 *
 * @param whole from the first step to the last; null where no run came through
 * @param usersOut from closing to letting in; null where none closed
 * @param steps the usual time of each sort of step
 */
public record Spans(@Nullable Span whole, @Nullable Span usersOut, Map<String, Duration> steps) {
  public Spans {
    steps = Map.copyOf(steps);
  }

  /**
   * The shortest and the longest.
   *
   * @param runs of how many that came through; 0 where it is told by what it carries alone
   */
  public record Span(Duration least, Duration most, int runs) {}

  /** Of runs that came through, for one that carries as much as each; others are passed over. */
  public static Spans of(List<Run> runs) {
    return of(runs, null);
  }

  /**
   * Of runs that came through; others are passed over.
   *
   * @param load what the run carries that is to come; null for as much as each of them did
   */
  public static Spans of(List<Run> runs, @Nullable Load load) {
    List<Span> wholes = new ArrayList<>();
    List<Span> outs = new ArrayList<>();
    Map<String, List<Duration>> all = new TreeMap<>();
    for (Run r : runs) {
      if (!r.state().applied() || timesUnknown(r)) {
        continue;
      }
      Load then = Load.of(r);
      Load now = load == null ? then : load;
      wholes.add(each(r.steps(), then, now));
      within(r).ifPresent(steps -> outs.add(each(steps, then, now)));
      for (RunStep s : r.steps()) {
        took(s)
            .ifPresent(
                d ->
                    all.computeIfAbsent(sort(s), k -> new ArrayList<>())
                        .add(now.instead(d, then, grows(s), /* best= */ true)));
      }
    }
    Map<String, Duration> usual = new TreeMap<>();
    all.forEach(
        (sort, each) ->
            usual.put(
                sort, each.stream().reduce(Duration.ZERO, Duration::plus).dividedBy(each.size())));
    return new Spans(span(wholes), span(outs), usual);
  }

  /** Whether the clock was set back in the middle of a step: what it took is not known then. */
  private static boolean timesUnknown(Run r) {
    return r.steps().stream()
        .anyMatch(s -> s.began() != null && s.ended() != null && s.ended().isBefore(s.began()));
  }

  private static @Nullable Span span(List<Span> each) {
    return each.isEmpty()
        ? null
        : new Span(
            each.stream().map(Span::least).min(Duration::compareTo).orElseThrow(),
            each.stream().map(Span::most).max(Duration::compareTo).orElseThrow(),
            each.size());
  }

  /** What the steps of one run would take with another load. */
  private static Span each(List<RunStep> steps, Load then, Load now) {
    return new Span(sum(steps, then, now, true), sum(steps, then, now, false), 1);
  }

  private static Duration sum(List<RunStep> steps, Load then, Load now, boolean best) {
    return steps.stream()
        .flatMap(s -> took(s).map(d -> now.instead(d, then, grows(s), best)).stream())
        .reduce(Duration.ZERO, Duration::plus);
  }

  private static Load.Grows grows(RunStep s) {
    return switch (s.act()) {
      case BACK_UP, PROVE, ADD_MOVED -> Load.Grows.COPYING;
      case PREPARE, SWITCH, READ_BACK -> Load.Grows.WRITING;
      default -> Load.Grows.NOT;
    };
  }

  /**
   * The same; where no run came through yet, what the load alone tells.
   *
   * @param closes whether users are kept out
   */
  public Spans orBySize(Load load, boolean closes) {
    return new Spans(
        whole == null ? load.bySize(/* usersOut= */ false) : whole,
        !closes ? null : usersOut == null ? load.bySize(/* usersOut= */ true) : usersOut,
        steps);
  }

  /** The steps during which users were out; empty where it closed nothing or let nobody in. */
  private static Optional<List<RunStep>> within(Run r) {
    int from =
        r.step(Act.CLOSE, null).filter(s -> s.ended() != null).map(RunStep::number).orElse(0);
    int to = r.last(Act.OPEN).filter(s -> s.ended() != null).map(RunStep::number).orElse(0);
    return from == 0 || to < from ? Optional.empty() : Optional.of(r.steps().subList(from - 1, to));
  }

  private static Optional<Duration> took(RunStep s) {
    Instant began = s.began();
    Instant ended = s.ended();
    return s.manual() != null || began == null || ended == null
        ? Optional.empty()
        : Optional.of(Duration.between(began, ended));
  }

  /** Steps of one sort take alike, wherever they stand. */
  private static String sort(RunStep s) {
    return s.act() + (s.holder() == null ? "" : " " + s.holder());
  }

  /** The usual time of a step; null where none like it came through. */
  public @Nullable Duration usual(RunStep s) {
    return s.manual() != null ? null : steps.get(sort(s));
  }

  /** What all steps usually take together; null where no run came through. */
  public @Nullable Duration usualWhole() {
    return steps.isEmpty() ? null : steps.values().stream().reduce(Duration.ZERO, Duration::plus);
  }
}
