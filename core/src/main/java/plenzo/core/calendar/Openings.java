package plenzo.core.calendar;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * When runs of an application may start at a stage: inside a window, where it has any, and outside
 * every freeze. Going back may always start.
 */
public record Openings(
    String stage, ZoneId zone, List<Window> windows, List<Freeze> freezes, String application) {
  /** How far ahead an opening is looked for: every weekly window comes up in this time. */
  private static final Duration AHEAD = Duration.ofDays(400);

  private static final DateTimeFormatter MINUTE = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm");

  public Openings {
    windows = List.copyOf(windows);
    freezes = List.copyOf(freezes);
  }

  /**
   * Why nothing may start.
   *
   * @param opens when something may again, as far as is known now; null where nothing is in sight
   */
  public record Closed(String why, @Nullable Instant opens) {}

  /** Empty when a run may start then. */
  public Optional<Closed> closed(Instant at) {
    Freeze freeze =
        freezes.stream()
            .filter(f -> f.holds(application, at))
            .max(Comparator.comparing(Freeze::over))
            .orElse(null);
    if (freeze != null) {
      return Optional.of(
          new Closed(
              stage
                  + " is frozen until "
                  + said(freeze.over())
                  + ": "
                  + freeze.reason()
                  + " ("
                  + freeze.shown()
                  + ")",
              next(at).orElse(null)));
    }
    if (windows.isEmpty() || inWindow(at)) {
      return Optional.empty();
    }
    Instant opens = next(at).orElse(null);
    return Optional.of(
        new Closed(
            stage
                + " is outside its windows"
                + (opens == null ? "" : ", the next opens " + said(opens)),
            opens));
  }

  private boolean inWindow(Instant at) {
    LocalDate day = at.atZone(zone).toLocalDate();
    return windows.stream()
        .flatMap(w -> java.util.stream.Stream.of(w.on(day.minusDays(1), zone), w.on(day, zone)))
        .anyMatch(s -> s != null && s.contains(at));
  }

  /** The first moment from then on at which a run may start. */
  public Optional<Instant> next(Instant from) {
    List<Instant> moments = new ArrayList<>();
    moments.add(from);
    freezes.stream().map(Freeze::over).filter(t -> t.isAfter(from)).forEach(moments::add);
    spans(from, from.plus(AHEAD)).stream()
        .map(Window.Span::from)
        .filter(t -> t.isAfter(from))
        .forEach(moments::add);
    return moments.stream().sorted().filter(this::open).findFirst();
  }

  private boolean open(Instant at) {
    return freezes.stream().noneMatch(f -> f.holds(application, at))
        && (windows.isEmpty() || inWindow(at));
  }

  /** Every time that a window is open and that touches the span, in order. */
  public List<Window.Span> spans(Instant from, Instant until) {
    List<Window.Span> out = new ArrayList<>();
    LocalDate last = until.atZone(zone).toLocalDate();
    for (LocalDate day = from.atZone(zone).toLocalDate().minusDays(1);
        !day.isAfter(last);
        day = day.plusDays(1)) {
      for (Window w : windows) {
        Window.Span s = w.on(day, zone);
        boolean skipped = s != null && s.until().equals(s.from());
        if (s != null && s.from().isBefore(until) && (skipped || s.until().isAfter(from))) {
          out.add(s);
        }
      }
    }
    out.sort(Comparator.comparing(Window.Span::from).thenComparing(Window.Span::until));
    return out;
  }

  /** A time as people at the stage read it. */
  public String said(Instant at) {
    return MINUTE.format(at.atZone(zone)) + " " + zone.getId();
  }
}
