/** The conditions that a promotion must pass: in force, still open, and who can move them. */
@NullMarked
package plenzo.core.gate;

import org.jspecify.annotations.NullMarked;
