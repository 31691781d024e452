/** What a site holds: carried, or named. */
@NullMarked
package plenzo.core.inventory;

import org.jspecify.annotations.NullMarked;
