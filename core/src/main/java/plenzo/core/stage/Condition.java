package plenzo.core.stage;

import plenzo.core.words.Codes;

/**
 * What is installed at a site and is it intact, worst first; never merged with what is under way.
 */
public enum Condition {
  HALF_WRITTEN("half written"),
  JUDGED_BAD("judged bad"),
  NOT_REACHABLE("not reachable"),
  DRIFTED("drifted"),
  /** The run that brought it found something that a person has to look at, and nobody judged it. */
  TO_LOOK_AT("to look at"),
  ROLLED_BACK("rolled back"),
  GOOD("good"),
  NEVER_HERE("never here");

  private final String code;

  Condition(String code) {
    this.code = code;
  }

  /**
   * @throws IllegalArgumentException when no condition has the code
   */
  public static Condition of(String code) {
    return Codes.find("a condition of a site", values(), Condition::code, code);
  }

  public String code() {
    return code;
  }
}
