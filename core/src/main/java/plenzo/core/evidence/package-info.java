/** Files that show what was tried or done: what they are about, and what test results say. */
@NullMarked
package plenzo.core.evidence;

import org.jspecify.annotations.NullMarked;
