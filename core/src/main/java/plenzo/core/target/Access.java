package plenzo.core.target;

import java.util.Map;

/**
 * How to reach a target with one account. The secret never appears in its text form.
 *
 * @param path folder of a directory, or path below which a host's protocol is found
 * @param options of the connector's own
 */
public record Access(
    String host,
    int port,
    String database,
    String path,
    String account,
    String tls,
    Map<String, String> options,
    String secret) {
  public Access {
    options = Map.copyOf(options);
  }

  public Access(String host, int port, String database, String account, String tls, String secret) {
    this(host, port, database, "", account, tls, Map.of(), secret);
  }

  @Override
  public String toString() {
    return host.isEmpty() ? path : account + "@" + host + ":" + port + "/" + database + path;
  }
}
