/**
 * Plenzo's own records in H2 through MyBatis, and its files on disk; only wiring may depend on it.
 */
@NullMarked
package plenzo.store;

import org.jspecify.annotations.NullMarked;
