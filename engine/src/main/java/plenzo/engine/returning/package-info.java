/** Going back: the ways, their counted loss, and starting one. */
@NullMarked
package plenzo.engine.returning;

import org.jspecify.annotations.NullMarked;
