/** Stages, connections, paths and applications; adoption of what a site already holds. */
@NullMarked
package plenzo.engine.setup;

import org.jspecify.annotations.NullMarked;
