/** Checks of a component's content, built in or added by a jar, each for its own kinds. */
@NullMarked
package plenzo.core.check;

import org.jspecify.annotations.NullMarked;
