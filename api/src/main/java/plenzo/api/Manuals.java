package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.api.Promotions.MayView;

/** Work that people do outside Plenzo, and how they steer a run. */
public interface Manuals {
  /**
   * What is to be done.
   *
   * @param when before, closed, switched or after: where in a run it stands
   * @param who key of the role whose holders at the site say what came of it; left out for whoever
   *     may run there
   * @param text the first line names it, the others say how
   * @param link an https address where more is said
   * @param minutes by when it is done, counted from when it is asked; 0 or left out for no limit
   * @param proof whether it is confirmed with a file that shows it
   * @param mayBeLeftOut whether a run may go on without it, with a reason
   */
  record ManualView(
      String when,
      @Nullable String who,
      String text,
      @Nullable String link,
      @Nullable Integer minutes,
      @Nullable Boolean proof,
      @Nullable Boolean mayBeLeftOut) {}

  /** All that is done by hand in one promotion alone; what was said before is replaced. */
  record ManualAsked(List<ManualView> steps) {}

  /**
   * @param origin the version, path or promotion that asks for it
   * @param whenWords where in a run it stands, in words
   */
  record AskedByHand(ManualView step, String title, String origin, String whenWords) {}

  /**
   * Work by hand in a run.
   *
   * @param since when it was asked, null before
   * @param due by when it must be done, null for no limit
   * @param takenBy who is at it, null when nobody said so
   * @param outcome done, not-done or left-out; null while nothing was said
   * @param evidence number of the file that shows it
   * @param who logins of people who are asked
   * @param mayWord whether the caller may say what came of it now
   */
  record HandedView(
      AskedByHand asked,
      @Nullable Instant since,
      @Nullable Instant due,
      boolean overdue,
      @Nullable String takenBy,
      @Nullable String outcome,
      @Nullable String by,
      @Nullable Instant at,
      @Nullable String note,
      @Nullable String evidence,
      List<String> who,
      MayView mayWord,
      MayView mayTake,
      MayView mayLeaveOut) {}

  /**
   * How people steer a run.
   *
   * @param inCharge who answers for it now
   * @param pause null while it is not paused
   * @param may abort, pause, resume, take-over and end: whether the caller may do it now
   */
  record SteeringView(
      String inCharge,
      List<ChargeView> charges,
      @Nullable PauseView pause,
      Map<String, MayView> may) {}

  /** One person taking a run over from another. */
  record ChargeView(String from, String by, Instant at, String reason) {}

  /**
   * @param code by-hand or person: what it waits for
   * @param step number of the step that it stands before
   */
  record PauseView(String code, int step, String by, Instant since, String reason) {}

  /**
   * What was done; the note may be empty.
   *
   * @param evidence number of the file that shows it, such as E-3
   */
  record DoneByHand(@Nullable String note, @Nullable String evidence) {}

  /**
   * @param from who was in charge, or at the step, as the caller saw it; null for nobody
   */
  record TakeOver(@Nullable String from, @Nullable String reason) {}
}
