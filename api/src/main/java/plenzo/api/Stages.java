package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.ManualView;

/** Stages with their sites and targets, connections, paths and applications. */
public interface Stages {
  /**
   * Role is development, test or production; revision 0 for a new stage. Drift closes: a site that
   * differs from its record takes no version until that is settled. Severities are those that the
   * stage judges otherwise than the rules do, windows the hours in which runs may start, in its
   * zone; left out: as they are.
   */
  record StageView(
      String key,
      String name,
      String role,
      int position,
      String zone,
      boolean driftCloses,
      List<SiteView> sites,
      int revision,
      @Nullable List<SeverityView> severities,
      @Nullable List<WindowView> windows) {}

  /**
   * Hours of a week in which runs may start; without any they may at any time.
   *
   * @param days on which it begins, by their first three letters: mon
   * @param from such as 22:00
   * @param until when it ends; not after {@code from} it is on the next day
   */
  record WindowView(List<String> days, String from, String until) {}

  /**
   * How bad a stage finds what a rule finds.
   *
   * @param bound at-least raises what is less bad, at-most lowers what is worse
   * @param severity blocker, risk or note
   * @param reason needed where it lowers
   */
  record SeverityView(String rule, String bound, String severity, String reason) {}

  /**
   * A rule of impact checks, or a check of content.
   *
   * @param severity how bad it is where it could not be evaluated; null for a check of content: a
   *     risk
   * @param lowered whether a stage may lower it
   */
  record RuleView(String rule, @Nullable String severity, boolean lowered) {}

  record SiteView(String key, List<TargetView> targets) {}

  /**
   * Connections are named; scratch is empty when backups are only read back. The id is given by the
   * service and never changes; a target that is sent without one is the one of that key, or a new
   * one. Without doors nobody is kept out of it.
   */
  record TargetView(
      @Nullable String id,
      String key,
      String sort,
      List<String> schemas,
      String looking,
      String changing,
      String scratch,
      @Nullable DoorsView doors) {}

  /**
   * How users are kept out of a target that has no maintenance of its own.
   *
   * @param names of a database: accounts that may not sign in meanwhile; of a directory: one file
   *     that is put beside it
   * @param end whether sessions of these accounts are ended that are still there when the wait is
   *     over
   */
  record DoorsView(List<String> names, boolean end) {}

  /**
   * Sort is postgresql, directory or host; path is the folder of a directory, or what stands before
   * the host protocol in a host's address.
   */
  record ConnectionView(
      String stage,
      String name,
      String sort,
      String host,
      int port,
      String database,
      String path,
      String account,
      String tls,
      Map<String, String> options,
      List<String> lentTo,
      String leadsTo,
      boolean hasSecret,
      @Nullable Instant secretSetAt,
      @Nullable String secretSetBy,
      @Nullable TestView test,
      int revision) {}

  record TestView(Instant at, boolean good, List<ProbeView> probes) {}

  record ProbeView(String name, boolean good, String found, String advice) {}

  /**
   * The secret is write-only; null leaves it. Sort is postgresql when it is not given. Options of a
   * directory: mode (exchange or in-place) and longest-path (bytes). Lent to: keys of applications
   * that may name it in a binding, "*" for all; null leaves it.
   */
  record SaveConnection(
      String name,
      @Nullable String sort,
      @Nullable String host,
      @Nullable Integer port,
      @Nullable String database,
      @Nullable String path,
      @Nullable String account,
      @Nullable String tls,
      @Nullable Map<String, String> options,
      @Nullable List<String> lentTo,
      @Nullable String secret,
      int revision) {}

  /** What was done to make a target fit for being switched. */
  record Ready(String done) {}

  /**
   * A stage on a path, and what a promotion must pass to get there.
   *
   * @param approvals how many must say yes, by role; left out: one to production, none elsewhere
   * @param approvalDays days after which a yes no longer counts; 0 or left out for never
   * @param verdict whether the version must have been judged good at the stage before
   * @param everySite whether the version must be at every site of the stage before
   * @param soakDays days that the version must have been at the stage before
   * @param task regular expression that one of the version's tasks must match as a whole; empty for
   *     none
   * @param proof whether the backup must be proven by restoring it
   * @param apart pairs of duties (author, preparer, approver, runner, tester) that one person may
   *     not have both, such as "author-approver"; that who prepared it does not approve it holds
   *     everywhere
   * @param emergency what an emergency may pass; left out: as it is, or nothing
   * @param words what it asks, a part of a sentence each; not read when it is sent
   * @param manual what people do whenever a version comes by it; left out: as it is, or nothing
   * @param whenFailed what a run does when an answer after its switch is not as it should be: look,
   *     pause or back; left out: as it is, or look
   * @param evidence whether a test report of the version without a failure must have been given at
   *     the stage before
   * @param rehearsal whether the plan must have been carried out on a copy and taken back there
   * @param closing how users are kept out meanwhile; left out: as it is, or a minute
   * @param outside somebody else's yes over the network; left out: as it is, or nobody's
   * @param onward how far versions go by it without anybody starting that; left out: as it is, or
   *     by hand
   */
  record LegView(
      String stage,
      @Nullable List<QuorumView> approvals,
      @Nullable Integer approvalDays,
      @Nullable Boolean verdict,
      @Nullable Boolean everySite,
      @Nullable Integer soakDays,
      @Nullable String task,
      @Nullable Boolean proof,
      @Nullable List<String> apart,
      @Nullable EmergencyView emergency,
      @Nullable List<String> words,
      @Nullable List<ManualView> manual,
      @Nullable String whenFailed,
      @Nullable Boolean evidence,
      @Nullable Boolean rehearsal,
      @Nullable ClosingView closing,
      @Nullable OutsideView outside,
      @Nullable OnwardView onward) {}

  /**
   * How far versions go by a leg without anybody starting that.
   *
   * @param how by-hand, prepared or run
   * @param by by whose rights; whoever says so is taken, not what is sent
   */
  record OnwardView(String how, @Nullable String by) {}

  /**
   * Somebody else's yes that is asked for over the network.
   *
   * @param name what people call who answers
   * @param address where the signed question is posted
   * @param seconds how long an answer is waited for; 0 asks nobody any more
   */
  record OutsideView(String name, String address, int seconds) {}

  /**
   * How users are kept out while a version comes.
   *
   * @param seconds how long running work is waited for before the run gives up; 1 to 86,400
   * @param notice what people read who come meanwhile; empty for the version
   */
  record ClosingView(int seconds, @Nullable Integer minutes, String notice) {}

  /**
   * @param people how many declare it, 1 or 2; 0 takes away what was allowed
   * @param owes codes of gates that it passes: approvals, evidence-before, every-site-before,
   *     judged-before, outside, rehearsal, soak or task
   * @param hours within which the owed yes must come, from the start of the run
   * @param tells logins of people who are told as soon as one is declared; left out: nobody
   */
  record EmergencyView(int people, List<String> owes, int hours, @Nullable List<String> tells) {}

  /** How many yes; role is empty for whoever may approve. */
  record QuorumView(String role, int count) {}

  /**
   * The stages that versions travel.
   *
   * @param source the stage in which applications are edited; null where every version comes as a
   *     package
   * @param revision the one that was looked at; left out, it replaces any
   */
  record PathView(
      String key,
      String name,
      @Nullable String source,
      List<LegView> legs,
      @Nullable Integer revision) {}

  /**
   * Support names who is called at each stage, by the stage's key; paths are those that its
   * versions may travel, the ordinary one first.
   */
  record ApplicationView(
      String id,
      String key,
      String name,
      String owner,
      String description,
      Map<String, String> support,
      String schema,
      List<String> furtherSchemas,
      List<String> paths,
      List<String> privateColumns,
      List<QuestionView> questions,
      @Nullable String repository,
      @Nullable String repositoryBranch,
      @Nullable RetiredView retired,
      int revision) {}

  /** Who took an application out of use for good, when and why. */
  record RetiredView(String by, Instant at, String reason) {}

  /**
   * What taking an application out of use means.
   *
   * @param open cases and drafts that must be over first
   * @param holds sites and what stays there
   * @param versions how many stay, to be read
   */
  record RetiringView(List<String> open, List<HoldsView> holds, int versions) {}

  record HoldsView(String site, String version) {}

  /** Taking an application out of use is final; confirm repeats its key. */
  record Retire(String reason, String confirm) {}

  /**
   * Asked before and after every run.
   *
   * @param question in the host's own JSON; the address of a page, one query, or the path of a
   *     published file; in addresses and paths {stage} and {site} stand for the site's
   * @param mustStay whether a run must not change the answer
   * @param sort host (where it is left out), page, query or file
   * @param expected what is answered afterwards: of a host and a query the whole answer, of a page
   *     and a file a text that it has; left out for nothing
   */
  record QuestionView(
      String name,
      String question,
      boolean mustStay,
      @Nullable String sort,
      @Nullable String expected) {}

  /**
   * Null leaves a fact as it is. Private columns are written schema.table.column; their values are
   * never shown.
   */
  record ChangeApplication(
      @Nullable String name,
      @Nullable String owner,
      @Nullable String description,
      @Nullable Map<String, String> support,
      @Nullable List<String> paths,
      @Nullable List<String> privateColumns,
      @Nullable List<QuestionView> questions,
      @Nullable List<String> furtherSchemas) {}

  record NewApplication(String key, String name, String owner, String schema, String path) {}

  /**
   * What a site holds, or why it is left out.
   *
   * @param keyProblem why its rows cannot be records; empty when they can
   * @param keyRemark what to think of before its rows are taken by that key; empty for nothing
   */
  record CandidateView(
      String component,
      long rows,
      long size,
      List<String> key,
      String keyProblem,
      String keyRemark,
      List<String> refusals,
      List<String> risks) {}

  /**
   * Null key: the proposed one.
   *
   * @param where the condition as people write it, "zone = 'N' and not note is null"; instead of
   *     condition
   */
  record PickView(
      String component,
      @Nullable List<String> key,
      @Nullable ConditionView condition,
      @Nullable Boolean generatedKeyConfirmed,
      @Nullable String where,
      @Nullable String policy) {}

  /** A typed filter over rows: column, operator and value, or and/or/not over parts. */
  record ConditionView(
      String operator,
      @Nullable String column,
      @Nullable String value,
      @Nullable List<ConditionView> parts) {}

  record Adopt(String site, String number, String title, List<PickView> picks) {}

  record Match(String site, String number) {}

  /**
   * A declared input of a version and what a site gives it.
   *
   * @param state bound, default, missing or wrong
   * @param note why it is wrong, or which other stage has the same value
   * @param value what people may see of it; null when nothing is bound
   * @param boundAt stage or stage/site that the value is bound at
   * @param given whether the host was given it as it is now: given, waiting (it was given another
   *     one, or an earlier state of it), left (it was given one, and nothing is set any more) or
   *     never; empty where there is nothing to give, or no site was asked about
   */
  record InputView(
      String name,
      String type,
      String description,
      boolean secret,
      @Nullable String fallback,
      @Nullable String pattern,
      List<String> neededBy,
      String state,
      String note,
      @Nullable String value,
      @Nullable String boundAt,
      @Nullable Instant setAt,
      @Nullable String setBy,
      String given,
      int revision) {}

  /** Either a value, plain or secret, or the name of one of the stage's connections. */
  record Bind(
      String application,
      String place,
      String input,
      @Nullable String value,
      @Nullable Boolean secret,
      @Nullable String connection,
      int revision) {}

  /** Revision is the one that was looked at; left out, any is cleared. */
  record Unbind(String application, String place, String input, @Nullable Integer revision) {}

  /**
   * What goes on in a site's application host.
   *
   * @param others pieces of work beside those that the reader may see
   */
  record WorkView(List<WorkItemView> running, int others, long people, boolean maintenance) {}

  record WorkItemView(String id, String what, String person, String component) {}

  record MaintenanceWish(boolean on, String reason) {}

  /**
   * A definition that needs somebody: off, unbound, not visible, or only there.
   *
   * @param need off, unbound, not-visible or only-there
   */
  record NeedView(String component, String need, String text) {}

  record SwitchOn(String application, String component, boolean on, String reason) {}
}
