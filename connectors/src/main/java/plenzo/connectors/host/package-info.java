/** Application hosts, by Plenzo's own host protocol over HTTP. */
@NullMarked
package plenzo.connectors.host;

import org.jspecify.annotations.NullMarked;
