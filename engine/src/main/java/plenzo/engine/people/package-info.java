/** Who is who and who may do what. */
@NullMarked
package plenzo.engine.people;

import org.jspecify.annotations.NullMarked;
