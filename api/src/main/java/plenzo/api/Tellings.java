package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Who is told what happens: addresses outside, as CloudEvents 1.0, and people, in the console, by
 * mail and by a call.
 */
public interface Tellings {
  /**
   * An address that is told.
   *
   * @param stages of which it is told; none: of all
   * @param applications of which it is told; none: of all
   * @param events of which it is told, such as "run done"; none: of all
   */
  record WebhookView(
      String name,
      String address,
      List<String> stages,
      List<String> applications,
      List<String> events,
      boolean active,
      String by,
      Instant at,
      int revision) {}

  /**
   * @param secret with which what it is told is signed; shown now and never again
   */
  record WebhookMade(WebhookView webhook, String secret) {}

  /**
   * @param active left out: yes
   * @param revision left out: of a new one
   */
  record SaveWebhook(
      String name,
      String address,
      @Nullable List<String> stages,
      @Nullable List<String> applications,
      @Nullable List<String> events,
      @Nullable Boolean active,
      @Nullable Integer revision) {}

  /**
   * One event on its way to one address.
   *
   * @param number "DV-9"
   * @param webhook its name, or "@" and whoever is written to
   * @param entry sequence of the history's entry, which is the event's id
   * @param state waiting, delivered or given-up
   * @param next when it is tried again; null when it is over
   * @param said what came of the last try
   */
  record DeliveryView(
      String number,
      String webhook,
      long entry,
      String event,
      String state,
      int tries,
      @Nullable Instant next,
      String said,
      Instant made) {}

  /**
   * One piece of news.
   *
   * @param entry sequence of the history's entry
   * @param news its sort: urgent, failed, asked, runs, words, versions, drift or setup; more may
   *     come
   * @param fresh whether it came since one looked last
   */
  record NoticeView(
      long entry,
      Instant at,
      String actor,
      String event,
      String news,
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String version,
      @Nullable String promotion,
      @Nullable String run,
      String text,
      boolean fresh) {}

  /**
   * How many came since one looked last.
   *
   * @param more whether there may be more than were counted
   * @param urgent whether something among them is
   */
  record FreshView(int count, boolean more, boolean urgent) {}

  /**
   * @param entry the newest that was seen
   */
  record Seen(long entry) {}

  /**
   * What one is told of.
   *
   * @param mail address to which it is sent too; empty: the console alone
   * @param stages none: all that one may look at
   * @param applications none: all that one may look at
   * @param news sorts that one follows
   * @param sorts every sort there is; not read when it is sent
   * @param quietFrom from when on no letters are sent, as 22:00; null: never
   * @param zone in which the quiet hours are meant
   * @param byMail whether the service has a mail server; not read when it is sent
   */
  record FollowingView(
      String mail,
      List<String> stages,
      List<String> applications,
      List<String> news,
      @Nullable List<String> sorts,
      @Nullable String quietFrom,
      @Nullable String quietUntil,
      String zone,
      @Nullable Boolean byMail) {}

  /**
   * @param to where a letter was sent
   */
  record Tried(String to) {}

  /**
   * Who is called when something is wrong at a stage, one after the other.
   *
   * @param revision that was looked at; 0 where nobody was ever said
   */
  record CallOrderView(List<CalleeView> callees, int revision) {}

  /**
   * @param how to reach them, in words
   * @param minutes that are left to them before the next is called
   */
  record CalleeView(String login, String how, int minutes) {}

  /**
   * Somebody must come.
   *
   * @param number "CL-3"
   * @param cause what is wrong
   * @param told who was called when, and how that went
   * @param next when the next is called; null when nobody is left, or it is over
   * @param state open, taken or over
   * @param by who took it, or said that it is over
   */
  record CallView(
      String number,
      String stage,
      @Nullable String application,
      @Nullable String site,
      @Nullable String run,
      String cause,
      Instant made,
      List<CalledView> told,
      @Nullable Instant next,
      String state,
      @Nullable String by,
      @Nullable Instant at) {}

  /**
   * @param login empty where nobody was left
   * @param words how it went
   */
  record CalledView(String login, Instant at, String words) {}

  /**
   * What somebody must know who is woken by a run.
   *
   * @param users in or out, in words
   * @param targets what each holds
   * @param on what leads on; empty where nothing is asked
   * @param ways back
   * @param noWays why none is told; empty where they are
   * @param hands who may act, those of the stage's call list first
   * @param called who was called about it
   * @param text all of it, to be sent on
   */
  record NightView(
      String run,
      String state,
      @Nullable String sentence,
      String users,
      List<HeldView> targets,
      String on,
      List<NightWay> ways,
      String noWays,
      List<HandView> hands,
      List<String> called,
      String text) {}

  /**
   * @param holds old, new or unknown
   */
  record HeldView(String target, String holds, String words) {}

  /**
   * @param words what it loses, or why it cannot be used
   */
  record NightWay(String way, boolean possible, String words) {}

  /**
   * @param how they are reached; empty where nobody said
   */
  record HandView(String login, String name, String how) {}
}
