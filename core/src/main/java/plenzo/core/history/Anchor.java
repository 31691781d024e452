package plenzo.core.history;

/**
 * The head of the history at some moment, kept outside Plenzo's records: in the markers that runs
 * write, in packages, in a file (decision D28). The history still holds it, or its past was
 * changed.
 *
 * @param number of the newest entry of that moment
 * @param hash of that entry
 */
public record Anchor(long number, String hash) {
  public Anchor {
    if (number < 0 || !hash.matches("[0-9a-f]{64}")) {
      throw new IllegalArgumentException("Not a head of a history: " + number + " " + hash);
    }
  }

  /** "4711 9f86d0…": as markers keep it. */
  public String text() {
    return number + " " + hash;
  }

  /**
   * @throws IllegalArgumentException when the text is no anchor
   */
  public static Anchor of(String text) {
    int space = text.indexOf(' ');
    if (space < 1 || !text.substring(0, space).matches("[0-9]{1,18}")) {
      throw new IllegalArgumentException("Not a head of a history: " + text);
    }
    return new Anchor(Long.parseLong(text.substring(0, space)), text.substring(space + 1));
  }
}
