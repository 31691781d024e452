/** Content of components, content-addressed. */
@NullMarked
package plenzo.engine.content;

import org.jspecify.annotations.NullMarked;
