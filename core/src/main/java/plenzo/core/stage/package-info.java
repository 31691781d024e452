/** Stages, sites, targets, connections and paths. */
@NullMarked
package plenzo.core.stage;

import org.jspecify.annotations.NullMarked;
