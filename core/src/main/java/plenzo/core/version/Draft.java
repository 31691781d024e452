package plenzo.core.version;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.table.Renaming;
import plenzo.core.words.Codes;

/**
 * An editable selection that will become the next version.
 *
 * @param from the version it starts from
 * @param state open, sealed or discarded
 * @param picks components taken from a source instead of the version it starts from
 * @param removals what a person ticked to be taken away
 * @param gone what the version it starts from has and the source no longer does
 * @param findings what the last check found; it may be sealed when none is a blocker
 * @param renames columns that may have been renamed; one that nobody denied is in the way of
 *     sealing
 * @param conversions what values of columns are worked out from, as people stated it
 * @param leftBehind what changed at the source and is not picked
 * @param moved which components a person moved before others
 * @param order the picks as they will be written; empty before the first check
 * @param cycles components that need one another, each as a path
 * @param coverage kind by kind, how much of what the source holds the version would have
 * @param revision rises with every edit
 */
public record Draft(
    String id,
    String application,
    SemVer from,
    State state,
    List<Pick> picks,
    List<Removal> removals,
    List<Removal> gone,
    List<Finding> findings,
    List<LikelyRename> renames,
    List<StatedConversion> conversions,
    List<LeftBehind> leftBehind,
    List<String> coverage,
    List<Before> moved,
    List<ComponentKey> order,
    List<String> cycles,
    String author,
    Instant at,
    @Nullable Instant checkedAt,
    int revision) {
  public Draft {
    picks = List.copyOf(picks);
    removals = removals.stream().sorted().toList();
    gone = gone.stream().sorted().toList();
    findings = List.copyOf(findings);
    renames = List.copyOf(renames);
    conversions = List.copyOf(conversions);
    moved = List.copyOf(moved);
    order = List.copyOf(order);
    cycles = List.copyOf(cycles);
    leftBehind = List.copyOf(leftBehind);
    coverage = List.copyOf(coverage);
  }

  /**
   * @param author who changed it there last, null where the source cannot tell
   */
  public record LeftBehind(ComponentKey key, @Nullable String author) {
    @Override
    public String toString() {
      return author == null ? key.toString() : key + ", by " + author;
    }
  }

  /** What keeps it a draft. */
  public List<String> problems() {
    return findings.stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::sentence)
        .toList();
  }

  /** Life of a draft. */
  public enum State {
    OPEN,
    SEALED,
    DISCARDED;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    /**
     * @throws IllegalArgumentException when no state has the code
     */
    public static State of(String code) {
      return Codes.find("a state of a draft", values(), State::code, code);
    }
  }

  /**
   * One picked component.
   *
   * @param stage where the content comes from
   * @param reason why it is here: "chosen", or which component needs it
   * @param seen digest of the content at the last check, null before the first
   */
  public record Pick(
      ComponentKey key,
      String uid,
      String stage,
      String site,
      @Nullable String options,
      String reason,
      @Nullable Digest seen,
      long rows,
      String changes) {
    /** Rows by the names that their table and its columns have by now. */
    public Pick named(Renaming names) {
      String next =
          options == null
              ? null
              : RecordsDefinition.of(Json.parse(options)).named(names).toJson().canonical();
      return new Pick(names.named(key), uid, stage, site, next, reason, seen, rows, changes);
    }
  }

  public Draft with(State next) {
    return copy(
        from, next, picks, removals, findings, renames, conversions, moved, order, checkedAt);
  }

  /** The same from another version; it has to be checked again. */
  public Draft startingFrom(SemVer version) {
    return copy(
        version,
        state,
        picks,
        removals,
        List.of(notChecked()),
        renames,
        conversions,
        moved,
        order,
        null);
  }

  /** The same with other picks; it has to be checked again. */
  public Draft withPicks(List<Pick> next) {
    return copy(
        from,
        state,
        next,
        removals,
        List.of(notChecked()),
        renames,
        conversions,
        moved,
        order,
        null);
  }

  public Draft withRemovals(List<Removal> next) {
    return copy(from, state, picks, next, findings, renames, conversions, moved, order, checkedAt);
  }

  public Draft withMoved(List<Before> next, List<ComponentKey> nextOrder) {
    return copy(
        from, state, picks, removals, findings, renames, conversions, next, nextOrder, checkedAt);
  }

  /** The same with an answer; it has to be checked again. */
  public Draft withRenames(List<LikelyRename> next) {
    return copy(
        from, state, picks, removals, List.of(notChecked()), next, conversions, moved, order, null);
  }

  /** The same with what values are worked out from; it has to be checked again. */
  public Draft withConversions(List<StatedConversion> next) {
    return copy(
        from, state, picks, removals, List.of(notChecked()), renames, next, moved, order, null);
  }

  private Draft copy(
      SemVer from,
      State state,
      List<Pick> picks,
      List<Removal> removals,
      List<Finding> findings,
      List<LikelyRename> renames,
      List<StatedConversion> conversions,
      List<Before> moved,
      List<ComponentKey> order,
      @Nullable Instant checkedAt) {
    return new Draft(
        id,
        application,
        from,
        state,
        picks,
        removals,
        gone,
        findings,
        renames,
        conversions,
        leftBehind,
        coverage,
        moved,
        order,
        cycles,
        author,
        at,
        checkedAt,
        revision);
  }

  private Finding notChecked() {
    return Finding.of(
        "not-checked",
        Finding.Severity.BLOCKER,
        "draft",
        "Not checked since the last edit",
        1,
        "plenzo draft check " + id,
        null);
  }
}
