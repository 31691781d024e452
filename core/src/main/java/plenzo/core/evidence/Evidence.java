package plenzo.core.evidence;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * A file that shows what was tried or done with a version at a site.
 *
 * @param number shown as "E-3"
 * @param run the run that it is about, 0 for none
 * @param step number of the work by hand in it that it shows, 0 for none
 * @param name of the file, as it was given
 * @param about what it shows, in the giver's words
 * @param report what it says of tests; null when it is no test report
 */
public record Evidence(
    long number,
    String application,
    SemVer version,
    SiteKey site,
    long run,
    int step,
    String name,
    long bytes,
    Digest digest,
    String about,
    @Nullable TestReport report,
    String by,
    Instant at,
    int revision) {
  /** Longest file: 10 MiB (guess: a report with its pictures). */
  public static final long LONGEST = 10L << 20;

  public Evidence {
    if (name.isBlank() || name.length() > 200) {
      throw new IllegalArgumentException(
          "A file that shows something has a name of 1 to 200 characters");
    }
    if (about.length() > 2000) {
      throw new IllegalArgumentException("What it shows is said in 2000 characters at most");
    }
  }

  public String shown() {
    return "E-" + number;
  }

  /** Where its bytes lie. */
  public String file() {
    return file(number);
  }

  /** Where the bytes of the one with a number lie. */
  public static String file(long number) {
    return "evidence/E-" + number;
  }
}
