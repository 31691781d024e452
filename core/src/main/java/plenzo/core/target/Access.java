package plenzo.core.target;

import java.util.List;
import java.util.Map;

/**
 * How to reach a target with one account. The secret never appears in its text form.
 *
 * @param path folder of a directory, or path below which a host's protocol is found
 * @param options of the connector's own
 * @param addresses what the name led to when it was judged, as digits, best first: without TLS that
 *     checks names, a session goes there and asks for the name no second time; empty: wherever it
 *     leads
 */
public record Access(
    String host,
    int port,
    String database,
    String path,
    String account,
    String tls,
    Map<String, String> options,
    String secret,
    List<String> addresses) {
  public Access {
    options = Map.copyOf(options);
    addresses = List.copyOf(addresses);
  }

  public Access(
      String host,
      int port,
      String database,
      String path,
      String account,
      String tls,
      Map<String, String> options,
      String secret) {
    this(host, port, database, path, account, tls, options, secret, List.of());
  }

  public Access(String host, int port, String database, String account, String tls, String secret) {
    this(host, port, database, "", account, tls, Map.of(), secret);
  }

  /** The same account at another database of the same server. */
  public Access of(String other) {
    return new Access(host, port, other, path, account, tls, options, secret, addresses);
  }

  /** The same with other options of the connector's own. */
  public Access with(Map<String, String> others) {
    return new Access(host, port, database, path, account, tls, others, secret, addresses);
  }

  /** The same account at another folder. */
  public Access at(String folder) {
    return new Access(host, port, database, folder, account, tls, options, secret, addresses);
  }

  @Override
  public String toString() {
    return host.isEmpty() ? path : account + "@" + host + ":" + port + "/" + database + path;
  }
}
