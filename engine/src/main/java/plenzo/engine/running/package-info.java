/** Runs: the protocol, its journal and what happens after a restart. */
@NullMarked
package plenzo.engine.running;

import org.jspecify.annotations.NullMarked;
