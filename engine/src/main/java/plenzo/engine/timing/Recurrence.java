package plenzo.engine.timing;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import net.fortuna.ical4j.model.Recur;
import net.fortuna.ical4j.transform.recurrence.Frequency;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Repeat;
import plenzo.core.problem.Problem;

/**
 * Times that come again and again, by a rule of iCalendar (RFC 5545, 3.3.10), in a time zone. What
 * a change of the clocks skips comes when they are set.
 */
public final class Recurrence {
  /** It comes no more often (guess: a comparison and a run take minutes). */
  private static final Duration OFTEN = Duration.ofHours(1);

  private final Recur<ZonedDateTime> rule;
  private final ZonedDateTime seed;

  private Recurrence(Recur<ZonedDateTime> rule, ZonedDateTime seed) {
    this.rule = rule;
    this.seed = seed;
  }

  /**
   * One that somebody asks for; it is judged once.
   *
   * @throws Problem when it is no such rule, never comes, or comes more often than every hour
   */
  public static Recurrence asked(String rule, ZoneId zone, Instant from) {
    Recurrence made = of(rule, zone, from);
    made.requireSeldom(rule, from);
    return made;
  }

  /**
   * @param from when it begins; what the rule does not say of hour and minute is taken from here
   * @throws Problem when it is no such rule
   */
  public static Recurrence of(String rule, ZoneId zone, Instant from) {
    if (rule.isBlank() || rule.length() > Repeat.LETTERS) {
      throw refused(rule, "a rule has 1 to " + Repeat.LETTERS + " letters");
    }
    Recur<ZonedDateTime> recur;
    try {
      recur = new Recur<>(rule);
    } catch (RuntimeException e) {
      throw refused(rule, String.valueOf(e.getMessage()));
    }
    if (recur.getFrequency() == Frequency.SECONDLY || recur.getFrequency() == Frequency.MINUTELY) {
      throw refused(rule, "it comes every hour at most");
    }
    ZonedDateTime seed = from.atZone(zone).truncatedTo(ChronoUnit.MINUTES);
    return new Recurrence(recur, seed);
  }

  private void requireSeldom(String text, Instant from) {
    Instant at = next(from).orElseThrow(() -> refused(text, "it never comes"));
    for (int i = 0; i < 50; i++) {
      Instant then = next(at).orElse(null);
      if (then == null) {
        return;
      }
      if (Duration.between(at, then).compareTo(OFTEN) < 0) {
        throw refused(text, "it comes every hour at most");
      }
      at = then;
    }
  }

  private static Problem refused(String rule, String why) {
    return Problem.invalid(
        "RULE", "\"" + rule + "\" is not taken as a recurrence: " + why + ".", "/rule");
  }

  /** The first time after a moment. */
  public Optional<Instant> next(Instant after) {
    @Nullable ZonedDateTime next = rule.getNextDate(seed, after.atZone(seed.getZone()));
    return Optional.ofNullable(next).map(ZonedDateTime::toInstant).filter(t -> t.isAfter(after));
  }
}
