package plenzo.core.calendar;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.stage.SiteKey;

/**
 * A run that is to start by itself.
 *
 * @param number shown as "SC-4"
 * @param fingerprint of the plan that it was scheduled for: no other starts
 * @param lookedAt when it was looked at last
 * @param sentence what became of it, or what moved meanwhile; empty while nothing did
 * @param run that it started; null before
 * @param after number of a promotion whose run must be done before; null where none must
 */
public record Schedule(
    long number,
    long promotion,
    String application,
    String version,
    SiteKey site,
    String fingerprint,
    Instant at,
    String by,
    Instant made,
    State state,
    Instant lookedAt,
    String sentence,
    @Nullable Long run,
    @Nullable Long after,
    int revision) {
  /** A service that was down for longer starts nothing that is past (guess). */
  public static final Duration LATE = Duration.ofMinutes(10);

  /** How far ahead a run is scheduled at most (guess). */
  public static final Duration AHEAD = Duration.ofDays(90);

  /** Before its time it is looked at once more. */
  private static final List<Duration> LOOKS =
      List.of(Duration.ofHours(24), Duration.ofHours(2), Duration.ofMinutes(15));

  /** How it stands. */
  public enum State {
    WAITING,
    STARTED,
    /** At its time something had moved, or a gate was closed. */
    REFUSED,
    /** Its time passed while the service was not there; it is not caught up. */
    MISSED,
    WITHDRAWN;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  public String shown() {
    return "SC-" + number;
  }

  /** Whether nobody waits for it any more: the other run did not come in all that time. */
  public boolean forgotten(Instant now) {
    return now.isAfter(made.plus(AHEAD));
  }

  public boolean due(Instant now) {
    return !now.isBefore(at);
  }

  /** What waits for another run has no time of its own that could be missed. */
  public boolean missed(Instant now) {
    return after == null && now.isAfter(at.plus(LATE));
  }

  /**
   * Whether it is to be looked at again: a day, two hours and a quarter of an hour before, and each
   * day.
   */
  public boolean wantsLook(Instant now) {
    if (!lookedAt.plus(Duration.ofDays(1)).isAfter(now)) {
      return true;
    }
    return after == null
        && LOOKS.stream()
            .map(at::minus)
            .anyMatch(moment -> moment.isAfter(lookedAt) && !moment.isAfter(now));
  }

  /** The next time that it is looked at, or its own. */
  public Instant nextLook() {
    Optional<Instant> moment =
        after != null
            ? Optional.empty()
            : LOOKS.stream()
                .map(at::minus)
                .filter(m -> m.isAfter(lookedAt))
                .min(Instant::compareTo);
    Instant daily = lookedAt.plus(Duration.ofDays(1));
    Instant soonest = moment.filter(m -> m.isBefore(daily)).orElse(daily);
    return after != null || soonest.isBefore(at) ? soonest : at;
  }

  /** When it starts: a time, or after another one's run. */
  public String words() {
    return after == null ? "at " + at : "after the run of P-" + after;
  }

  public Schedule looked(Instant now, String found) {
    return with(state, now, found, run);
  }

  public Schedule end(State how, String said, @Nullable Long started) {
    return with(how, lookedAt, said, started);
  }

  private Schedule with(State next, Instant looked, String said, @Nullable Long started) {
    return new Schedule(
        number,
        promotion,
        application,
        version,
        site,
        fingerprint,
        at,
        by,
        made,
        next,
        looked,
        said,
        started,
        after,
        revision);
  }
}
