package plenzo.core.locking;

/** How a table is held until the switch is committed; the later is the stronger. */
public enum Hold {
  WRITES("SHARE ROW EXCLUSIVE", "people read it, and nobody else writes"),
  EVERYTHING("ACCESS EXCLUSIVE", "nobody else reads or writes it");

  private final String mode;
  private final String words;

  Hold(String mode, String words) {
    this.mode = mode;
    this.words = words;
  }

  /** The mode's name in SQL. */
  public String mode() {
    return mode;
  }

  public String words() {
    return words;
  }
}
