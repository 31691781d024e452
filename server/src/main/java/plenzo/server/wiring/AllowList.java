package plenzo.server.wiring;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.engine.setup.Destinations;

/** Destinations that the configuration file allows; link-local addresses never are. */
final class AllowList implements Destinations {
  private final List<String> allowed;
  private final List<Path> roots;

  AllowList(List<String> allowed, List<Path> roots) {
    this.allowed = List.copyOf(allowed);
    this.roots = roots.stream().map(r -> r.toAbsolutePath().normalize()).toList();
  }

  @Override
  public @Nullable String refusal(String folder) {
    Path path = Path.of(folder);
    boolean below =
        path.isAbsolute()
            && path.normalize().equals(path)
            && roots.stream().anyMatch(root -> path.startsWith(root) && !path.equals(root));
    return below
        ? null
        : "The folder "
            + folder
            + " is not allowed; an administrator lists a folder above it under plenzo.directories in the configuration file.";
  }

  @Override
  public @Nullable String refusal(String host, int port) {
    boolean listed =
        allowed.stream()
            .anyMatch(
                entry -> {
                  int colon = entry.lastIndexOf(':');
                  String pattern = colon < 0 ? entry : entry.substring(0, colon);
                  String ports = colon < 0 ? "*" : entry.substring(colon + 1);
                  String regex = Pattern.quote(pattern).replace("*", "\\E[A-Za-z0-9-]*\\Q");
                  return host.toLowerCase(java.util.Locale.ROOT).matches(regex)
                      && (ports.equals("*") || ports.equals(String.valueOf(port)));
                });
    if (!listed) {
      return "The destination "
          + host
          + ":"
          + port
          + " is not allowed; an administrator lists it under plenzo.destinations in the configuration file.";
    }
    try {
      for (InetAddress address : InetAddress.getAllByName(host)) {
        if (address.isLinkLocalAddress()
            || address.isMulticastAddress()
            || address.isAnyLocalAddress()) {
          return "The destination "
              + host
              + " leads to "
              + address.getHostAddress()
              + ", which is never allowed.";
        }
      }
    } catch (UnknownHostException e) {
      return "There is no host " + host + ".";
    }
    return null;
  }
}
