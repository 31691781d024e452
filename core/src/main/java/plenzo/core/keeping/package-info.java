/** The ports to Plenzo's own records and files; store implements them, engine uses them. */
@NullMarked
package plenzo.core.keeping;

import org.jspecify.annotations.NullMarked;
