/** What stands in the way of going back, and the choices that remove it (decision D27). */
@NullMarked
package plenzo.core.way;

import org.jspecify.annotations.NullMarked;
