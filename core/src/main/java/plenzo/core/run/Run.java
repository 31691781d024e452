package plenzo.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.plan.Plan;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Judged;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetId;

/**
 * One execution of a plan at a site.
 *
 * @param number shown as "R-12"
 * @param goal what it brings where; never changes
 * @param rows how far writing came
 * @param answers what the running system answered before anything changed and afterwards
 * @param sentence how it ended, for people
 * @param course how people steer it
 */
public record Run(
    long number,
    Goal goal,
    RunState state,
    String startedBy,
    Times times,
    @Nullable String abortedBy,
    List<RunStep> steps,
    Rows rows,
    @Nullable String sentence,
    @Nullable Backup backup,
    Answers answers,
    @Nullable Course course,
    int revision) {
  public Run {
    steps = List.copyOf(steps);
    // a run of before had none
    course = course == null ? Course.NONE : course;
  }

  /**
   * What a run brings, and what it was planned on: whatever becomes of the set-up, it is settled by
   * this.
   *
   * @param before the version that was there, null when there was none
   * @param fingerprint full digest of the plan that was agreed
   * @param targets in the order of the switches; empty in runs that were queued before runs knew
   *     their targets
   */
  public record Goal(
      long promotion,
      String application,
      String version,
      @Nullable String before,
      SiteKey site,
      String fingerprint,
      List<Place> targets) {
    public Goal {
      targets = List.copyOf(targets);
    }
  }

  /**
   * A target as the plan knew it.
   *
   * @param shown its name of that time, for people
   * @param changing the connection that changes it
   * @param connectionRevision revision of that connection
   * @param leadsTo where it led
   * @param undoable whether it can be switched back without loss
   * @param account the technical account that changed it; null in runs that kept none
   */
  public record Place(
      TargetId id,
      Kind.Holder holder,
      String shown,
      String changing,
      int connectionRevision,
      String leadsTo,
      boolean undoable,
      @Nullable String account) {}

  /**
   * @param noReturnAt when the first switch was sent; from then on the run cannot be aborted
   */
  public record Times(
      Instant queuedAt,
      @Nullable Instant startedAt,
      @Nullable Instant endedAt,
      @Nullable Instant noReturnAt) {}

  /** Rows written so far, of how many. */
  public record Rows(long done, long toDo) {
    public static final Rows NONE = new Rows(0, 0);
  }

  /**
   * By question. They are values of the running system: whoever may not see values is told which
   * question was answered otherwise, and not how.
   *
   * @param judged what both mean together; empty until it was asked afterwards
   */
  public record Answers(
      Map<String, Answer> before, Map<String, Answer> after, @Nullable Map<String, Judged> judged) {
    public static final Answers NONE = new Answers(Map.of(), Map.of(), Map.of());

    public Answers {
      before = Map.copyOf(before);
      after = Map.copyOf(after);
      // a run of before kept none
      judged = judged == null ? Map.of() : Map.copyOf(judged);
    }

    @Override
    public Map<String, Judged> judged() {
      return judged == null ? Map.of() : judged;
    }
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

    /**
     * The same with what moved since it was written.
     *
     * @param list digest of the list of tables that holds it
     * @param moved how many rows; they were read back and not restored
     */
    public Backup with(String list, long all, long size, String moved, Instant until) {
      return new Backup(
          name,
          file,
          size,
          all,
          tables,
          pieces,
          list,
          piecesDigest,
          proof + "; " + moved + " since then added, read back only",
          until);
    }

    /** The same, whose files are there no more: what it says of itself says that too. */
    public Backup cleared(String by, Instant when) {
      return proven(proof + "; cleared at " + when + " by " + by);
    }

    public Backup proven(String how) {
      return new Backup(name, file, bytes, rows, tables, pieces, digest, piecesDigest, how, at);
    }
  }

  public static Run queued(long number, Goal goal, String by, Instant at, List<RunStep> steps) {
    return new Run(
        number,
        goal,
        RunState.QUEUED,
        by,
        new Times(at, null, null, null),
        null,
        steps,
        Rows.NONE,
        null,
        null,
        Answers.NONE,
        Course.NONE,
        0);
  }

  /** How people steer it. */
  @Override
  public Course course() {
    return course == null ? Course.NONE : course;
  }

  public Course.@Nullable Pause pause() {
    return course().pause();
  }

  /** Who answers for it now: who started it, or took it over last. */
  public String inCharge() {
    List<Course.Charge> all = course().charges();
    return all.isEmpty() ? startedBy : all.get(all.size() - 1).by();
  }

  /** Whether it has brought what it brings, and that is recorded; work by hand may be to come. */
  public boolean recorded() {
    return step(Plan.Act.RECORD, null).filter(s -> s.state() == RunStep.State.DONE).isPresent();
  }

  /** Whether it has switched and what it brought is not recorded yet. */
  public boolean between() {
    return noReturnAt() != null && !recorded();
  }

  /** Whether no other run may begin at its site. */
  public boolean holdsSite() {
    return state == RunState.RUNNING || state == RunState.PAUSED && !recorded();
  }

  public long promotion() {
    return goal.promotion();
  }

  public String application() {
    return goal.application();
  }

  public String version() {
    return goal.version();
  }

  public @Nullable String before() {
    return goal.before();
  }

  public SiteKey site() {
    return goal.site();
  }

  public String fingerprint() {
    return goal.fingerprint();
  }

  public boolean abortAsked() {
    return abortedBy != null;
  }

  public Instant queuedAt() {
    return times.queuedAt();
  }

  public @Nullable Instant startedAt() {
    return times.startedAt();
  }

  public @Nullable Instant endedAt() {
    return times.endedAt();
  }

  public @Nullable Instant noReturnAt() {
    return times.noReturnAt();
  }

  /** The target that the plan knew for what such a target holds. */
  public Optional<Place> place(Kind.Holder holder) {
    return goal.targets().stream().filter(t -> t.holder() == holder).findFirst();
  }

  /** The first step of a sort, and of a target when one is named. */
  public Optional<RunStep> step(Plan.Act act, Kind.@Nullable Holder holder) {
    return steps.stream()
        .filter(s -> s.act() == act && (holder == null || s.holder() == holder))
        .findFirst();
  }

  /** The last step of a sort. */
  public Optional<RunStep> last(Plan.Act act) {
    return steps.stream().filter(s -> s.act() == act).reduce((a, b) -> b);
  }

  /** Since when users are out; empty before that, and where it closes nothing. */
  public Optional<Instant> usersOutSince() {
    return step(Plan.Act.CLOSE, null)
        .filter(s -> s.state() == RunStep.State.RUNNING || s.state() == RunStep.State.DONE)
        .map(RunStep::began);
  }

  /** Until when users were out; empty while they are, and where nobody is. */
  public Optional<Instant> usersInAgain() {
    if (state == RunState.STOPPED || state == RunState.PUT_BACK) {
      return Optional.ofNullable(times.endedAt()); // whatever it closed was opened again
    }
    return last(Plan.Act.OPEN).filter(s -> s.state() == RunStep.State.DONE).map(RunStep::ended);
  }

  public String shown() {
    return "R-" + number;
  }

  public Run withState(RunState next, @Nullable Instant at, @Nullable String why) {
    if (!state.mayBecome(next)) {
      throw new IllegalStateException(
          shown() + " cannot go from " + state.code() + " to " + next.code());
    }
    Times t =
        new Times(
            times.queuedAt(),
            next == RunState.RUNNING && times.startedAt() == null ? at : times.startedAt(),
            next.ended() ? at : times.endedAt(),
            times.noReturnAt());
    return with(next, t, abortedBy, steps, rows, why, backup, answers, course());
  }

  public Run withStep(RunStep step) {
    List<RunStep> next = new ArrayList<>(steps);
    next.set(step.number() - 1, step);
    return with(state, times, abortedBy, next, rows, sentence, backup, answers, course());
  }

  public Run withProgress(long done, long toDo) {
    return with(
        state, times, abortedBy, steps, new Rows(done, toDo), sentence, backup, answers, course());
  }

  public Run withBackup(Backup taken) {
    return with(state, times, abortedBy, steps, rows, sentence, taken, answers, course());
  }

  public Run withNoReturn(@Nullable Instant at) {
    Times t = new Times(times.queuedAt(), times.startedAt(), times.endedAt(), at);
    return with(state, t, abortedBy, steps, rows, sentence, backup, answers, course());
  }

  public Run withAbort(String by) {
    return with(state, times, by, steps, rows, sentence, backup, answers, course());
  }

  public Run answeredBefore(Map<String, Answer> said) {
    return with(
        state,
        times,
        abortedBy,
        steps,
        rows,
        sentence,
        backup,
        new Answers(said, answers.after(), answers.judged()),
        course());
  }

  public Run answeredAfter(Map<String, Answer> said, Map<String, Judged> judged) {
    return with(
        state,
        times,
        abortedBy,
        steps,
        rows,
        sentence,
        backup,
        new Answers(answers.before(), said, judged),
        course());
  }

  /** The same, paused; the sentence is the last end's, and there is none yet. */
  public Run paused(Course.Pause why) {
    return withState(RunState.PAUSED, why.since(), null).steered(course().paused(why));
  }

  /** The same, going on. */
  public Run resumed(Instant at) {
    return withState(RunState.RUNNING, at, null).steered(course().paused(null));
  }

  public Run takenOver(Course.Charge by) {
    return steered(course().taken(by));
  }

  /** The same with what is to be looked at when it has ended. */
  public Run withLooks(List<String> looks) {
    return steered(course().withLooks(looks));
  }

  /** The same with users let in by a person's word. */
  public Run letIn(Course.LetIn by) {
    return steered(course().letIn(by));
  }

  /** The same, which ends with users out, to be gone back from. */
  public Run endingHere() {
    return steered(course().endingHere());
  }

  /** The same with another sentence about how it ended. */
  public Run saying(String why) {
    return with(state, times, abortedBy, steps, rows, why, backup, answers, course());
  }

  private Run steered(Course next) {
    return with(state, times, abortedBy, steps, rows, sentence, backup, answers, next);
  }

  /** The one place where the fields are listed. */
  private Run with(
      RunState nextState,
      Times nextTimes,
      @Nullable String aborter,
      List<RunStep> nextSteps,
      Rows nextRows,
      @Nullable String nextSentence,
      @Nullable Backup nextBackup,
      Answers nextAnswers,
      Course nextCourse) {
    return new Run(
        number,
        goal,
        nextState,
        startedBy,
        nextTimes,
        aborter,
        nextSteps,
        nextRows,
        nextSentence,
        nextBackup,
        nextAnswers,
        nextCourse,
        revision);
  }
}
