/** What each stage gives the declared inputs of an application. */
@NullMarked
package plenzo.engine.binding;

import org.jspecify.annotations.NullMarked;
