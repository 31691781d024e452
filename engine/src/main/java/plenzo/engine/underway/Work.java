package plenzo.engine.underway;

import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Something that takes its time, as it stands.
 *
 * @param number rises with each that begins; starts anew with the service
 * @param by who does it
 * @param act what is done
 * @param about what it is done to, such as {@code draft/D-3}
 * @param application whose it is; null where that is not known yet
 * @param done how many of {@code of} are behind it, in {@code unit}
 * @param of 0 where nobody knows how many there are
 * @param at what it is at, such as a component and how many rows of it were read; may be empty
 * @param ended null while it goes on
 * @param outcome what came of it: empty while it goes on and when all went well, else why not
 */
public record Work(
    long number,
    String by,
    Act act,
    String about,
    @Nullable String application,
    Instant began,
    long done,
    long of,
    String unit,
    String at,
    @Nullable Instant ended,
    String outcome) {
  /** What can take its time. */
  public enum Act {
    ADOPT,
    CHECK,
    SEAL,
    COMPARE,
    REHEARSE,
    BUILD,
    RECEIVE,
    BRING_IN,
    GO_BACK;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /** The same, further on. */
  Work on(long nowDone, long nowOf, String nowUnit, String nowAt) {
    return new Work(
        number, by, act, about, application, began, nowDone, nowOf, nowUnit, nowAt, ended, outcome);
  }

  /** The same once it is over; all of it is behind it when it went well. */
  Work over(Instant when, String why) {
    boolean well = why.isEmpty();
    return new Work(
        number,
        by,
        act,
        about,
        application,
        began,
        well && of > 0 ? of : done,
        of,
        unit,
        well ? "" : at,
        when,
        why);
  }

  /**
   * How many seconds it takes yet when it goes on as so far; empty before the tenth part of it is
   * done and where nobody knows how much there is.
   */
  public Optional<Double> left(Instant now) {
    if (ended != null || of == 0 || done * 10 < of) {
      return Optional.empty();
    }
    double seconds = Duration.between(began, now).toMillis() / 1000.0;
    return Optional.of(seconds * (of - done) / done);
  }
}
