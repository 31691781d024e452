package plenzo.core.stage;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.target.Probe;

/**
 * A named way to reach a system, kept once per stage. The secret is stored apart, encrypted and
 * never shown.
 *
 * @param sort which connector uses it: postgresql, directory or host
 * @param path folder of a directory, or path below which a host's protocol is found
 * @param tls disable, require or verify-full
 * @param options of the connector's own: a directory's "mode" (exchange or in-place) and
 *     "longest-path"
 * @param lentTo keys of the applications that may name it in a binding, "*" for all; targets need
 *     no such leave
 * @param test what the last test found, null when it was never tested
 */
public record Connection(
    String stage,
    String name,
    String sort,
    String host,
    int port,
    String database,
    String path,
    String account,
    String tls,
    Map<String, String> options,
    List<String> lentTo,
    boolean hasSecret,
    @Nullable Instant secretSetAt,
    @Nullable String secretSetBy,
    @Nullable Test test,
    int revision) {

  public Connection {
    options = Map.copyOf(options);
    lentTo = lentTo.stream().sorted().distinct().toList();
  }

  /** Result of a connection test: green only when every probe is good. */
  public record Test(Instant at, boolean good, List<Probe> probes) {
    public Test {
      probes = List.copyOf(probes);
    }
  }

  /** Where it leads, in words. */
  public String leadsTo() {
    return switch (sort) {
      case "directory" -> path;
      case "host" -> (tls.equals("disable") ? "http://" : "https://") + host + ":" + port + path;
      default -> account + "@" + host + ":" + port + "/" + database + " tls=" + tls;
    };
  }

  /** A directory is reached by the service's own account. */
  public boolean needsSecret() {
    return !sort.equals("directory");
  }

  /** Whether a binding of the application may name it. */
  public boolean lentTo(String application) {
    return lentTo.contains("*") || lentTo.contains(application);
  }

  private static final Pattern HOST = Pattern.compile("[A-Za-z0-9.-]{1,253}|[0-9A-Fa-f:.]{2,45}");

  /** Segments of unreserved characters; none is empty, "." or "..". */
  private static final Pattern PATH =
      Pattern.compile("(?:/(?!\\.{1,2}(?:/|$))[A-Za-z0-9._~-]+)*/?");

  /** Whether it is a name or an address of a host, without a port. */
  public static boolean isHost(String text) {
    return HOST.matcher(text).matches();
  }

  /** Whether it is a path of an address: empty or beginning with a slash, with nothing escaped. */
  public static boolean isPath(String text) {
    return PATH.matcher(text).matches();
  }

  public String id() {
    return stage + "/" + name;
  }

  public Connection withTest(@Nullable Test test) {
    return new Connection(
        stage,
        name,
        sort,
        host,
        port,
        database,
        path,
        account,
        tls,
        options,
        lentTo,
        hasSecret,
        secretSetAt,
        secretSetBy,
        test,
        revision);
  }
}
