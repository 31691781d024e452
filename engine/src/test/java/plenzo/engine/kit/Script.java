package plenzo.engine.kit;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import plenzo.core.target.TargetFailed;

/**
 * What a scripted target does at its calls beside answering them: dies, falls silent, lets somebody
 * else write. Every call is remembered.
 */
public final class Script {
  /** Where something may happen. */
  public enum At {
    LOOK,
    CHANGE,
    PREPARE,
    /** Before the switch is done. */
    SWITCH,
    /** After the switch is done and before it is answered. */
    SWITCHED,
    /** Before what the switch left is looked at. */
    FINISH,
    SETTLE,
    UNDO,
    DISCARD,
    MAINTENANCE,
    REFRESH,
    /** After people were told. */
    ANNOUNCE,
    /** A place of its own is made. */
    SCRATCH,
    /** It is taken away. */
    DROPPED,
    PROBE
  }

  private final Map<At, Deque<Runnable>> next = new HashMap<>();
  private final List<At> calls = new ArrayList<>();
  private boolean silent;

  /** At the next call of that sort, and only then. */
  public Script once(At at, Runnable happens) {
    next.computeIfAbsent(at, a -> new ArrayDeque<>()).add(happens);
    return this;
  }

  public Script killAt(At at) {
    return once(
        at,
        () -> {
          throw new Killed("at " + at);
        });
  }

  /** The call is not answered: what it did is unknown. */
  public Script loseAt(At at) {
    return once(
        at,
        () -> {
          throw failed("no answer at " + at);
        });
  }

  /** Whatever was to happen and has not happens no more. */
  public void forget() {
    next.clear();
  }

  /** The target cannot be reached from here until {@link #wake}. */
  public void fallSilent() {
    silent = true;
  }

  public void wake() {
    silent = false;
  }

  static TargetFailed failed(String why) {
    return new TargetFailed(why, /* notReachable= */ true, new IllegalStateException(why));
  }

  /** Called by the target; by a script, to go through what is silent now. */
  public void call(At at) {
    calls.add(at);
    if (silent) {
      throw failed("the target is silent");
    }
    Deque<Runnable> queue = next.get(at);
    if (queue != null && !queue.isEmpty()) {
      queue.remove().run();
    }
  }

  /** How often it was called so. */
  public long calls(At at) {
    return calls.stream().filter(at::equals).count();
  }
}
