package plenzo.engine.running;

import plenzo.core.promotion.Promotion;

/** What a run that came through is said to have done, one sentence. */
public final class Arrived {
  private Arrived() {}

  public static String words(Promotion p) {
    if (p.bringsBack()) {
      return p.site() + " is back at " + p.version() + ".";
    }
    if (p.brings()) {
      return p.version() + " is at " + p.site() + ".";
    }
    if (p.valuesOnly()) {
      return p.rollback()
          ? p.site() + " has the values again that it had before R-" + p.backupOf() + "."
          : p.site() + " was given its values for " + p.version() + ".";
    }
    String what = "What " + p.shown();
    return again(p)
        ? what + " brought in at " + p.site() + " is there as it was saved."
        : what + " put back at " + p.site() + " is as " + p.version() + " has it again.";
  }

  /** Whether it brought in rows that were saved: of them the version says nothing. */
  private static boolean again(Promotion p) {
    return p.putBack() != null && !p.putBack().again().isEmpty();
  }
}
