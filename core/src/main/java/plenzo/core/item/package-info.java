/** Components whose content is one piece: files and hosted definitions. */
@NullMarked
package plenzo.core.item;

import org.jspecify.annotations.NullMarked;
