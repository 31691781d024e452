/** Refusals that a caller is told about, each with a stable code. */
@NullMarked
package plenzo.core.problem;

import org.jspecify.annotations.NullMarked;
