package plenzo.core.target;

import java.time.Instant;
import java.util.List;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;

/**
 * A session that may change a target, used inside a run alone. One thread, except {@link #abort()}.
 */
public interface Changing extends Session {
  /** Creates the marker when there is none and writes who the target is. */
  void declare(TargetIdentity identity, String lookingAccount);

  /**
   * Claims the target for this session's life, so that no other service or session changes it too.
   *
   * @throws SwitchRefused when another session has claimed it; the details name it
   */
  void claim();

  /**
   * Puts what the switch needs beside the present content; repeatable by run, out of users' sight.
   */
  void prepare(long run, Delta delta, Watch watch);

  /**
   * The switch: one act that marks, compares, writes and reads back, or changes nothing.
   *
   * @throws SwitchRefused when nothing was changed
   * @throws TargetFailed when what happened is unknown until settled
   */
  void switchOver(RunMark mark, Delta delta, Watch watch);

  /**
   * Makes the outcome of the mark final and says it. A mark of that number with another plan is
   * {@link Settled#ANOTHER}, never this run's.
   *
   * @param sessions process id and start of the sessions that tried it, "pid@start"
   * @throws TargetFailed while it cannot be said
   */
  Settled settle(RunMark mark, List<String> sessions);

  /**
   * What may be left to do when a switch was committed, beside running work; repeatable, needs no
   * memory. Nothing by targets that switch whole.
   *
   * @return what could not be done, in words
   * @throws TargetFailed when the target does not answer
   */
  default List<String> finish(long run, Watch watch) {
    return List.of();
  }

  /** Takes away what {@link #prepare} put there; repeatable, needs no memory. */
  void discard(long run);

  /** Takes away what a run that is over left there; repeatable. */
  default void clear(Leftover leftover) {
    discard(leftover.run());
  }

  /**
   * Keeps users out, or lets everybody in again. Idempotent; what was done is remembered at the
   * target itself, so that letting in needs no memory of keeping out.
   *
   * @param run the run that does it; 0 for a person
   * @param doors how; a target with {@link Connector.Capability#MAINTENANCE} does not look at them
   * @param notice what people are told
   * @throws TargetFailed when somebody would not be kept out; nothing is changed then
   */
  void maintenance(boolean on, long run, Doors doors, String notice);

  /**
   * Tells people that they will be kept out from a moment on, or takes that back. Idempotent; gone
   * as soon as they are kept out.
   *
   * @param at null takes it back
   * @throws TargetFailed when the target has no way to tell people
   */
  default void announce(String notice, @Nullable Instant at) {
    throw new UnsupportedOperationException("There is nobody to tell");
  }

  /**
   * Ends the sessions of accounts that are kept out.
   *
   * @throws TargetFailed when the account may not
   */
  default void endSessions(Doors doors) {
    throw new UnsupportedOperationException("There are no sessions to end");
  }

  /** Process id and start of this session, "pid@start". */
  String session();

  /** Stops the statement that is running, from another thread. */
  void abort();

  /** Told what goes on while the target works. */
  interface Watch {
    void say(String line);

    /** Rows, files or definitions done so far. */
    void rows(long done);

    /** Called right before the act that cannot be called back is sent; throwing stops it. */
    void beforeCommit();

    BooleanSupplier abortAsked();

    /**
     * Of work that nobody reads along and that goes on until it is stopped.
     *
     * @param each told before each step; may throw to stop
     */
    static Watch quiet(Runnable each) {
      return new Watch() {
        @Override
        public void say(String line) {}

        @Override
        public void rows(long done) {
          each.run();
        }

        @Override
        public void beforeCommit() {}

        @Override
        public BooleanSupplier abortAsked() {
          return () -> false;
        }
      };
    }
  }
}
