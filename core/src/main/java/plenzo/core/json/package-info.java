/** Canonical JSON (RFC 8785) as values, written and read strictly; anyone may use it. */
@NullMarked
package plenzo.core.json;

import org.jspecify.annotations.NullMarked;
