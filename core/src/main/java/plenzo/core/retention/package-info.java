/** How long Plenzo's own files stay, and what keeps one whatever its age. */
@NullMarked
package plenzo.core.retention;

import org.jspecify.annotations.NullMarked;
