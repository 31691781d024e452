package plenzo.core.evidence;

import java.util.List;
import plenzo.core.words.Words;

/**
 * What a file in the JUnit XML format says: suites with their counts, and the cases that failed.
 * Counts are those of the cases themselves; what a suite claims of itself is not believed.
 *
 * @param failed at most {@link #MOST_NAMED} of them
 */
public record TestReport(List<Suite> suites, List<Failed> failed) {
  /** Failed cases that are named, and suites that are listed (guess: people read the first). */
  public static final int MOST_NAMED = 50;

  public TestReport {
    suites = List.copyOf(suites);
    failed = List.copyOf(failed);
  }

  /** One suite. */
  public record Suite(String name, int tests, int failures, int errors, int skipped) {
    /** This suite and one case more. */
    public Suite and(int failure, int error, int skip) {
      return new Suite(name, tests + 1, failures + failure, errors + error, skipped + skip);
    }
  }

  /** A case that failed or ended in an error. */
  public record Failed(String suite, String test, String message) {}

  public int tests() {
    return suites.stream().mapToInt(Suite::tests).sum();
  }

  /** Cases that failed or ended in an error. */
  public int bad() {
    return suites.stream().mapToInt(s -> s.failures() + s.errors()).sum();
  }

  public int skipped() {
    return suites.stream().mapToInt(Suite::skipped).sum();
  }

  /** Whether something was tried and nothing of it failed. */
  public boolean passed() {
    return bad() == 0 && tests() > skipped();
  }

  /** "214 tests, 2 failed, 3 skipped". */
  public String words() {
    return Words.count(tests(), "test")
        + (bad() == 0 ? ", none failed" : ", " + bad() + " failed")
        + (skipped() == 0 ? "" : ", " + skipped() + " skipped");
  }
}
