/** The port to target systems; connectors implement it. */
@NullMarked
package plenzo.core.target;

import org.jspecify.annotations.NullMarked;
