package plenzo.core.records;

import plenzo.core.words.Codes;

/** What a version does to rows of a site that it carries otherwise, or not at all. */
public enum RowsPolicy {
  /** Rows are added and changed; one goes only where the version says so. */
  ADD_AND_CHANGE("add-and-change"),
  /** Rows that a site has stay as they are, whatever the version holds. */
  ADD_ONLY("add-only"),
  /** A site has exactly the rows of the version: others go. */
  MIRROR("mirror");

  private final String code;

  RowsPolicy(String code) {
    this.code = code;
  }

  public String code() {
    return code;
  }

  /** "add only". */
  public String words() {
    return code.replace('-', ' ');
  }

  /**
   * @throws IllegalArgumentException when no policy has the code
   */
  public static RowsPolicy of(String code) {
    return Codes.find("a policy of rows", values(), RowsPolicy::code, code);
  }
}
