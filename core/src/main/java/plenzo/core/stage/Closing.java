package plenzo.core.stage;

import org.jspecify.annotations.Nullable;

/**
 * How users are kept out while a version comes.
 *
 * @param seconds how long a run waits for running work to end before it gives up, nothing changed
 * @param minutes how long before people are told that they will be kept out; null for not before
 * @param notice what people read who come meanwhile; empty for which version is being put in place
 */
public record Closing(int seconds, @Nullable Integer minutes, String notice) {
  /** What holds where nothing was said: a minute (guess). */
  public static final Closing USUAL = new Closing(60, null, "");

  /** A day: longer waits are another night (guess). */
  private static final int LONGEST = 86_400;

  private static final int MOST_CHARACTERS = 500;

  /** Four hours: who is told earlier forgets (guess). */
  private static final int LONGEST_BEFORE = 240;

  public Closing {
    minutes = minutes == null || minutes == 0 ? null : minutes;
    if (minutes != null && (minutes < 1 || minutes > LONGEST_BEFORE)) {
      throw new IllegalArgumentException(
          "People are told from 0 to " + LONGEST_BEFORE + " minutes before; got " + minutes);
    }
    if (seconds < 1 || seconds > LONGEST) {
      throw new IllegalArgumentException(
          "Running work is waited for from 1 to " + LONGEST + " seconds; got " + seconds);
    }
    if (notice.length() > MOST_CHARACTERS) {
      throw new IllegalArgumentException(
          "What people read meanwhile has " + MOST_CHARACTERS + " characters at most");
    }
  }

  /** One that tells nobody before. */
  public Closing(int seconds, String notice) {
    this(seconds, null, notice);
  }

  /** How many minutes before people are told; 0 for not before. */
  public int before() {
    return minutes == null ? 0 : minutes;
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
        + (notice.isBlank() ? "" : ", and people told: " + notice)
        + (minutes == null ? "" : ", " + minutes + " min before");
  }
}
