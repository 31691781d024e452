package plenzo.core.stage;

/**
 * How users are kept out while a version comes.
 *
 * @param seconds how long a run waits for running work to end before it gives up, nothing changed
 * @param notice what people read who come meanwhile; empty for which version is being put in place
 */
public record Closing(int seconds, String notice) {
  /** What holds where nothing was said: a minute (guess). */
  public static final Closing USUAL = new Closing(60, "");

  /** A day: longer waits are another night (guess). */
  private static final int LONGEST = 86_400;

  private static final int MOST_CHARACTERS = 500;

  public Closing {
    if (seconds < 1 || seconds > LONGEST) {
      throw new IllegalArgumentException(
          "Running work is waited for from 1 to " + LONGEST + " seconds; got " + seconds);
    }
    if (notice.length() > MOST_CHARACTERS) {
      throw new IllegalArgumentException(
          "What people read meanwhile has " + MOST_CHARACTERS + " characters at most");
    }
  }

  /** "60 s", "10 min", "1 min 30 s". */
  public String span() {
    int minutes = seconds / 60;
    int rest = seconds % 60;
    return minutes < 2 && rest > 0 || minutes == 0 || seconds == 60
        ? seconds + " s"
        : minutes + " min" + (rest == 0 ? "" : " " + rest + " s");
  }

  /** What people read who come while the version does. */
  public String told(String version) {
    return notice.isBlank() ? version + " is being put in place" : notice;
  }

  /** As a leg says it. */
  public String words() {
    return "running work waited for "
        + span()
        + (notice.isBlank() ? "" : ", and people told: " + notice);
  }
}
