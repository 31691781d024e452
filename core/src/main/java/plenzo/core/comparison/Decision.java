package plenzo.core.comparison;

import plenzo.core.words.Codes;

/** What a person decided about a conflict; there is no default (decision D10). */
public enum Decision {
  /** Overwrite what is there with the version's content. */
  TAKE_INCOMING("take-incoming"),
  /** Leave what is there; recorded as an exception until settled. */
  KEEP("keep"),
  /**
   * Take what either side moved, where they moved different attributes; recorded as an exception,
   * for the result is neither of them.
   */
  TAKE_BOTH("take-both");

  private final String code;

  Decision(String code) {
    this.code = code;
  }

  public String code() {
    return code;
  }

  public static Decision of(String code) {
    return Codes.find("a decision", values(), Decision::code, code);
  }
}
