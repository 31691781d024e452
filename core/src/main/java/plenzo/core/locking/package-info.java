/** Whom a switch keeps waiting at which table, for about how long, and what is done beside it. */
@NullMarked
package plenzo.core.locking;

import org.jspecify.annotations.NullMarked;
