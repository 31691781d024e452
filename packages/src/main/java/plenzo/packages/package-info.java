/**
 * The package: a version as one file that can be trusted, written and read without a service. See
 * docs/formats/package.md.
 */
@NullMarked
package plenzo.packages;

import org.jspecify.annotations.NullMarked;
