/** The record: what a promotion or release used and did, exceptions of a span, and figures. */
@NullMarked
package plenzo.engine.recording;

import org.jspecify.annotations.NullMarked;
