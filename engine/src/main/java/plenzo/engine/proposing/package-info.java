/** A second person's word to changes of what guards production. */
@NullMarked
package plenzo.engine.proposing;

import org.jspecify.annotations.NullMarked;
