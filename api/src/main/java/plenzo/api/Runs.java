package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Manuals.SteeringView;

/** Runs and backups. */
public interface Runs {
  record Start(String expect) {}

  /**
   * What the running system was asked, and said.
   *
   * @param before null where it was not asked, or did not answer
   * @param after the same
   * @param outcome same, as-expected, changed-as-expected, answered or failed; null until both were
   *     compared
   * @param words the same in words
   */
  record AnswerView(
      String question,
      @Nullable String before,
      @Nullable String after,
      @Nullable String outcome,
      @Nullable String words) {}

  /**
   * @param answers values of the running system; null for whoever may not see values
   * @param place in line, from 1; 0 when it does not wait
   * @param next what a person can do about how it ended; null when nothing is asked
   * @param steering who answers for it, and whether it is paused
   * @param waitsFor what is before it in line, in words; null when it does not wait
   */
  record RunView(
      String number,
      String promotion,
      RunGoal goal,
      String state,
      boolean ended,
      String startedBy,
      RunTimes times,
      Promotions.MayView mayAbort,
      List<RunStepView> steps,
      int noReturnStep,
      RowsView rows,
      @Nullable String sentence,
      @Nullable BackupView backup,
      @Nullable List<AnswerView> answers,
      int place,
      @Nullable NextView next,
      SteeringView steering,
      @Nullable String waitsFor) {}

  /**
   * @param code promotion, ways-back or what-differs: where it is done
   */
  record NextView(String code, String words) {}

  /**
   * A run in a list.
   *
   * @param before the version that was there
   * @param proof of its backup, null when it made none
   */
  record RunLine(
      String number,
      String promotion,
      String application,
      String version,
      @Nullable String before,
      String site,
      boolean production,
      String purpose,
      String state,
      String startedBy,
      Instant queuedAt,
      @Nullable Instant startedAt,
      @Nullable Instant endedAt,
      @Nullable String proof) {}

  /**
   * What it brings where.
   *
   * @param before the version that was there
   * @param fingerprint of the plan that was agreed, as people see it
   */
  record RunGoal(
      String application,
      String version,
      @Nullable String before,
      String site,
      String stageName,
      boolean production,
      String purpose,
      String notes,
      String fingerprint) {}

  /**
   * @param usualSeconds how long such runs took there, null when none is known
   * @param expected the shortest and longest of the last that came through there
   * @param usersOutSince when the site was closed, null before and where nothing is closed
   * @param usersInAgain when users were let in again, null while they are out and where it is not
   *     known
   * @param usersOutExpected how long users were out in the last that came through there
   * @param usersOut whether they are out now because of it
   */
  record RunTimes(
      Instant queuedAt,
      @Nullable Instant startedAt,
      @Nullable Instant endedAt,
      @Nullable Instant noReturnAt,
      @Nullable Double usualSeconds,
      @Nullable SpanView expected,
      @Nullable Instant usersOutSince,
      @Nullable Instant usersInAgain,
      @Nullable SpanView usersOutExpected,
      boolean usersOut) {}

  /**
   * The shortest and the longest that a run may take; what people take by hand does not count.
   *
   * @param runs of how many that came through; 0 where it is told by how much is carried alone
   */
  record SpanView(double leastSeconds, double mostSeconds, int runs) {}

  record RowsView(long done, long toDo) {}

  /**
   * @param manual what people do in it; null for what Plenzo does
   */
  record RunStepView(
      int number,
      String name,
      String state,
      @Nullable Instant began,
      @Nullable Instant ended,
      @Nullable String note,
      @Nullable Double usualSeconds,
      @Nullable HandedView manual) {}

  record BackupView(
      String name,
      long bytes,
      long rows,
      List<String> tables,
      List<String> pieces,
      String digest,
      String proof,
      Instant at,
      String run,
      String site) {}

  record LogView(List<String> lines) {}
}
