package plenzo.e2e;

import java.util.ArrayDeque;
import java.util.Deque;

/**
 * What a test started, stopped in the reverse order, also when starting failed half way or one of
 * them cannot be stopped.
 */
final class Started implements AutoCloseable {
  private final Deque<AutoCloseable> all = new ArrayDeque<>();

  <T extends AutoCloseable> T add(T it) {
    all.push(it);
    return it;
  }

  @Override
  public void close() {
    IllegalStateException failed = null;
    while (!all.isEmpty()) {
      try {
        all.pop().close();
      } catch (Exception e) {
        if (failed == null) {
          failed = new IllegalStateException("Not everything could be stopped");
        }
        failed.addSuppressed(e);
      }
    }
    if (failed != null) {
      throw failed;
    }
  }
}
