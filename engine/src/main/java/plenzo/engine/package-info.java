/** What every use case has at hand. */
@NullMarked
package plenzo.engine;

import org.jspecify.annotations.NullMarked;
