/** Asks sites, and copies of them, the questions of an application. */
@NullMarked
package plenzo.engine.probing;

import org.jspecify.annotations.NullMarked;
