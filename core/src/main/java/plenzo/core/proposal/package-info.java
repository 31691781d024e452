/** Changes of what guards production, which need a second person. */
@NullMarked
package plenzo.core.proposal;

import org.jspecify.annotations.NullMarked;
