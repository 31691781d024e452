package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Components at a source, drafts and versions. */
public interface Versions {
  /**
   * State is new, changed, same, gone, or refused: what lies where components lie and is none, by
   * its path.
   */
  record ComponentView(String key, String state, String changes, String problem) {}

  record NewDraft(String application, @Nullable String from) {}

  record DraftView(
      String id,
      String application,
      String from,
      String state,
      List<DraftPick> picks,
      DraftRemovals removed,
      DraftChecked checked,
      DraftWriting writing,
      String author,
      Instant at,
      String proposedNumber,
      int revision) {}

  /**
   * @param ticked what the version takes away
   * @param gone everything that is gone at the source
   */
  record DraftRemovals(List<String> ticked, List<String> gone) {}

  /**
   * What the last check found.
   *
   * @param at null before the first
   * @param problems what is in the way
   * @param leftBehind changed at the source and not picked
   * @param coverage how much of what the source holds is picked, by kind
   * @param cycles components that need one another
   */
  record DraftChecked(
      @Nullable Instant at,
      List<DraftFinding> findings,
      List<LikelyRenameView> renames,
      List<String> problems,
      List<String> leftBehind,
      List<String> coverage,
      List<String> cycles) {}

  /**
   * In which order it is written.
   *
   * @param moved what somebody moved in it
   */
  record DraftWriting(List<String> order, List<String> moved) {}

  /** Severity is blocker, risk or note; a blocker keeps it a draft. */
  record DraftFinding(String rule, String severity, String place, String sentence, String advice) {}

  /** Writes one picked component before another. */
  record MoveInDraft(String component, String before) {}

  record DraftPick(
      String key, String site, String reason, long rows, String changes, boolean read) {}

  record AddToDraft(String site, List<Stages.PickView> picks) {}

  record DropFromDraft(String component) {}

  record Removals(List<String> removals) {}

  /**
   * A column that is gone beside a new one of its type; the values would be lost if it was renamed.
   * Denied: a person said that these are two columns.
   */
  record LikelyRenameView(String component, String was, String is, boolean denied) {}

  /** These are two columns, not one that was renamed. */
  record TwoColumns(String component, String was, String is) {}

  /**
   * Needs are prerequisites such as "sailings >=1.8.0 <3.0.0" or "server/database >=15.0.0"; null:
   * those of the version drafted from. Tasks are references such as FERRY-118, or https addresses.
   */
  record Seal(
      String number,
      String title,
      @Nullable String notes,
      @Nullable List<String> needs,
      @Nullable List<String> tasks) {}

  /** Kinds says how many components of each; they are listed by a call of their own. */
  record VersionView(
      String application,
      String number,
      @Nullable String parent,
      String digest,
      String title,
      String notes,
      String author,
      Instant sealedAt,
      String source,
      boolean withdrawn,
      Map<String, Integer> kinds,
      List<String> removals,
      List<String> needs,
      List<String> order,
      List<String> tasks,
      List<PresentAt> presentAt) {}

  record EntryView(String key, String uid, String digest, long rows, String origin) {}

  /** Next is the cursor of the page after this one; total counts what was found. */
  record EntryPage(List<EntryView> items, @Nullable String next, long total) {}

  /** Verdict is good, bad or null. */
  record PresentAt(String site, @Nullable String verdict) {}

  record Reason(String reason) {}

  record Verdict(String site, boolean good, String reason) {}

  /**
   * Where component documents are kept; folder and account may be empty, the secret is write-only.
   * Follow says what a new tag becomes: nothing (also when it is left out), draft or seal; its name
   * is the prefix and a number. Revision is the one that was looked at; left out, it replaces any.
   */
  record RepositoryView(
      String address,
      @Nullable String folder,
      @Nullable String branch,
      @Nullable String account,
      @Nullable String secret,
      @Nullable String follow,
      @Nullable String tagPrefix,
      @Nullable Integer revision) {}

  /** A call that says "look now"; the secret is told once. */
  record HookView(String path, String secret) {}

  record CommitView(String hash, String author, Instant at, String message, List<String> tags) {}
}
