/** Whether a person may do an act at a place, and if not, why and who can. */
@NullMarked
package plenzo.core.may;

import org.jspecify.annotations.NullMarked;
