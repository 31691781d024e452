package plenzo.core.calendar;

import java.time.Instant;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * The newest good version of an application goes to a stage again and again.
 *
 * @param number shown as "RP-2"
 * @param path by which versions go there
 * @param rule when, as an iCalendar recurrence (RFC 5545, 3.3.10) without "RRULE:", in the stage's
 *     time zone
 * @param ends when it is over at the latest
 * @param by whose rights it goes by, judged each time
 * @param next when it comes up; null when it is over
 * @param last when it came up; null before the first time
 * @param sentence what came of the last time
 */
public record Repeat(
    long number,
    String application,
    String path,
    String stage,
    String rule,
    Instant ends,
    String by,
    Instant made,
    State state,
    @Nullable Instant next,
    @Nullable Instant last,
    String sentence,
    int revision) {
  /** Letters of a rule. */
  public static final int LETTERS = 300;

  /** How it stands. */
  public enum State {
    ACTIVE,
    /** Its last time is past. */
    OVER,
    /** Somebody ended it. */
    ENDED;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  public Repeat {
    if (rule.isBlank() || rule.length() > LETTERS) {
      throw new IllegalArgumentException("A rule has 1 to " + LETTERS + " letters");
    }
  }

  public String shown() {
    return "RP-" + number;
  }

  public boolean due(Instant now) {
    return state == State.ACTIVE && next != null && !now.isBefore(next);
  }

  /** Its time passed while the service was not there; it is not caught up. */
  public boolean missed(Instant now) {
    return next != null && now.isAfter(next.plus(Schedule.LATE));
  }

  /**
   * It came up.
   *
   * @param then when it does next; null when it does no more
   */
  public Repeat cameUp(Instant now, @Nullable Instant then, String said) {
    return with(then == null ? State.OVER : State.ACTIVE, then, now, said);
  }

  public Repeat end(String said) {
    return with(State.ENDED, null, last, said);
  }

  private Repeat with(
      State state, @Nullable Instant next, @Nullable Instant last, String sentence) {
    return new Repeat(
        number,
        application,
        path,
        stage,
        rule,
        ends,
        by,
        made,
        state,
        next,
        last,
        sentence,
        revision);
  }
}
