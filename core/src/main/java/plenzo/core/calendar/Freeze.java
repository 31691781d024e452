package plenzo.core.calendar;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A span in which no version goes to a stage.
 *
 * @param number shown as "FZ-3"
 * @param except applications that it does not hold
 * @param lifted who ended it before its time, and why; null where nobody did
 */
public record Freeze(
    long number,
    String stage,
    Instant from,
    Instant until,
    String reason,
    List<String> except,
    String by,
    Instant at,
    @Nullable Lifted lifted,
    int revision) {
  /** Longest span: a year and a day (guess: longer is a closed stage). */
  private static final Duration LONGEST = Duration.ofDays(366);

  /** Letters of a reason. */
  private static final int LETTERS = 500;

  /** Somebody's word that it is over. */
  public record Lifted(String by, Instant at, String reason) {}

  public Freeze {
    reason = reason.strip();
    except = List.copyOf(except);
    if (!until.isAfter(from)) {
      throw new IllegalArgumentException("A freeze ends after it begins");
    }
    if (Duration.between(from, until).compareTo(LONGEST) > 0) {
      throw new IllegalArgumentException("A freeze is a year long at most");
    }
    if (reason.isEmpty() || reason.length() > LETTERS) {
      throw new IllegalArgumentException("A freeze has a reason of 1 to " + LETTERS + " letters");
    }
  }

  public String shown() {
    return "FZ-" + number;
  }

  /** When it is over: its end, or when it was lifted. */
  public Instant over() {
    return lifted != null && lifted.at().isBefore(until) ? lifted.at() : until;
  }

  /** Whether it holds an application's versions at that time. */
  public boolean holds(String application, Instant time) {
    return !time.isBefore(from) && time.isBefore(over()) && !except.contains(application);
  }

  /** Whether it is over, or never held. */
  public boolean over(Instant now) {
    return !now.isBefore(over());
  }

  public Freeze lift(Lifted how) {
    return new Freeze(number, stage, from, until, reason, except, by, at, how, revision);
  }
}
