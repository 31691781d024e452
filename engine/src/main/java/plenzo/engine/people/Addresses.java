package plenzo.engine.people;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Slows an address from which sign-ins fail one after the other, whatever names they try. In memory
 * and bounded: a restart forgets, an account's own lock does not.
 */
final class Addresses {
  /** Failures in a row that may come from one address, behind which many people may sit (guess). */
  static final int FAILURES = 30;

  private static final int MOST = 10_000;
  private static final Duration FIRST_WAIT = Duration.ofSeconds(30);

  private final Map<String, Tries> tries =
      new LinkedHashMap<>(16, 0.75f, /* accessOrder= */ true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Tries> eldest) {
          return size() > MOST;
        }
      };

  private record Tries(int failures, Instant until) {}

  synchronized boolean waits(String address, Instant now) {
    Tries t = tries.get(address);
    return t != null && now.isBefore(t.until());
  }

  synchronized void failed(String address, Instant now) {
    Tries t = tries.get(address);
    int failures = t == null ? 1 : t.failures() + 1;
    Duration wait =
        failures < FAILURES
            ? Duration.ZERO
            : FIRST_WAIT.multipliedBy(1L << Math.min(failures - FAILURES, 6));
    tries.put(address, new Tries(failures, now.plus(wait)));
  }

  synchronized void succeeded(String address) {
    tries.remove(address);
  }
}
