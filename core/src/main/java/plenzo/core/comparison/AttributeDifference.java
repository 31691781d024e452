package plenzo.core.comparison;

import org.jspecify.annotations.Nullable;

/**
 * One attribute that differs: present beside incoming; null is SQL null, absent means no such
 * attribute there.
 */
public record AttributeDifference(
    String name,
    @Nullable String present,
    @Nullable String incoming,
    boolean presentAbsent,
    boolean incomingAbsent) {}
