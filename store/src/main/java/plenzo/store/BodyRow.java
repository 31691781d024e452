package plenzo.store;

import org.jspecify.annotations.Nullable;

/**
 * A record as it lies in its table: the columns that are searched, and the whole as JSON.
 *
 * @param ordinal its place in the order of lists; 0 while it is not stored
 */
public record BodyRow(
    long ordinal,
    String id,
    int revision,
    @Nullable String state,
    @Nullable String application,
    @Nullable String stage,
    @Nullable String site,
    String body) {}
