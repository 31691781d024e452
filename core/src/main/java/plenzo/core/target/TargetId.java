package plenzo.core.target;

/**
 * Who a target is for ever: in the set-up, in its marker, in journals and runs. Renaming the target
 * does not change it.
 *
 * @param text stage, site and the key that the target had when it was registered, such as {@code
 *     production/north/database}, and four random characters behind "~" where one was registered
 *     before
 */
public record TargetId(String text) implements Comparable<TargetId> {
  public TargetId {
    if (text.isBlank() || text.length() > 200) {
      throw new IllegalArgumentException(
          "A target's id has 1 to 200 characters; got \"" + text + "\"");
    }
  }

  /** The id of a target that was registered before targets had ids. */
  public static TargetId early(String stage, String site, String key) {
    return new TargetId(stage + "/" + site + "/" + key);
  }

  /** Whether a marker names this target; markers written before targets had ids hold its key. */
  public boolean isMarkedAs(String marked) {
    return text.equals(marked) || text.endsWith("/" + marked);
  }

  @Override
  public int compareTo(TargetId other) {
    return text.compareTo(other.text);
  }

  @Override
  public String toString() {
    return text;
  }
}
