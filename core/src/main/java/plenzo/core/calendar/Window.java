package plenzo.core.calendar;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.words.Codes;

/**
 * Hours of a week in which runs may start at a stage, in the stage's time zone.
 *
 * @param days on which it begins
 * @param until when it ends; not after {@code from} it is on the next day
 */
public record Window(Set<DayOfWeek> days, LocalTime from, LocalTime until) {
  public Window {
    if (days.isEmpty()) {
      throw new IllegalArgumentException("A window is on one day of the week at least");
    }
    if (from.getSecond() != 0 || until.getSecond() != 0) {
      throw new IllegalArgumentException("A window begins and ends at a full minute");
    }
    days = Set.copyOf(days);
  }

  /** Days by their first three letters: "mon". */
  public static Window of(Collection<String> days, String from, String until) {
    return new Window(
        days.stream()
            .map(d -> Codes.find("a day of the week", DayOfWeek.values(), Window::code, d))
            .collect(Collectors.toSet()),
        LocalTime.parse(from),
        LocalTime.parse(until));
  }

  public static String code(DayOfWeek day) {
    return day.name().substring(0, 3).toLowerCase(Locale.ROOT);
  }

  /** In the order of the week. */
  public List<String> dayCodes() {
    return new TreeSet<>(days).stream().map(Window::code).toList();
  }

  /** "mon, tue 22:00 to 04:00". */
  public String words() {
    return (days.size() == 7 ? "every day" : String.join(", ", dayCodes()))
        + " "
        + from
        + " to "
        + until;
  }

  /**
   * One time that it is open.
   *
   * @param note what a change of the clocks does to it; null where it does nothing
   */
  public record Span(Instant from, Instant until, @Nullable String note) {
    public boolean contains(Instant at) {
      return !at.isBefore(from) && at.isBefore(until);
    }
  }

  /** The one that begins on a day; null where none does. */
  public @Nullable Span on(LocalDate day, ZoneId zone) {
    if (!days.contains(day.getDayOfWeek())) {
      return null;
    }
    LocalDate last = until.isAfter(from) ? day : day.plusDays(1);
    // an hour that is skipped begins when the clocks are set; one that is there twice, the first
    // time
    ZonedDateTime begins = ZonedDateTime.of(day, from, zone);
    ZonedDateTime ends = ZonedDateTime.of(last, until, zone);
    if (!ends.toInstant().isAfter(begins.toInstant())) {
      return new Span(
          begins.toInstant(), begins.toInstant(), "these hours are skipped: the clocks change");
    }
    Duration said = Duration.between(day.atTime(from), last.atTime(until));
    Duration is = Duration.between(begins, ends);
    long minutes = is.minus(said).toMinutes();
    return new Span(
        begins.toInstant(),
        ends.toInstant(),
        minutes == 0
            ? null
            : "the clocks change: it lasts "
                + Math.abs(minutes)
                + " min "
                + (minutes > 0 ? "longer" : "less"));
  }
}
