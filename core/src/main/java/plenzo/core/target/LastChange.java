package plenzo.core.target;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * Who changed a component last and when, as far as the target tells.
 *
 * @param by null where the target does not tell
 * @param at null where the target does not tell
 */
public record LastChange(@Nullable String by, @Nullable Instant at) {
  public static final LastChange UNKNOWN = new LastChange(null, null);
}
