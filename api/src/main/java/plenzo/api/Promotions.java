package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Manuals.ManualView;

/** Promotions: comparison, findings, decisions, approvals and plan. */
public interface Promotions {
  /**
   * @param path key of the path by which it goes; left out for the first of the application's that
   *     goes there
   */
  record Prepare(
      String application,
      String version,
      String site,
      @Nullable String path,
      @Nullable String notes) {}

  /**
   * What becomes of the values of tables whose structure changes, as it was last compared.
   *
   * @param lines none where no structure of a table that is there changes
   */
  record CarryOverView(String number, List<CarryOverLine> lines) {}

  /**
   * One column.
   *
   * @param column its name now; empty of one that is new
   * @param becomes its name afterwards; empty of one that goes
   * @param fate carried, converted, computed, "not carried" or new
   * @param rows of its table
   * @param filled rows that have a value in it
   */
  record CarryOverLine(
      String table,
      String column,
      String becomes,
      String fate,
      long rows,
      long filled,
      String reason) {}

  /**
   * What is still open.
   *
   * @param code approvals, blockers, drift, evidence-before, every-site-before, judged-before,
   *     rehearsal, rejected, risks, soak, task or tests; more may come
   * @param right the right with which a person can move it
   */
  record GateView(String code, String words, String right) {}

  /**
   * Whether the caller may do an act now.
   *
   * @param code why not: right, state, own, said-already, nothing-said, in-release, gates or
   *     no-return; null when they may
   * @param why the same in a sentence; empty when they may
   * @param who logins of people who can, where that is known
   */
  record MayView(boolean allowed, @Nullable String code, String why, List<String> who) {}

  record PromotionLine(
      String number,
      String application,
      String version,
      String site,
      boolean production,
      @Nullable String present,
      String state,
      String purpose,
      String preparedBy,
      Instant preparedAt,
      @Nullable String fingerprint,
      List<GateView> gates) {}

  /**
   * @param impact what was found by checking
   * @param run the last run of it, null before the first
   * @param usualSeconds how long such runs took there, null when none is known
   * @param expected the shortest and longest of the last that came through there
   * @param usersOutExpected how long users were out in them
   * @param outside whose yes is asked for over the network; null for nobody's
   * @param guards what was changed of what it must pass since it was prepared, or waits to be
   */
  record PromotionView(
      String number,
      GoalView goal,
      PreparedView prepared,
      String state,
      ComparedView compared,
      ImpactView impact,
      ChoicesView choices,
      @Nullable PlanView plan,
      AgreementView agreement,
      List<GateView> gates,
      Map<String, MayView> may,
      @Nullable String run,
      @Nullable Double usualSeconds,
      Runs.@Nullable SpanView expected,
      Runs.@Nullable SpanView usersOutExpected,
      @Nullable RehearsedView rehearsed,
      List<Proposals.GuardChange> guards,
      @Nullable OutsideStanding outside,
      @Nullable String sentence,
      int revision) {}

  /**
   * Somebody else's yes that is asked for over the network.
   *
   * @param seconds how long an answer is waited for; none counts as no
   * @param yes what they said last; null when they were not asked
   * @param ofThisPlan whether that was about the plan as it is now
   * @param said why, or why there is no answer
   */
  record OutsideStanding(
      String name,
      String address,
      int seconds,
      @Nullable Boolean yes,
      boolean ofThisPlan,
      String said,
      @Nullable Instant at,
      @Nullable String by) {}

  /**
   * The newest rehearsal of a promotion, in short.
   *
   * @param number "RH-3"
   * @param result as a rehearsal has it
   * @param ofThisPlan whether it carried out the plan that the promotion has now
   * @param beside how many things of the plan were not rehearsed
   * @param switchSeconds how long the switches took there; null when none came through
   */
  record RehearsedView(
      String number,
      String result,
      boolean ofThisPlan,
      int beside,
      @Nullable Double switchSeconds) {}

  /**
   * What goes where.
   *
   * @param purpose version; earlier-version or backup for a rollback; put-back when what is
   *     recorded is made true again; values when nothing but the values of the stage is given
   * @param path key of the path by which it goes
   * @param putBack what of it is put back, null of every other purpose
   * @param release key of the release that it belongs to
   * @param waves "W-3" when it goes to its site in waves
   * @param coverage how much of what its source held the version has; null where that is not known
   */
  record GoalView(
      String application,
      String version,
      String title,
      String notes,
      String site,
      String stageName,
      boolean production,
      String purpose,
      String path,
      @Nullable PutBackView putBack,
      @Nullable String release,
      @Nullable String waves,
      @Nullable String coverage) {}

  /**
   * Places that are put back, and places only there that go; both empty for all that is recorded.
   *
   * @param saved rows that were saved before they were lost and come again, "2 rows of
   *     fares.booking"; then nothing else is put back
   */
  record PutBackView(List<String> only, List<String> away, List<String> saved) {}

  /**
   * @param draftedNotes notes drafted from what changes, to go on from
   */
  record PreparedView(String by, Instant at, String draftedNotes) {}

  record NotesAsked(String notes) {}

  /**
   * How it was compared last.
   *
   * @param present the version that was there
   * @param base the newest version that both descend from
   * @param gives what the host is given of values
   * @param moved what changed since it was agreed
   * @param takesAway what is there now and will not be after the run, a text each; starting it asks
   *     for the application's name where there is any
   * @param brings the version that comes and those in between, newest first; none when no version
   *     comes
   */
  record ComparedView(
      @Nullable Instant at,
      @Nullable String present,
      @Nullable String base,
      CountsView counts,
      List<ComponentChange> components,
      List<GivesView> gives,
      List<String> moved,
      List<String> takesAway,
      List<BroughtView> brings) {}

  /** A version that comes along, with what its author said of it. */
  record BroughtView(String number, String title, String notes, List<String> tasks) {}

  /**
   * A value that the host is given.
   *
   * @param from stage or stage/site that it is set at; empty for the default of the input itself
   * @param shown what may be seen of it; null when the host is told to forget the one it has
   * @param anew whether the host was given another one before
   */
  record GivesView(
      String input, String from, @Nullable String shown, @Nullable Instant setAt, boolean anew) {}

  /**
   * @param checks how many were made
   */
  record ImpactView(int checks, List<FindingView> findings) {}

  /**
   * @param decisions keep, take-incoming or take-both, by component or component#part
   * @param activate components that the run switches on
   * @param obstacles what is chosen about on a way back, what was chosen among it
   * @param manual work by hand that is asked for in this case alone
   */
  record ChoicesView(
      Map<String, String> decisions,
      List<String> activate,
      List<Rollbacks.ObstacleView> obstacles,
      List<ManualView> manual) {}

  /** What is asked before a yes. */
  record Ask(String text) {}

  /** The answer to a question of the promotion, by its number. */
  record AnswerAsked(int question, String text) {}

  /** A question with its answer; the latter is null while nobody answered. */
  record AskedView(
      int number,
      String by,
      Instant at,
      String text,
      @Nullable String answer,
      @Nullable String answeredBy,
      @Nullable Instant answeredAt) {}

  /**
   * @param asks what is needed in words: "2 approvals by change-board"
   * @param questions what was asked before a yes; a start is held until each is answered
   * @param urgency who declared it an emergency and what that passes; null when nobody did
   * @param approvers logins of who may approve
   * @param coveredBy the promotion whose approvals cover a rollback
   */
  record AgreementView(
      List<ApprovalView> approvals,
      List<String> approvers,
      int needed,
      List<String> asks,
      List<AskedView> questions,
      @Nullable UrgencyView urgency,
      @Nullable String coveredBy) {}

  /**
   * That it is an emergency.
   *
   * @param people how many must declare it
   * @param passes what it passes now, in words; a yes is owed for it afterwards
   * @param until by when that must come; null before its run was started
   * @param owed whether it still owes it
   */
  record UrgencyView(
      List<SaidView> said,
      int people,
      List<String> passes,
      @Nullable Instant until,
      boolean owed) {}

  record SaidView(String by, Instant at, String reason) {}

  record CountsView(long added, long changed, long removed, long conflict, long kept, long same) {}

  record ComponentChange(
      int index, String key, String difference, CountsView counts, List<PartChange> parts) {}

  /**
   * @param mayTakeBoth whether both sides moved different members, so that both can be taken
   */
  record PartChange(
      String part, String difference, List<AttributeChange> attributes, boolean mayTakeBoth) {}

  /**
   * @param base what it was when both sides last agreed, null when that is not known
   */
  record AttributeChange(
      String name,
      @Nullable String present,
      @Nullable String incoming,
      boolean presentAbsent,
      boolean incomingAbsent,
      @Nullable WordsView words,
      @Nullable BaseView base) {}

  /** A value, or that there was none. */
  record BaseView(@Nullable String value, boolean absent) {}

  /**
   * Both values in runs, with the words in which they differ; null where nothing is the same or
   * nothing may be seen.
   */
  record WordsView(List<WordRun> present, List<WordRun> incoming) {}

  record WordRun(String text, boolean differs) {}

  /**
   * @param built how bad the rule itself finds it where the stage judges otherwise
   */
  record FindingView(
      String id,
      String rule,
      String severity,
      String place,
      String sentence,
      long count,
      long ceiling,
      String advice,
      List<String> examples,
      @Nullable String query,
      @Nullable String acceptedBy,
      @Nullable String acceptedReason,
      @Nullable String acceptedUntil,
      @Nullable String built) {}

  record PlanView(
      String fingerprint,
      String fullFingerprint,
      List<StepView> steps,
      int noReturn,
      List<String> statements,
      List<WayView> waysBack,
      List<InForceView> gates,
      LockedView locked) {}

  /**
   * Whom the switch of a database keeps waiting.
   *
   * @param seconds for about how long; null where it is not known
   * @param about the same in words; empty where it is not known
   * @param basis what that is worked out from, in words: sizes, and earlier switches of the site
   * @param before what is built before, while people go on working
   * @param after what is looked at after, while people go on working
   */
  record LockedView(
      List<LockView> tables,
      @Nullable Double seconds,
      String about,
      String basis,
      List<String> before,
      List<String> after) {}

  /**
   * @param hold "writes" or "everything"
   * @param words what that means to people
   * @param because what it is held for
   */
  record LockView(String table, String hold, String words, List<String> because) {}

  /** What a plan falls under; the code is what its fingerprint covers. */
  record InForceView(String code, String words) {}

  /**
   * @param manual what people do in it; null for what Plenzo does
   */
  record StepView(
      int number,
      String act,
      String name,
      String target,
      String what,
      String undo,
      @Nullable AskedByHand manual) {}

  record WayView(String way, boolean possible, String sentence, long ceiling) {}

  /**
   * @param of login of the person for whom it was said by who stands in; null where it is one's own
   */
  record ApprovalView(
      String by,
      boolean yes,
      String fingerprint,
      String comment,
      Instant at,
      @Nullable String voidBecause,
      @Nullable String of,
      @Nullable List<String> roles) {}

  /** Rows of one component and class, in key order; next is null at the end. */
  record RowPage(List<RowChange> items, @Nullable String next, long total) {}

  /**
   * @param both the row with what either side moved, attribute by attribute of those that differ;
   *     null when both moved one attribute, or when it is no conflict
   */
  record RowChange(
      String key,
      String difference,
      List<AttributeChange> attributes,
      boolean valuesHidden,
      @Nullable List<ValueView> both) {}

  record ValueView(String name, @Nullable String value) {}

  /**
   * Keys are component, or component#part; values take-incoming, keep or, of a row or definition of
   * which both sides moved different attributes, take-both.
   */
  record Decide(Map<String, String> decisions) {}

  /** Rules, forms and integrations that the run switches on; all others keep their state. */
  record Activate(List<String> components) {}

  record AcceptRisk(String finding, String reason, String until) {}

  record Approve(String fingerprint, @Nullable String comment) {}
}
