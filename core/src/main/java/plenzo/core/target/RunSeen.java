package plenzo.core.target;

import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;

/**
 * A run that a target remembers having been changed by.
 *
 * @param anchor the history's head when it was switched; null in marks of an earlier Plenzo
 */
public record RunSeen(long run, String version, String fingerprint, @Nullable Anchor anchor) {}
