/** Telling other systems what happened. */
@NullMarked
package plenzo.core.telling;

import org.jspecify.annotations.NullMarked;
