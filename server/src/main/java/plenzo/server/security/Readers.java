package plenzo.server.security;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import org.springframework.stereotype.Component;

/**
 * How many bodies are being read. Each holds a thread until it is there, so a few for each person
 * or address, and never all threads: those who send slowly wait for one another alone.
 */
@Component
class Readers {
  /** Of the 40 threads, so that health and lists are answered meanwhile (guess). */
  static final int MOST = 24;

  /** Of the bodies in reading, those of strangers. */
  static final int STRANGERS = 12;

  /** For one person, or one address of strangers. */
  static final int EACH = 6;

  /** A refused body that is longer is not taken in. */
  private static final int SHORT = 64 << 10;

  private final Semaphore all = new Semaphore(MOST);
  private final Semaphore strangers = new Semaphore(STRANGERS);
  private final Map<String, Integer> each = new ConcurrentHashMap<>();

  /** A place among those that are read; closed when the body is there. */
  interface Place extends AutoCloseable {
    @Override
    void close();
  }

  /** A place; empty when there are too many. */
  Optional<Place> enter(HttpServletRequest request) {
    boolean stranger = Asking.known(request).isEmpty();
    String who =
        stranger ? "@" + request.getRemoteAddr() : Asking.signedIn(request).person().login();
    if (each.merge(who, 1, Integer::sum) > EACH) {
      leave(who);
      return Optional.empty();
    }
    if (stranger && !strangers.tryAcquire()) {
      leave(who);
      return Optional.empty();
    }
    if (!all.tryAcquire()) {
      if (stranger) {
        strangers.release();
      }
      leave(who);
      return Optional.empty();
    }
    return Optional.of(
        () -> {
          all.release();
          if (stranger) {
            strangers.release();
          }
          leave(who);
        });
  }

  private void leave(String who) {
    each.computeIfPresent(who, (w, n) -> n == 1 ? null : n - 1);
  }

  /** Takes in a body that nobody wants; false when it is long or slow, or too many are read. */
  boolean drained(HttpServletRequest request) {
    if (request.getContentLengthLong() == 0
        || request.getContentLengthLong() < 0 && request.getHeader("Transfer-Encoding") == null) {
      return true;
    }
    Optional<Place> place =
        request.getContentLengthLong() > SHORT ? Optional.empty() : enter(request);
    if (place.isEmpty()) {
      return false;
    }
    try (Place held = place.get();
        InputStream in = new PacedStream(request.getInputStream())) {
      return in.readNBytes(SHORT + 1).length <= SHORT;
    } catch (IOException e) {
      return false; // too slow, or gone
    } catch (IllegalStateException e) {
      return true; // it was read already
    }
  }
}
