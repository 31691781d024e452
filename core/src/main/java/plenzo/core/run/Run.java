package plenzo.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.plan.Plan;
import plenzo.core.stage.SiteKey;

/**
 * One execution of a plan at a site.
 *
 * @param number shown as "R-12"
 * @param fingerprint full digest of the plan that was agreed
 * @param rowsDone rows written so far, of {@code rowsToDo}
 * @param noReturnAt when COMMIT was sent; from then on the run cannot be aborted
 */
public record Run(
    long number,
    long promotion,
    String application,
    String version,
    @Nullable String before,
    SiteKey site,
    RunState state,
    String fingerprint,
    String startedBy,
    Instant queuedAt,
    @Nullable Instant startedAt,
    @Nullable Instant endedAt,
    @Nullable Instant noReturnAt,
    boolean abortAsked,
    @Nullable String abortedBy,
    List<RunStep> steps,
    long rowsDone,
    long rowsToDo,
    @Nullable String sentence,
    @Nullable Backup backup,
    int revision) {
  public Run {
    steps = List.copyOf(steps);
  }

  /**
   * The copy of everything the plan could touch.
   *
   * @param tables tables of the database
   * @param pieces files and definitions that were there
   * @param digest of the list of tables
   * @param piecesDigest of the list of files and definitions
   * @param proof "proven", "proven but for" what could only be read back, or "read back, not
   *     restored"
   */
  public record Backup(
      String name,
      String file,
      long bytes,
      long rows,
      List<String> tables,
      List<String> pieces,
      String digest,
      String piecesDigest,
      String proof,
      Instant at) {
    public Backup {
      tables = List.copyOf(tables);
      pieces = List.copyOf(pieces);
    }

    public Backup proven(String how) {
      return new Backup(name, file, bytes, rows, tables, pieces, digest, piecesDigest, how, at);
    }
  }

  /** The first step of a sort, and of a target when one is named. */
  public Optional<RunStep> step(Plan.Act act, Kind.@Nullable Holder holder) {
    return steps.stream()
        .filter(s -> s.act() == act && (holder == null || s.holder() == holder))
        .findFirst();
  }

  public String shown() {
    return "R-" + number;
  }

  public Run withState(RunState next, @Nullable Instant at, @Nullable String why) {
    if (!state.mayBecome(next)) {
      throw new IllegalStateException(
          shown() + " cannot go from " + state.code() + " to " + next.code());
    }
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        next,
        fingerprint,
        startedBy,
        queuedAt,
        next == RunState.RUNNING ? at : startedAt,
        next.ended() ? at : endedAt,
        noReturnAt,
        abortAsked,
        abortedBy,
        steps,
        rowsDone,
        rowsToDo,
        why,
        backup,
        revision);
  }

  public Run withStep(RunStep step) {
    List<RunStep> next = new ArrayList<>(steps);
    next.set(step.number() - 1, step);
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        state,
        fingerprint,
        startedBy,
        queuedAt,
        startedAt,
        endedAt,
        noReturnAt,
        abortAsked,
        abortedBy,
        next,
        rowsDone,
        rowsToDo,
        sentence,
        backup,
        revision);
  }

  public Run withProgress(long done, long toDo) {
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        state,
        fingerprint,
        startedBy,
        queuedAt,
        startedAt,
        endedAt,
        noReturnAt,
        abortAsked,
        abortedBy,
        steps,
        done,
        toDo,
        sentence,
        backup,
        revision);
  }

  public Run withBackup(Backup backup) {
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        state,
        fingerprint,
        startedBy,
        queuedAt,
        startedAt,
        endedAt,
        noReturnAt,
        abortAsked,
        abortedBy,
        steps,
        rowsDone,
        rowsToDo,
        sentence,
        backup,
        revision);
  }

  public Run withNoReturn(@Nullable Instant at) {
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        state,
        fingerprint,
        startedBy,
        queuedAt,
        startedAt,
        endedAt,
        at,
        abortAsked,
        abortedBy,
        steps,
        rowsDone,
        rowsToDo,
        sentence,
        backup,
        revision);
  }

  public Run withAbort(String by) {
    return new Run(
        number,
        promotion,
        application,
        version,
        before,
        site,
        state,
        fingerprint,
        startedBy,
        queuedAt,
        startedAt,
        endedAt,
        noReturnAt,
        true,
        by,
        steps,
        rowsDone,
        rowsToDo,
        sentence,
        backup,
        revision);
  }
}
