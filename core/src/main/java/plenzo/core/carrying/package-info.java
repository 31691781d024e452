/** What becomes of the values of people's rows when a structure changes; anyone may use it. */
@NullMarked
package plenzo.core.carrying;

import org.jspecify.annotations.NullMarked;
