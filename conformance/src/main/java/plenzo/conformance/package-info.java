/**
 * A test of the host protocol that anyone can run against a host of their own: it delays, repeats,
 * reorders and drops calls, and kills the host between write and answer.
 */
@NullMarked
package plenzo.conformance;

import org.jspecify.annotations.NullMarked;
