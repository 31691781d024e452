/** Drafts, what they need, and sealing them as versions. */
@NullMarked
package plenzo.engine.sealing;

import org.jspecify.annotations.NullMarked;
