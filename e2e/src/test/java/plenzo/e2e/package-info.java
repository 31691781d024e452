/**
 * Tests of the whole through its real interfaces: real processes, real PostgreSQL, a real browser.
 */
@NullMarked
package plenzo.e2e;

import org.jspecify.annotations.NullMarked;
