package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** When runs may start, and those that start by themselves. */
public interface Calendars {
  /**
   * A span in which no version goes to a stage; going back is never held.
   *
   * @param number "FZ-3"
   * @param except applications that it does not hold
   * @param over whether it is over or was lifted
   */
  record FreezeView(
      String number,
      String stage,
      Instant from,
      Instant until,
      String reason,
      List<String> except,
      String by,
      @Nullable String liftedBy,
      @Nullable Instant liftedAt,
      @Nullable String liftedReason,
      boolean over) {}

  /**
   * @param except applications that it does not hold; left out: none
   */
  record NewFreeze(
      String stage, Instant from, Instant until, String reason, @Nullable List<String> except) {}

  record LiftFreeze(String reason) {}

  /**
   * What a freeze would hold.
   *
   * @param promotions open ones that do not run yet, such as "P-7 fares 2.4.0 to production/north"
   * @param schedules runs that would be refused, such as "SC-2 P-7 at 2027-01-01T22:00:00Z"
   */
  record FreezeHolds(List<String> promotions, List<String> schedules) {}

  /**
   * A run that is to start by itself.
   *
   * @param number "SC-4"
   * @param state waiting, started, refused, missed or withdrawn; more may come
   * @param sentence what became of it, or what moved meanwhile
   * @param nextLook when it is looked at again; null when it is over
   * @param run that it started
   * @param mayWithdraw whether the caller may take it back
   */
  record ScheduleView(
      String number,
      String promotion,
      String application,
      String version,
      String site,
      Instant at,
      String by,
      String state,
      String sentence,
      @Nullable Instant nextLook,
      @Nullable String run,
      boolean mayWithdraw) {}

  /**
   * @param at when; null for the first moment at which the stage is open
   * @param fingerprint of the plan, as it was read
   */
  record NewSchedule(@Nullable Instant at, String fingerprint) {}

  /**
   * What is on at the stages that one may look at, in a span.
   *
   * @param runs that began in it
   */
  record CalendarView(
      List<StageCalendar> stages, List<ScheduleView> schedules, List<CalendarRun> runs) {}

  /**
   * @param windows in which runs may start; none: at any time
   * @param freezes that touch the span
   */
  record StageCalendar(
      String stage,
      String name,
      String zone,
      boolean production,
      List<String> rules,
      List<SpanOpen> windows,
      List<FreezeView> freezes) {}

  /**
   * One time that a window is open.
   *
   * @param note what a change of the clocks does to it
   */
  record SpanOpen(Instant from, Instant until, @Nullable String note) {}

  /**
   * A run that took place.
   *
   * @param usersOutFrom when users were kept out; null where they were not
   */
  record CalendarRun(
      String number,
      String application,
      String version,
      String site,
      Instant began,
      @Nullable Instant ended,
      String state,
      @Nullable Instant usersOutFrom,
      @Nullable Instant usersOutUntil) {}
}
