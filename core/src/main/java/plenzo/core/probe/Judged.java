package plenzo.core.probe;

import java.util.Collection;
import java.util.Locale;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.item.ItemDifference;
import plenzo.core.json.Json;
import plenzo.core.words.Words;

/**
 * What two answers to one question mean. It passes only when both were given where they are
 * compared.
 *
 * @param words for people: never the answers themselves, which are values
 */
public record Judged(Outcome outcome, String words) {
  /** What it is. */
  public enum Outcome {
    /** The answer is that of before. */
    SAME,
    /** It is what is expected, and was so before. */
    AS_EXPECTED,
    /** It is what is expected, and was not before. */
    CHANGED_AS_EXPECTED,
    /** It was answered, and nothing more is expected. */
    ANSWERED,
    FAILED;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  public boolean passed() {
    return outcome != Outcome.FAILED;
  }

  /**
   * @param was the answer of before, null where it was not asked
   * @param is the answer of after
   */
  public static Judged of(Probe probe, @Nullable Answer was, @Nullable Answer is) {
    if (is == null || !is.given()) {
      return failed("was not answered: " + (is == null ? "it was not asked" : is.text()));
    }
    String expected = probe.expected();
    if (expected != null) {
      boolean met = meets(probe, expected, is.text());
      boolean before = was != null && was.given() && meets(probe, expected, was.text());
      return !met
          ? failed("does not answer what is expected" + (before ? ", as it did before" : ""))
          : before
              ? new Judged(Outcome.AS_EXPECTED, "answers what is expected")
              : new Judged(Outcome.CHANGED_AS_EXPECTED, "answers what is expected by now");
    }
    if (!probe.mustStay()) {
      return new Judged(Outcome.ANSWERED, "was answered");
    }
    if (was == null) {
      return failed("was not asked before, so that its answer cannot be compared");
    }
    if (!was.given()) {
      return failed(
          "was not answered before, so that its answer cannot be compared: " + was.text());
    }
    return was.text().equals(is.text())
        ? new Judged(Outcome.SAME, "answers the same as before")
        : failed("answers otherwise than before" + differences(was.text(), is.text()));
  }

  /**
   * What an answer means once an earlier version is back. What is expected speaks of the version
   * that went: the earlier one need not answer so where it did not.
   *
   * @param was the answer before the run that is taken back, null where it is not known
   * @param is the answer now
   */
  public static Judged back(Probe probe, @Nullable Answer was, @Nullable Answer is) {
    String expected = probe.expected();
    if (expected == null || is == null || !is.given() || meets(probe, expected, is.text())) {
      return of(probe, was, is);
    }
    if (was == null || !was.given()) {
      return new Judged(
          Outcome.ANSWERED, "was answered, and what it was answered before is not known");
    }
    boolean whole = probe.sort() == Probe.Sort.HOST || probe.sort() == Probe.Sort.QUERY;
    return (whole ? was.text().equals(is.text()) : !meets(probe, expected, was.text()))
        ? new Judged(Outcome.SAME, "answers the same as before")
        : failed("answers otherwise than before");
  }

  /**
   * What answers that passed come to together: those that were compared with nothing are not called
   * as expected.
   */
  public static String words(Collection<Judged> all) {
    int given = (int) all.stream().filter(j -> j.outcome() == Outcome.ANSWERED).count();
    int compared = all.size() - given;
    if (given == 0) {
      return compared == 1 ? "The answer is as expected" : "Every answer is as expected";
    }
    String only = Words.count(given, "answer") + " came and " + (given == 1 ? "was" : "were");
    return compared == 0
        ? only + " compared with nothing"
        : Words.count(compared, "answer")
            + (compared == 1 ? " is" : " are")
            + " as expected; "
            + only
            + " compared with nothing";
  }

  private static boolean meets(Probe probe, String expected, String text) {
    return switch (probe.sort()) {
      case HOST, QUERY -> text.strip().equals(expected.strip());
      case PAGE, FILE -> text.contains(expected);
    };
  }

  private static Judged failed(String words) {
    return new Judged(Outcome.FAILED, words);
  }

  /** Which members, where both answers are JSON; never their values. */
  private static String differences(String was, String is) {
    try {
      String names =
          ItemDifference.members(Json.parse(was), Json.parse(is)).stream()
              .map(AttributeDifference::name)
              .filter(name -> !name.isEmpty())
              .limit(5)
              .collect(Collectors.joining(", "));
      return names.isEmpty() ? "" : ": " + names;
    } catch (IllegalArgumentException e) {
      return "";
    }
  }
}
