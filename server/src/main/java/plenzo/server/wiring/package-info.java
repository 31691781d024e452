/** Where the parts are put together; the only place that reads the clock and the environment. */
@NullMarked
package plenzo.server.wiring;

import org.jspecify.annotations.NullMarked;
