package plenzo.core.impact;

import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

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
    @Nullable Acceptance accepted) {
  public Finding {
    examples = List.copyOf(examples);
  }

  /** How bad it is; a blocker can only be put right. */
  public enum Severity {
    BLOCKER,
    RISK,
    NOTE
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
        rule, severity, place, sentence, count, ceiling(count), advice, List.of(), query, null);
  }

  /** A finding that is a yes or no: nothing is counted, so no ceiling stands. */
  public static Finding said(
      String rule, Severity severity, String place, String sentence, String advice) {
    return of(rule, severity, place, sentence, 0, advice, null);
  }

  public Finding with(List<String> found) {
    return new Finding(
        rule, severity, place, sentence, count, ceiling, advice, found, query, accepted);
  }

  /** The same with the ceiling that was agreed before. */
  public Finding upTo(long agreed) {
    return new Finding(
        rule, severity, place, sentence, count, agreed, advice, examples, query, accepted);
  }

  /** Counted plus a tenth, rounded up; 0 stays 0 (design.md, "ceiling"). */
  public static long ceiling(long count) {
    return count + (count + 9) / 10;
  }

  public Finding accept(@Nullable Acceptance acceptance) {
    return new Finding(
        rule, severity, place, sentence, count, ceiling, advice, examples, query, acceptance);
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
