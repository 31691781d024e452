/** Packages as records, and the keys that sign them. */
@NullMarked
package plenzo.core.trust;

import org.jspecify.annotations.NullMarked;
