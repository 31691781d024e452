/** How long Plenzo's own files stay. */
@NullMarked
package plenzo.engine.keeping;

import org.jspecify.annotations.NullMarked;
