/** Measurements; never part of the tests. */
@NullMarked
package plenzo.bench;

import org.jspecify.annotations.NullMarked;
