/** Findings: what a change could break, counted at the target. */
@NullMarked
package plenzo.core.impact;

import org.jspecify.annotations.NullMarked;
