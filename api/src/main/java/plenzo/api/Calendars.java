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
   * @param after promotion whose run must be done before; null where it has a time
   * @param takes how long its run takes, as far as is known; null while it does not wait
   * @param usersOut how long users are out meanwhile; null where they are not, or it is not known
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
      boolean mayWithdraw,
      @Nullable String after,
      Runs.@Nullable SpanView takes,
      Runs.@Nullable SpanView usersOut) {}

  /**
   * @param at when; null for the first moment at which the stage is open
   * @param fingerprint of the plan, as it was read
   * @param after promotion whose run must be done before, in place of a time; left out: none
   */
  record NewSchedule(@Nullable Instant at, String fingerprint, @Nullable String after) {}

  /**
   * The newest good version of an application goes to a stage again and again.
   *
   * @param number "RP-2"
   * @param rule when, as an iCalendar recurrence (RFC 5545) in the stage's time zone
   * @param by whose rights it goes by
   * @param state active, over or ended
   * @param sentence what came of the last time
   */
  record RepeatView(
      String number,
      String application,
      String path,
      String stage,
      String rule,
      Instant ends,
      String by,
      String state,
      @Nullable Instant next,
      @Nullable Instant last,
      String sentence,
      boolean mayEnd) {}

  /**
   * @param path by which versions go there; left out: the first of the application's that does
   * @param ends left out: in a year
   */
  record NewRepeat(
      String application,
      String stage,
      @Nullable String path,
      String rule,
      @Nullable Instant ends) {}

  /**
   * A version on its way without anybody starting that.
   *
   * @param number "ER-4"
   * @param cause why: what came before, or a repeat's number
   * @param how prepared or run
   * @param by whose rights it goes by
   * @param state waiting, done or stopped
   * @param sentence what it waits for, or what became of it
   */
  record ErrandView(
      String number,
      String cause,
      String application,
      String version,
      String site,
      String how,
      String by,
      Instant made,
      String state,
      @Nullable String promotion,
      @Nullable String run,
      String sentence,
      boolean mayStop) {}

  /** One time that a repeat comes up. */
  record RepeatTime(String number, String application, String stage, Instant at) {}

  /**
   * What cannot be as it is planned.
   *
   * @param what number of the schedule or repeat
   */
  record Clash(Instant at, String stage, String what, String words) {}

  /**
   * An address from which calendar programs read what its owner may look at.
   *
   * @param id by which it is ended among one's tokens
   * @param address below the service's own; holds the secret, shown now and never again
   */
  record FeedMade(String id, String address, Instant expiresAt) {}

  /**
   * @param label what it is for
   */
  record NewFeed(String label) {}

  /**
   * What is on at the stages that one may look at, in a span.
   *
   * @param schedules that have their time in it
   * @param runs that began in it
   * @param repeats when they come up in it
   * @param clashes of what is to come in it
   */
  record CalendarView(
      List<StageCalendar> stages,
      List<ScheduleView> schedules,
      List<CalendarRun> runs,
      List<RepeatTime> repeats,
      List<Clash> clashes) {}

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
