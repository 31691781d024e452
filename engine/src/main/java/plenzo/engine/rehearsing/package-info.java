/** Carries plans out on copies, and takes them back there. */
@NullMarked
package plenzo.engine.rehearsing;

import org.jspecify.annotations.NullMarked;
