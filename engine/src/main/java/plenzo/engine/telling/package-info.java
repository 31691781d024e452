/** Telling other systems what happened: whom, and what came of it. */
@NullMarked
package plenzo.engine.telling;

import org.jspecify.annotations.NullMarked;
