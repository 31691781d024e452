package plenzo.core.telling;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * One event on its way to one address, or as a letter to one person.
 *
 * @param number shown as "DV-9"
 * @param webhook name of the address that is told, or "@" and whoever is written to
 * @param entry sequence of the history's entry
 * @param tries how often it was sent
 * @param next when it is sent again; null when it is over
 * @param said what came of the last try
 */
public record Delivery(
    long number,
    String webhook,
    long entry,
    String event,
    State state,
    int tries,
    @Nullable Instant next,
    String said,
    Instant made,
    int revision) {
  /** Pauses before it is sent again: about two days in all (guess). */
  private static final List<Duration> PAUSES =
      List.of(
          Duration.ofMinutes(1),
          Duration.ofMinutes(5),
          Duration.ofMinutes(30),
          Duration.ofHours(2),
          Duration.ofHours(6),
          Duration.ofHours(12),
          Duration.ofHours(24));

  /** Before the sign-in name of whoever is written to; no webhook is named so. */
  public static final String MAIL = "@";

  /** How it stands. */
  public enum State {
    WAITING,
    DELIVERED,
    GIVEN_UP;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  public String shown() {
    return "DV-" + number;
  }

  /** Whether it is a letter. */
  public boolean byMail() {
    return webhook.startsWith(MAIL);
  }

  public boolean due(Instant now) {
    return state == State.WAITING && next != null && !next.isAfter(now);
  }

  public Delivery delivered(String what) {
    return with(State.DELIVERED, tries + 1, null, what);
  }

  /** It waits for longer each time, and is given up in the end. */
  public Delivery failed(Instant now, String why) {
    return tries < PAUSES.size()
        ? with(State.WAITING, tries + 1, now.plus(PAUSES.get(tries)), why)
        : givenUp(why);
  }

  /** Tried no more. */
  public Delivery givenUp(String why) {
    return with(State.GIVEN_UP, tries + 1, null, why);
  }

  /** Sent once more, as if it were new. */
  public Delivery again(Instant now) {
    return with(State.WAITING, 0, now, said);
  }

  private Delivery with(State how, int times, @Nullable Instant when, String what) {
    return new Delivery(number, webhook, entry, event, how, times, when, what, made, revision);
  }
}
