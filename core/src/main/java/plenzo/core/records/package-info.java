/** Rows of reference data: canonical CSV, key order, conditions; anyone may use it. */
@NullMarked
package plenzo.core.records;

import org.jspecify.annotations.NullMarked;
