package plenzo.conformance;

import java.io.IOException;
import java.net.Socket;

/** The host that is tried, and power over its process. */
public interface HostUnderTest {
  String address();

  int port();

  /** What stands before the protocol in its address; empty for nothing. */
  String prefix();

  /** Empty for a host that knows its callers by their certificates alone. */
  String token();

  /** A connection to it, by TLS where it asks for that. */
  default Socket connect() throws IOException {
    return new Socket(address(), port());
  }

  /** The same without the certificate that says who calls. */
  default Socket connectAsStranger() throws IOException {
    return connect();
  }

  /** Whether {@link #kill} and {@link #restart} may be asked for. */
  boolean canBeKilled();

  /** Ends the process at once, without a chance to tidy up. */
  void kill();

  /** Starts it again with what is on its disk; returns when it answers. */
  void restart();
}
