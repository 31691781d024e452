/** The messages of the host protocol, as docs/formats/host-protocol.json lays them down. */
@NullMarked
package plenzo.hostprotocol;

import org.jspecify.annotations.NullMarked;
