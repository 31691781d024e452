/** One version to several sites of a stage, wave after wave. */
@NullMarked
package plenzo.engine.waves;

import org.jspecify.annotations.NullMarked;
