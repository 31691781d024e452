package plenzo.engine.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;

/**
 * Slows an address from which sign-ins fail one after the other, whatever names they try. Many
 * people may share an address, so it is never closed: whoever signed in from there before is judged
 * as ever, all others one after the other. In memory and bounded: a restart forgets, an account's
 * own lock does not.
 */
final class Addresses {
  /** Failures that may come from one address before it is slowed (guess: an office's Monday). */
  static final int FAILURES = 30;

  /** Between two tries of people who are not known there. */
  static final Duration PAUSE = Duration.ofSeconds(2);

  private static final int MOST = 10_000;

  /** Without a failure for so long an address is like any other. */
  private static final Duration FORGOTTEN = Duration.ofHours(1);

  private final Cache<String, Tries> tries = Caffeine.newBuilder().maximumSize(MOST).build();
  private final Cache<String, Boolean> known = Caffeine.newBuilder().maximumSize(MOST).build();

  /**
   * @param last when the last one failed
   * @param next when the next stranger is judged
   */
  private record Tries(int failures, Instant last, Instant next) {}

  /** Whether a try is judged; one that is not counts as none. */
  boolean judges(String address, String login, Instant now) {
    if (known.getIfPresent(pair(address, login)) != null) {
      return true;
    }
    boolean[] judged = {true};
    tries
        .asMap()
        .computeIfPresent(
            address,
            (a, t) -> {
              if (now.isAfter(t.last().plus(FORGOTTEN))) {
                return null;
              }
              judged[0] = t.failures() < FAILURES || !now.isBefore(t.next());
              return judged[0] ? new Tries(t.failures(), t.last(), now.plus(PAUSE)) : t;
            });
    return judged[0];
  }

  void failed(String address, Instant now) {
    tries
        .asMap()
        .merge(
            address,
            new Tries(1, now, now.plus(PAUSE)),
            (t, one) -> new Tries(t.failures() + 1, now, t.next()));
  }

  void succeeded(String address, String login) {
    known.put(pair(address, login), true);
  }

  private static String pair(String address, String login) {
    return address + " " + login;
  }
}
