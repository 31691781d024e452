/** Where things stand, drift, and history. */
@NullMarked
package plenzo.engine.looking;

import org.jspecify.annotations.NullMarked;
