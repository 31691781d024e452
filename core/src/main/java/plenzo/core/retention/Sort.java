package plenzo.core.retention;

import java.util.Arrays;
import java.util.Locale;
import plenzo.core.words.Codes;

/** What may be cleared when it is old; sealed content, sheets and the records stay for ever. */
public enum Sort {
  /** Rows and pieces that a run copied before it changed them. */
  BACKUP("backups", "backup"),
  /** Rows that the last comparison of a case listed; its components and counts stay. */
  COMPARISON("comparisons with their rows", "comparison with its rows"),
  /** What a run wrote down while it worked; its steps and their results stay. */
  LOG("logs of runs", "log"),
  /** Signed files for places without a network; the version's content stays. */
  PACKAGE("package files", "package file"),
  /** What an editing stage held, copied on a schedule; the newest of each application stays. */
  COPY("copies of sources", "copy"),
  /** Files that people gave to show something; their digests and what reports said stay. */
  EVIDENCE("files of evidence", "file of evidence");

  private final String many;
  private final String one;

  Sort(String many, String one) {
    this.many = many;
    this.one = one;
  }

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** "backups". */
  public String many() {
    return many;
  }

  /** "backup". */
  public String one() {
    return one;
  }

  /** "backup of R-7", "package file K-1": some are named by what they are of. */
  public String named(String name) {
    return one + (this == BACKUP || this == COMPARISON || this == LOG ? " of " : " ") + name;
  }

  /** "3 backups", "1 log". */
  public String counted(long n) {
    return n + " " + (n == 1 ? one : many);
  }

  /**
   * @throws IllegalArgumentException when there is none; the message lists all
   */
  public static Sort of(String code) {
    return Codes.find("sort of file", values(), Sort::code, code);
  }

  /** All codes. */
  public static java.util.List<String> codes() {
    return Arrays.stream(values()).map(Sort::code).toList();
  }
}
