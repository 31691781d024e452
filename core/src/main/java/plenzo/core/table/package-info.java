/**
 * The structure of a database table as a value, and the difference between two; anyone may use it.
 */
@NullMarked
package plenzo.core.table;

import org.jspecify.annotations.NullMarked;
