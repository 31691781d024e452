/** A plan that is carried out on a copy before it is at its site. */
@NullMarked
package plenzo.core.rehearsal;

import org.jspecify.annotations.NullMarked;
