package plenzo.core.rehearsal;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * A plan carried out on copies of what it can touch, and taken back there.
 *
 * @param number shown as "RH-3"
 * @param promotion whose plan it is; 0 of a draft's
 * @param fingerprint of the plan that it carried out; empty of a draft until there is one
 * @param ended null while it goes on
 * @param sentence what came of it; empty while it goes on
 * @param parts what was done, in order, the last of it under way where it goes on
 * @param beside what of the plan was not rehearsed, and why; a line each
 * @param draft that is tried before it is sealed; null where a version's plan is
 */
public record Rehearsal(
    long number,
    long promotion,
    String application,
    SemVer version,
    SiteKey site,
    String fingerprint,
    String by,
    Instant began,
    @Nullable Instant ended,
    Result result,
    String sentence,
    List<Part> parts,
    List<String> beside,
    int revision,
    @Nullable String draft) {
  public Rehearsal {
    parts = List.copyOf(parts);
    beside = List.copyOf(beside);
  }

  /** How it ended. */
  public enum Result {
    GOING_ON,
    /** Carried out and taken back, and everything was as before then. */
    PROVEN,
    /** Carried out; no way back could be tried. */
    CARRIED_OUT,
    FAILED,
    /** By a person, or because the service ended. */
    STOPPED;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /**
   * One thing that was done.
   *
   * @param act what a run does likewise, for its expected time; null for what no run does
   * @param ended null while it goes on, and of one that failed
   * @param note what came of it; empty while it goes on
   */
  public record Part(
      String name, @Nullable Act act, Instant began, @Nullable Instant ended, String note) {
    /** How long it took; null of one that did not end. */
    public @Nullable Duration took() {
      return ended == null ? null : Duration.between(began, ended);
    }
  }

  /** One that begins. */
  public static Rehearsal of(
      long number,
      long promotion,
      String application,
      SemVer version,
      SiteKey site,
      String fingerprint,
      String by,
      Instant now) {
    return new Rehearsal(
        number,
        promotion,
        application,
        version,
        site,
        fingerprint,
        by,
        now,
        null,
        Result.GOING_ON,
        "",
        List.of(),
        List.of(),
        0,
        /* draft= */ null);
  }

  /**
   * A draft's, that begins.
   *
   * @param version the number that sealing would be proposed
   */
  public static Rehearsal of(
      long number,
      String draft,
      String application,
      SemVer version,
      SiteKey site,
      String by,
      Instant now) {
    return new Rehearsal(
        number,
        /* promotion= */ 0,
        application,
        version,
        site,
        /* fingerprint= */ "",
        by,
        now,
        null,
        Result.GOING_ON,
        "",
        List.of(),
        List.of(),
        0,
        draft);
  }

  /** The same of this very plan. */
  public Rehearsal of(Plan plan) {
    return with(plan.fingerprint().digest().hex(), parts, beside, ended, result, sentence);
  }

  public String shown() {
    return shown(number);
  }

  public static String shown(long number) {
    return "RH-" + number;
  }

  public boolean over() {
    return result != Result.GOING_ON;
  }

  /** Whether it carried out this very plan. */
  public boolean isOf(@Nullable Plan plan) {
    return plan != null && plan.fingerprint().digest().hex().equals(fingerprint);
  }

  /** How long the switches took that carried the plan out; empty where not all did. */
  public Optional<Duration> switches() {
    List<Part> there =
        parts.stream()
            .takeWhile(x -> x.act() != Act.READ_BACK)
            .filter(x -> x.act() == Act.SWITCH)
            .toList();
    return there.isEmpty() || there.stream().anyMatch(x -> x.took() == null)
        ? Optional.empty()
        : there.stream().map(Part::took).reduce(Duration::plus);
  }

  /** Something more is begun. */
  public Rehearsal begin(String name, @Nullable Act act, Instant now) {
    List<Part> next = new ArrayList<>(parts);
    next.add(new Part(name, act, now, null, ""));
    return with(next, beside, null, result, sentence);
  }

  /** What was begun last has ended. */
  public Rehearsal done(String note, Instant now) {
    List<Part> next = new ArrayList<>(parts);
    Part last = next.remove(next.size() - 1);
    next.add(new Part(last.name, last.act, last.began, now, note));
    return with(next, beside, null, result, sentence);
  }

  public Rehearsal without(List<String> lines) {
    List<String> next = new ArrayList<>(beside);
    next.addAll(lines);
    return with(parts, next, null, result, sentence);
  }

  /** It is over; what goes on is left where it stopped, with the reason. */
  public Rehearsal end(Result how, String said, Instant now) {
    List<Part> next = new ArrayList<>(parts);
    if (how != Result.PROVEN && !next.isEmpty()) {
      Part last = next.get(next.size() - 1);
      if (last.ended == null) {
        next.set(next.size() - 1, new Part(last.name, last.act, last.began, null, said));
      }
    }
    return with(next, beside, now, how, said);
  }

  private Rehearsal with(
      List<Part> nextParts,
      List<String> nextBeside,
      @Nullable Instant end,
      Result how,
      String said) {
    return with(fingerprint, nextParts, nextBeside, end, how, said);
  }

  private Rehearsal with(
      String plan,
      List<Part> nextParts,
      List<String> nextBeside,
      @Nullable Instant end,
      Result how,
      String said) {
    return new Rehearsal(
        number,
        promotion,
        application,
        version,
        site,
        plan,
        by,
        began,
        end,
        how,
        said,
        nextParts,
        nextBeside,
        revision,
        draft);
  }
}
