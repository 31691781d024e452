/** The service: its main and its settings. */
@NullMarked
package plenzo.server;

import org.jspecify.annotations.NullMarked;
