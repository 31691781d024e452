/** How counts are written in sentences. For everybody. */
@NullMarked
package plenzo.core.words;

import org.jspecify.annotations.NullMarked;
