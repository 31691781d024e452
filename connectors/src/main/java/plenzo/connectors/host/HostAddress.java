package plenzo.connectors.host;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.stage.Connection;
import plenzo.core.target.Access;
import plenzo.core.target.TargetFailed;
import plenzo.hostprotocol.HostProtocol;

/**
 * Where a host's protocol is found, built of its fields one by one: joined as text, the path
 * {@code @127.0.0.1:46000/} made a name of the host before it and led the token elsewhere.
 */
final class HostAddress {
  private HostAddress() {}

  /**
   * @throws TargetFailed when the fields do not lead to the host and port that they name
   */
  static String root(Access access) {
    return root(access, access.host());
  }

  /**
   * Where a call goes: without TLS the address that was judged, and the name is asked for no second
   * time. With TLS the name, as whoever answers must have a certificate for it before anything is
   * sent.
   */
  static String reached(Access access) {
    String root = root(access);
    return byAddress(access) ? root(access, access.addresses().get(0)) : root;
  }

  /** Whether the name has to be said in the call, as its address does not hold it. */
  static boolean byAddress(Access access) {
    return access.tls().equals("disable") && !access.addresses().isEmpty();
  }

  private static String root(Access access, String host) {
    if (!Connection.isHost(access.host()) || !Connection.isPath(access.path())) {
      throw refused(access);
    }
    try {
      String path = access.path().replaceFirst("/$", "") + HostProtocol.ROOT;
      URI address =
          new URI(
              access.tls().equals("disable") ? "http" : "https",
              null,
              host,
              access.port(),
              path,
              null,
              null);
      boolean leadsThere =
          host.toLowerCase(Locale.ROOT).equals(bare(address.getHost()))
              && address.getPort() == access.port()
              && path.equals(address.getRawPath());
      if (!leadsThere) {
        throw refused(access);
      }
      return address.toString();
    } catch (URISyntaxException e) {
      throw refused(access);
    }
  }

  /** A name that is none is no host of an address, and null. */
  private static String bare(@Nullable String host) {
    return host == null ? "" : host.toLowerCase(Locale.ROOT).replaceAll("^\\[|]$", "");
  }

  private static TargetFailed refused(Access access) {
    return new TargetFailed(
        "The connection to "
            + access.host()
            + " has a host or a path that is none: a path is empty or begins with /, of letters,"
            + " digits, dots, hyphens, underscores and tildes",
        /* notReachable= */ false,
        new IllegalArgumentException("no address of a host"));
  }
}
