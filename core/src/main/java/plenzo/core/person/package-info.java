/** People, their rights and their tokens. */
@NullMarked
package plenzo.core.person;

import org.jspecify.annotations.NullMarked;
