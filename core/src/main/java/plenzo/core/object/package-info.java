/**
 * What a schema has by name beside its tables: views, routines, sequences, triggers, types and
 * policies as values, and what a change of some means for the others; anyone may use it.
 */
@NullMarked
package plenzo.core.object;

import org.jspecify.annotations.NullMarked;
