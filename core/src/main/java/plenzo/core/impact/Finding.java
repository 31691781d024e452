package plenzo.core.impact;

import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;
import plenzo.core.words.Codes;

/**
 * One result of a check.
 *
 * @param rule stable id of the rule
 * @param place component and part, or the site
 * @param count rows or objects touched; 0 where nothing is counted; not part of the fingerprint
 *     below the ceiling
 * @param ceiling the count up to which an approval holds
 * @param examples a few of the values that were counted; shown only to who may see values
 * @param query the query that counted, as it was run; null when nothing was asked
 * @param accepted who accepted the risk, why and until when; null when nobody did
 * @param built how bad the rule itself found it where the stage judges otherwise; null where it
 *     does not
 * @param unasked true where the rule could not be asked: then no stage lowers it; null else
 */
public record Finding(
    String rule,
    Severity severity,
    String place,
    String sentence,
    long count,
    long ceiling,
    String advice,
    List<String> examples,
    @Nullable String query,
    @Nullable Acceptance accepted,
    @Nullable Severity built,
    @Nullable Boolean unasked) {
  public Finding {
    examples = List.copyOf(examples);
  }

  /** How bad it is; a blocker can only be put right. */
  public enum Severity {
    BLOCKER,
    RISK,
    NOTE;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Severity of(String code) {
      return Codes.find("a severity", values(), Severity::code, code);
    }

    /** Whether this is worse than the other. */
    public boolean worseThan(Severity other) {
      return compareTo(other) < 0;
    }
  }

  /** A person's acceptance of a risk. */
  public record Acceptance(String by, String reason, LocalDate until) {}

  public static Finding of(
      String rule,
      Severity severity,
      String place,
      String sentence,
      long count,
      String advice,
      @Nullable String query) {
    return new Finding(
        rule,
        severity,
        place,
        sentence,
        count,
        ceiling(count),
        advice,
        List.of(),
        query,
        /* accepted= */ null,
        /* built= */ null,
        /* unasked= */ null);
  }

  /** A rule that could not be asked. */
  public static Finding notEvaluated(
      String rule, Severity severity, String place, String sentence, String advice) {
    return new Finding(
        rule,
        severity,
        place,
        sentence,
        /* count= */ 0,
        /* ceiling= */ 0,
        advice,
        List.of(),
        /* query= */ null,
        /* accepted= */ null,
        /* built= */ null,
        /* unasked= */ true);
  }

  /** A finding that is a yes or no: nothing is counted, so no ceiling stands. */
  public static Finding said(
      String rule, Severity severity, String place, String sentence, String advice) {
    return of(rule, severity, place, sentence, 0, advice, null);
  }

  public Finding with(List<String> found) {
    return new Finding(
        rule, severity, place, sentence, count, ceiling, advice, found, query, accepted, built,
        unasked);
  }

  /** The same with the ceiling that was agreed before. */
  public Finding upTo(long agreed) {
    return new Finding(
        rule, severity, place, sentence, count, agreed, advice, examples, query, accepted, built,
        unasked);
  }

  /** Counted plus a tenth, rounded up; 0 stays 0 (design.md, "ceiling"). */
  public static long ceiling(long count) {
    return count + (count + 9) / 10;
  }

  public Finding accept(@Nullable Acceptance acceptance) {
    return new Finding(
        rule,
        severity,
        place,
        sentence,
        count,
        ceiling,
        advice,
        examples,
        query,
        acceptance,
        built,
        unasked);
  }

  /** The same, as bad as a stage judges it; what the rule found is kept beside it. */
  public Finding judged(Severity here) {
    return here == severity
        ? this
        : new Finding(
            rule, here, place, sentence, count, ceiling, advice, examples, query, accepted,
            severity, unasked);
  }

  public boolean evaluated() {
    return unasked == null;
  }

  /** Rule and place: what the same finding is called at the next look. */
  public String id() {
    return rule + " " + place;
  }

  public Json forFingerprint() {
    return Json.object(
        "rule",
        rule,
        "place",
        place,
        "severity",
        severity.name(),
        "ceiling",
        ceiling,
        "accepted",
        accepted == null ? null : accepted.by() + "|" + accepted.reason() + "|" + accepted.until());
  }
}
