package plenzo.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * An intent before an act outside, or its outcome after. An intent without outcome means unknown:
 * the target is asked, never guessed.
 *
 * @param session process id and start time of the database session, so that settling can end it
 */
public record JournalEntry(
    long sequence,
    long run,
    String step,
    int attempt,
    Type type,
    String target,
    @Nullable String session,
    String text,
    Instant at) {
  /** Intent or outcome. */
  public enum Type {
    INTENT,
    OUTCOME
  }
}
