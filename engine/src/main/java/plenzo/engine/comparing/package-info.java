/** Comparing a version with what a site holds, and the files that a comparison leaves. */
@NullMarked
package plenzo.engine.comparing;

import org.jspecify.annotations.NullMarked;
