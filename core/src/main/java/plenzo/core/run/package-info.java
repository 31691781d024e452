/** The state machine of a run and its journal. */
@NullMarked
package plenzo.core.run;

import org.jspecify.annotations.NullMarked;
