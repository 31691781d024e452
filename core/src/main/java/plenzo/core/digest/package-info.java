/** SHA-256 digests, row sums and fingerprints; anyone may use it. */
@NullMarked
package plenzo.core.digest;

import org.jspecify.annotations.NullMarked;
