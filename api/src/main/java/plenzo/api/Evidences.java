package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Files that show what was tried or done. */
public interface Evidences {
  /**
   * One file.
   *
   * @param step number of the work by hand that it shows, 0 for none
   * @param digest SHA-256 of its bytes
   * @param about what it shows, in the giver's words
   * @param report what it says of tests; null when it is no test report
   */
  record EvidenceView(
      String number,
      String application,
      String version,
      String site,
      String run,
      int step,
      String name,
      long bytes,
      String digest,
      String about,
      @Nullable ReportView report,
      String by,
      Instant at) {}

  /**
   * A test report in the JUnit XML format, counted case by case.
   *
   * @param words "214 tests, 2 failed, 3 skipped"
   * @param failed the first 50 of them
   */
  record ReportView(
      int tests,
      int bad,
      int skipped,
      boolean passed,
      String words,
      List<SuiteView> suites,
      List<FailedView> failed) {}

  record SuiteView(String name, int tests, int failures, int errors, int skipped) {}

  record FailedView(String suite, String test, String message) {}
}
