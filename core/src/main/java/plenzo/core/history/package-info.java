/** The tamper-evident history that people look back on. */
@NullMarked
package plenzo.core.history;

import org.jspecify.annotations.NullMarked;
