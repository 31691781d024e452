/** The plan of a promotion and its fingerprint. */
@NullMarked
package plenzo.core.plan;

import org.jspecify.annotations.NullMarked;
