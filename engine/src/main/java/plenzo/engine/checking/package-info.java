/**
 * Checks of components' content, before sealing and before arrival. Used by sealing and promoting.
 */
@NullMarked
package plenzo.engine.checking;

import org.jspecify.annotations.NullMarked;
