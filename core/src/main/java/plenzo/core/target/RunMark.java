package plenzo.core.target;

import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;

/**
 * What a run writes into a target's marker: the key (run, step, attempt) decides what happened
 * there.
 *
 * @param anchor the history's head of that moment, so that its tail cannot be cut unseen
 */
public record RunMark(
    long run,
    String step,
    int attempt,
    String version,
    String fingerprint,
    String person,
    @Nullable Anchor anchor) {
  public RunMark attempt(int next) {
    return new RunMark(run, step, next, version, fingerprint, person, anchor);
  }
}
