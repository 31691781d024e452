/** The command-line client: a client of the API only. */
@NullMarked
package plenzo.cli;

import org.jspecify.annotations.NullMarked;
