/** Time: freezes and windows of stages, and runs that start by themselves. */
@NullMarked
package plenzo.engine.timing;

import org.jspecify.annotations.NullMarked;
