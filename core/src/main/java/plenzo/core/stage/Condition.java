package plenzo.core.stage;

/**
 * What is installed at a site and is it intact, worst first; never merged with what is under way.
 */
public enum Condition {
  HALF_WRITTEN("half written"),
  JUDGED_BAD("judged bad"),
  NOT_REACHABLE("not reachable"),
  DRIFTED("drifted"),
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
    for (Condition c : values()) {
      if (c.code().equals(code)) {
        return c;
      }
    }
    throw new IllegalArgumentException("No condition is \"" + code + "\"");
  }

  public String code() {
    return code;
  }
}
