package plenzo.api;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A problem detail (RFC 9457) with Plenzo's stable code, what to do next, and the pointer to the
 * field.
 */
public record Failure(
    String type,
    String title,
    int status,
    String detail,
    String code,
    List<String> next,
    @Nullable String field,
    String requestId) {}
