package plenzo.store;

import java.time.OffsetDateTime;
import org.jspecify.annotations.Nullable;

/** A record as it lies in its table: the columns that are searched, and the whole as JSON. */
public record BodyRow(
    String id,
    int revision,
    @Nullable String state,
    @Nullable String application,
    @Nullable String stage,
    @Nullable String site,
    OffsetDateTime at,
    String body) {}
