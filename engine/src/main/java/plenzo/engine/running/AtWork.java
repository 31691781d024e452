package plenzo.engine.running;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.function.Supplier;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/**
 * Which runs a thread of this process works on. A run is claimed before its record says that it is
 * running, or else whoever looks for runs that were left alone could find it between the two, end
 * it, and work on it beside the thread that it was begun for.
 */
final class AtWork {
  /** By run, what says which thread. */
  private final Map<Long, Object> tokens = new HashMap<>();

  /**
   * One thread's, until it is closed or a later one of the same run took its place.
   *
   * @param run as it was recorded when it was claimed
   */
  record Claim(Run run, AtWork of, Object token) implements AutoCloseable {
    @Override
    public void close() {
      synchronized (of) {
        of.tokens.remove(run.number(), token);
      }
    }
  }

  /**
   * Claims a run and records that it goes on; nobody sees the one without the other. Of two claims
   * the later counts: the thread that paused it may be about to give up its own still.
   *
   * @param recorded writes the record, and says how the run is then
   * @param goesOn whether there is work for the caller then; judged when it is recorded
   */
  synchronized Optional<Claim> claim(long number, Supplier<Run> recorded, Predicate<Run> goesOn) {
    Object token = new Object();
    Object before = tokens.put(number, token);
    Optional<Claim> claim = Optional.empty();
    try {
      claim = Optional.of(recorded.get()).filter(goesOn).map(run -> new Claim(run, this, token));
      return claim;
    } finally {
      if (claim.isEmpty()) {
        tokens.compute(number, (n, mine) -> before);
      }
    }
  }

  /**
   * Claims a run that is running and that nobody works on.
   *
   * @param now reads it: it may have ended, by its own thread, after it was listed
   */
  synchronized Optional<Claim> leftAlone(long number, Supplier<Run> now) {
    return tokens.containsKey(number)
        ? Optional.empty()
        : claim(number, now, run -> run.state() == RunState.RUNNING);
  }
}
