package plenzo.server.security;

import java.io.IOException;

/** Who sends a body is too slow, or holds the connection on purpose. */
public final class TooSlow extends IOException {
  private static final long serialVersionUID = 1;

  TooSlow() {
    super("The body comes too slowly");
  }
}
