package plenzo.api;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A page of a list.
 *
 * @param next what to give as {@code cursor} for the following page; null when this is the last
 */
public record Page<T>(List<T> items, @Nullable String next) {}
