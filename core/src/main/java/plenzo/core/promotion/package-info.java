/** The case file of moving a version to a site. */
@NullMarked
package plenzo.core.promotion;

import org.jspecify.annotations.NullMarked;
