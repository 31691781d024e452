package plenzo.core.words;

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
}
