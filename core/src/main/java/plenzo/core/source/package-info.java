/** Repositories as sources: the port to commits and what they hold. */
@NullMarked
package plenzo.core.source;

import org.jspecify.annotations.NullMarked;
