package plenzo.core.words;

import java.util.List;
import java.util.Locale;

/** Counts as people read them. */
public final class Words {
  private Words() {}

  /** "1 row", "1,204 rows": regular plurals only. */
  public static String count(long count, String one) {
    return String.format(Locale.ROOT, "%,d %s", count, count == 1 ? one : one + "s");
  }

  /** "1 part or row", "2 parts or rows": how much differs. */
  public static String partsOrRows(long count) {
    return String.format(
        Locale.ROOT, "%,d %s", count, count == 1 ? "part or row" : "parts or rows");
  }

  /** "less than a second", "about 14 seconds", "about 3 minutes". */
  public static String about(long millis) {
    long seconds = (millis + 500) / 1000;
    return seconds == 0
        ? "less than a second"
        : "about "
            + (seconds < 120 ? count(seconds, "second") : count((seconds + 30) / 60, "minute"));
  }

  /** "rows", "rows and files", "rows, files and definitions". */
  public static String and(List<String> parts) {
    int last = parts.size() - 1;
    return last < 1
        ? String.join("", parts)
        : String.join(", ", parts.subList(0, last)) + " and " + parts.get(last);
  }

  /** The same of at most so many: "rows, files and 3 more". */
  public static String and(List<String> parts, int most) {
    return parts.size() <= most
        ? and(parts)
        : String.join(", ", parts.subList(0, most)) + " and " + (parts.size() - most) + " more";
  }
}
