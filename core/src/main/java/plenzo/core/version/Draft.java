package plenzo.core.version;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;

/**
 * An editable selection that will become the next version.
 *
 * @param from the version it starts from
 * @param state open, sealed or discarded
 * @param picks components taken from a source instead of the version it starts from
 * @param removals what a person ticked to be taken away
 * @param gone what the version it starts from has and the source no longer does
 * @param problems why the last check failed; empty when it may be sealed
 * @param coverage kind by kind, how much of what the source holds the version would have
 * @param revision rises with every edit
 */
public record Draft(
    String id,
    String application,
    SemVer from,
    State state,
    List<Pick> picks,
    List<Removal> removals,
    List<Removal> gone,
    List<String> problems,
    List<ComponentKey> leftBehind,
    List<String> coverage,
    String author,
    Instant at,
    @Nullable Instant checkedAt,
    int revision) {
  public Draft {
    picks = List.copyOf(picks);
    removals = removals.stream().sorted().toList();
    gone = gone.stream().sorted().toList();
    problems = List.copyOf(problems);
    leftBehind = List.copyOf(leftBehind);
    coverage = List.copyOf(coverage);
  }

  /** Life of a draft. */
  public enum State {
    OPEN,
    SEALED,
    DISCARDED
  }

  /**
   * One picked component.
   *
   * @param stage where the content comes from
   * @param reason why it is here: "chosen", or which component needs it
   * @param seen digest of the content at the last check, null before the first
   */
  public record Pick(
      ComponentKey key,
      String uid,
      String stage,
      String site,
      @Nullable String options,
      String reason,
      @Nullable Digest seen,
      long rows,
      String changes) {}

  public Draft with(State state) {
    return new Draft(
        id,
        application,
        from,
        state,
        picks,
        removals,
        gone,
        problems,
        leftBehind,
        coverage,
        author,
        at,
        checkedAt,
        revision);
  }

  public Draft withPicks(List<Pick> picks) {
    return new Draft(
        id,
        application,
        from,
        state,
        picks,
        removals,
        gone,
        List.of("Not checked since the last edit"),
        leftBehind,
        coverage,
        author,
        at,
        null,
        revision);
  }

  public Draft withRemovals(List<Removal> removals) {
    return new Draft(
        id,
        application,
        from,
        state,
        picks,
        removals,
        gone,
        problems,
        leftBehind,
        coverage,
        author,
        at,
        checkedAt,
        revision);
  }
}
