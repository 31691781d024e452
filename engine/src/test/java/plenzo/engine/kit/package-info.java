/**
 * The kit on which the engine's rules are tested in milliseconds: records in a folder, scripted
 * targets that pass every connector's contract, a clock that ticks, no thread of its own.
 */
@NullMarked
package plenzo.engine.kit;

import org.jspecify.annotations.NullMarked;
