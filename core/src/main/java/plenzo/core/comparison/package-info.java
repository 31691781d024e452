/** The three-way comparison of a version with what a site holds. */
@NullMarked
package plenzo.core.comparison;

import org.jspecify.annotations.NullMarked;
