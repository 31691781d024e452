package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Where things stand, what waits, and history. */
public interface Standings {
  /**
   * A page of lines, the worst first, and what is true of all that the person may see.
   *
   * @param next what to give as cursor for the following page; null when this is the last
   * @param found how many lines there are of what was asked
   * @param applications how many lines there are in all
   */
  record StandingView(
      Instant at,
      List<StageHead> stages,
      List<StandingLine> lines,
      @Nullable String next,
      int found,
      int applications,
      GoingView goingIntoProduction,
      int waiting,
      int goodInProduction,
      int inProduction) {}

  /**
   * @param conditions how many sites of the stage are in each condition
   */
  record StageHead(String key, String name, boolean production, Map<String, Integer> conditions) {}

  /**
   * What is under way in production.
   *
   * @param items the first of them
   */
  record GoingView(int count, List<GoingItem> items) {}

  record GoingItem(String application, StandingCell cell) {}

  record StandingLine(
      String application,
      String name,
      String owner,
      @Nullable String newest,
      String source,
      SourceView seen,
      List<StandingCell> cells) {}

  /**
   * What was last seen of an application's source.
   *
   * @param changed components that are in no version so
   * @param trouble why it could not be looked at, or why a tag became nothing
   * @param warning what people should know about its stored copies
   */
  record SourceView(
      @Nullable String against,
      long changed,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      String trouble,
      String warning) {}

  /** A yes that an emergency owes, and by when it must come. */
  record OwedView(String promotion, Instant until, boolean overdue) {}

  record StandingCell(
      String site,
      boolean production,
      @Nullable String version,
      String condition,
      String note,
      @Nullable String activity,
      String activityText,
      @Nullable String link,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      boolean judged,
      @Nullable String closedBy,
      List<OwedView> yesOwed,
      List<String> owes,
      int behind) {}

  record PastView(String application, String site, String version, String how, Instant since) {}

  record WaitingView(
      String what,
      String link,
      String site,
      String application,
      String version,
      String sentence,
      Instant since) {}

  record HistoryView(
      long sequence,
      Instant at,
      String actor,
      String event,
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String version,
      @Nullable String promotion,
      @Nullable String run,
      String text,
      String hash) {}

  /**
   * Whether the past is as it was.
   *
   * @param broken number of the first entry that was altered, 0 when none was
   * @param whole whether nothing is broken and every head that was kept outside still holds
   * @param silent where no head could be read
   */
  record ChainView(
      long entries,
      String head,
      long broken,
      boolean whole,
      List<AnchorView> anchors,
      List<String> silent) {}

  /** How far one's own check of the past is; of is 0 when none is under way. */
  record VerifyingView(long checked, long of) {}

  /** A head of the history that was kept outside of the records. */
  record AnchorView(String where, long number, String hash, boolean holds, String why) {}

  /** The head of now in a signed envelope, to be kept in a file. */
  record HeadView(long number, String hash, String signed) {}

  /** A signed head that somebody kept. */
  record VerifyHistory(@Nullable String head) {}

  /** A run that a target remembers and the records do not know. */
  record NewerView(String site, String target, String run, String version) {}

  record RecordView(
      String application,
      String site,
      @Nullable String version,
      String condition,
      long drift,
      List<String> driftExamples,
      @Nullable Instant lookedAt,
      boolean reachable,
      @Nullable String older,
      @Nullable String closedBy,
      List<PlacementView> placements,
      List<VerdictView> verdicts,
      List<String> exceptions,
      List<LeftView> left,
      @Nullable String lastGood) {}

  /** A part that somebody said stays as it is until the end of a day (YYYY-MM-DD). */
  record LeftView(String place, String reason, String by, Instant at, String until) {}

  record PlacementView(String version, String how, @Nullable String run, Instant at, String by) {}

  record VerdictView(
      String version, boolean good, String reason, String by, Instant at, List<String> evidence) {}

  /**
   * Something that takes its time at the service.
   *
   * @param act adopt, check, seal, compare, rehearse, build, receive, bring-in or go-back
   * @param about what it is done to, such as draft/D-3, promotion/P-7 or application/fares
   * @param done how many of {@code of} are behind it, in {@code unit}
   * @param of 0 where nobody knows how many there are
   * @param at what it is at; may be empty
   * @param secondsLeft when it goes on as so far; null where that cannot be said yet
   * @param ended null while it goes on
   * @param outcome empty while it goes on and when all went well, else why not
   */
  record UnderwayView(
      long number,
      String by,
      String act,
      String about,
      Instant began,
      long done,
      long of,
      String unit,
      String at,
      @Nullable Double secondsLeft,
      @Nullable Instant ended,
      String outcome) {}
}
