/**
 * Work that people do outside Plenzo around a run: what is asked, of whom, and what came of it.
 * Used by versions, legs, promotions, plans and runs.
 */
@NullMarked
package plenzo.core.manual;

import org.jspecify.annotations.NullMarked;
