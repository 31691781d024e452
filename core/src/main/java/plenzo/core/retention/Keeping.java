package plenzo.core.retention;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;

/**
 * What is said of something that is stored: that it stays, by a note, or that it was cleared.
 *
 * @param id of a note its subject, such as {@code R-7}, {@code P-15}, {@code fares@2.4.0}; of what
 *     was cleared the item's
 * @param reason of a note why it stays; of what was cleared by which rule it went
 * @param until the last day of a note; null for ever, and of what was cleared
 * @param bytes that were cleared; 0 of a note
 */
public record Keeping(
    String id,
    State state,
    String by,
    Instant at,
    String reason,
    @Nullable LocalDate until,
    long bytes,
    int revision) {
  /** Longest reason. */
  private static final int LONGEST = 500;

  public Keeping {
    if (reason.isBlank() || reason.length() > LONGEST) {
      throw new IllegalArgumentException(
          "Say in 1 to " + LONGEST + " characters why it stays, not " + reason.length());
    }
  }

  /** Which of both. */
  public enum State {
    NOTE("note"),
    CLEARED("cleared");

    private final String code;

    State(String code) {
      this.code = code;
    }

    public String code() {
      return code;
    }
  }

  /** Whether it is a note that keeps its subject now. */
  public boolean holds(Instant now) {
    return state == State.NOTE
        && (until == null || !now.atZone(ZoneOffset.UTC).toLocalDate().isAfter(until));
  }

  /** "a note of ines: The harbour asks for it, until 2027-12-31". */
  public String words() {
    return "a note of " + by + ": " + reason + (until == null ? "" : ", until " + until);
  }
}
