/** Releases: versions of several applications promoted as one. Used by the service alone. */
@NullMarked
package plenzo.engine.releasing;

import org.jspecify.annotations.NullMarked;
