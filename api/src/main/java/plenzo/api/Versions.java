package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.ManualView;

/** Components at a source, drafts and versions. */
public interface Versions {
  /**
   * State is new, changed, same, gone, or refused: what lies where components lie and is none, by
   * its path.
   *
   * @param author who changed it there last, null where the source cannot tell
   * @param changedAt when, null where the source cannot tell
   */
  record ComponentView(
      String key,
      String state,
      String changes,
      String problem,
      @Nullable String author,
      @Nullable Instant changedAt) {}

  /**
   * What a component holds at a source, and what of it differs from a version.
   *
   * @param text the first of its content; null where the reader may not see it
   * @param cut whether there is more
   * @param parts what differs of a structure, file or definition
   * @param differing the first rows that differ
   */
  record ContentView(
      String component,
      @Nullable String text,
      boolean cut,
      long rows,
      Promotions.CountsView counts,
      List<Promotions.PartChange> parts,
      List<Promotions.RowChange> differing) {}

  record NewDraft(String application, @Nullable String from) {}

  /**
   * @param notTaken what of the act before could not be taken, each with its reason
   * @param draftedNotes notes drafted from what changes, to go on from
   */
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
      List<String> notTaken,
      String draftedNotes,
      int revision) {}

  /**
   * What became of a version, line by line, oldest first.
   *
   * @param what sealed, came, left, judged-good, judged-bad or withdrawn
   * @param site empty where it is of no site
   * @param text why, or by which run
   */
  record FateView(String what, String site, Instant at, String by, String text) {}

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
   * How it is written: in which order, and what values are worked out from.
   *
   * @param moved what somebody moved in the order
   */
  record DraftWriting(List<String> order, List<String> moved, List<ConversionView> conversions) {}

  /**
   * What the values of a column are worked out from, where it is new or gets another type.
   *
   * @param expression SQL over the columns of the version drafted from; of one back over those of
   *     the source
   * @param back whether the column is one of the version drafted from, for going back to it
   */
  record ConversionView(String component, String column, String expression, boolean back) {}

  /**
   * States what a column is worked out from.
   *
   * @param expression null to state nothing any more
   */
  record ConvertColumn(
      String component, String column, @Nullable String expression, @Nullable Boolean back) {}

  /** Severity is blocker, risk or note; a blocker keeps it a draft. */
  record DraftFinding(String rule, String severity, String place, String sentence, String advice) {}

  /** Writes one picked component before another. */
  record MoveInDraft(String component, String before) {}

  record DraftPick(
      String key, String site, String reason, long rows, String changes, boolean read) {}

  /**
   * @param whatCanBe takes what can be taken, and names the rest in notTaken; else nothing is taken
   *     when one cannot be
   */
  record AddToDraft(String site, List<Stages.PickView> picks, @Nullable Boolean whatCanBe) {}

  /** Begins from a newer version. */
  record TakeUp(String version) {}

  record DropFromDraft(String component) {}

  /**
   * What dropping a component would take along.
   *
   * @param goes what goes with it, with the reason for which it was brought along
   * @param stays why the component itself stays picked; empty when it goes
   */
  record DroppingView(String component, List<Going> goes, String stays) {}

  record Going(String component, String reason) {}

  record Removals(List<String> removals) {}

  /**
   * A column that is gone beside a new one of its type; the values would be lost if it was renamed.
   * Of a table that is gone beside a new one with the same columns, {@code was} and {@code is} are
   * components, and {@code component} is the new one. Denied: a person said that these are two
   * columns. One: it is one column under another name, and its values go with it.
   */
  record LikelyRenameView(String component, String was, String is, boolean denied, boolean one) {}

  /** This is one column under another name. */
  record RenamedColumn(String component, String was, String is) {}

  /** These are two columns, not one that was renamed. */
  record TwoColumns(String component, String was, String is) {}

  /**
   * Needs are prerequisites such as "sailings >=1.8.0 <3.0.0" or "server/database >=15.0.0"; null:
   * those of the version drafted from. Tasks are references such as FERRY-118, or https addresses.
   * Manual is what people do when the version comes to a site.
   */
  record Seal(
      String number,
      String title,
      @Nullable String notes,
      @Nullable List<String> needs,
      @Nullable List<String> tasks,
      @Nullable List<ManualView> manual) {}

  /**
   * Somebody who wrote what a version took from a repository.
   *
   * @param author as Git says them: "Name &lt;address&gt;"
   * @param person login of the person who writes so; null where nobody is known to
   */
  record WriterView(String author, @Nullable String person) {}

  /**
   * Kinds says how many components of each; they are listed by a call of their own. WrittenBy lists
   * the authors of the commits since the version before; writtenWhole says whether all of these
   * were looked at.
   */
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
      List<ManualView> manual,
      List<WriterView> writtenBy,
      boolean writtenWhole,
      List<String> coverage,
      List<PresentAt> presentAt) {}

  /**
   * @param which rows of records: by which columns they are told apart, under which condition and
   *     policy, such as "by code; add only"; of tables what columns are worked out from; empty of
   *     others
   */
  record EntryView(String key, String uid, String digest, long rows, String which, String origin) {}

  /** Next is the cursor of the page after this one; total counts what was found. */
  record EntryPage(List<EntryView> items, @Nullable String next, long total) {}

  /** Verdict is good, bad or null. */
  record PresentAt(String site, @Nullable String verdict) {}

  record Reason(String reason) {}

  /**
   * @param evidence numbers of files that show it, such as E-3, of this version at this site
   */
  record Verdict(String site, boolean good, String reason, @Nullable List<String> evidence) {}

  /**
   * Where component documents are kept; folder and account may be empty, the secret is write-only.
   * An empty branch is the repository's own. Follow says what a new tag becomes: nothing (also when
   * it is left out), draft or seal; its name is the prefix and a number. signedIn names the header
   * in which its server signs calls; left out, it is Plenzo-Signature. Revision is the one that was
   * looked at; left out, it replaces any.
   */
  record RepositoryView(
      String address,
      @Nullable String folder,
      @Nullable String branch,
      @Nullable String account,
      @Nullable String secret,
      @Nullable String follow,
      @Nullable String tagPrefix,
      @Nullable String signedIn,
      @Nullable Integer revision) {}

  /** A call that says "look now"; the secret is told once. */
  record HookView(String path, String secret) {}

  record CommitView(String hash, String author, Instant at, String message, List<String> tags) {}
}
