package plenzo.server.wiring;

import java.io.IOException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.engine.setup.Destinations;

/**
 * Destinations that the configuration file allows. Link-local addresses never are, this machine
 * itself only where it is listed by itself, and a folder is where its links lead.
 */
final class AllowList implements Destinations {
  private static final String ANY = "*";

  private final List<Entry> allowed;
  private final List<Path> roots;

  /** Host and port, either with "*"; a port that is left out is any. */
  private record Entry(String host, String port) {
    static Entry of(String text) {
      int colon = text.lastIndexOf(':');
      boolean bare = colon < 0 || text.endsWith("]"); // an address of version 6 has colons
      return bare
          ? new Entry(plain(text), ANY)
          : new Entry(plain(text.substring(0, colon)), text.substring(colon + 1));
    }

    boolean covers(String asked, int atPort) {
      String regex = Pattern.quote(host).replace("*", "\\E[a-z0-9-]*\\Q");
      return asked.matches(regex) && (port.equals(ANY) || port.equals(String.valueOf(atPort)));
    }

    boolean names(String asked) {
      return host.equals(asked);
    }
  }

  AllowList(List<String> allowed, List<Path> roots) {
    this.allowed = allowed.stream().map(Entry::of).toList();
    this.roots = roots.stream().map(r -> r.toAbsolutePath().normalize()).toList();
  }

  private static String plain(String host) {
    String out = host.toLowerCase(Locale.ROOT);
    return out.startsWith("[") && out.endsWith("]") ? out.substring(1, out.length() - 1) : out;
  }

  @Override
  public @Nullable String refusal(String folder) {
    Path path = Path.of(folder);
    if (!path.isAbsolute()
        || !path.normalize().equals(path)
        || !belowRoot(path, /* real= */ false)) {
      return notListed(folder, "");
    }
    try {
      Path real = real(path);
      return belowRoot(real, /* real= */ true)
          ? null
          : notListed(folder, ", which leads to " + real);
    } catch (IOException e) {
      return "The folder " + folder + " cannot be looked at: " + e.getMessage() + ".";
    }
  }

  private static String notListed(String folder, String where) {
    return "The folder "
        + folder
        + where
        + " is not allowed; an administrator lists a folder above it under plenzo.directories in the configuration file.";
  }

  private boolean belowRoot(Path path, boolean real) {
    for (Path root : roots) {
      Path at = root;
      try {
        at = real ? real(root) : root;
      } catch (IOException e) {
        continue; // a root that is not there has nothing below it
      }
      if (path.startsWith(at) && !path.equals(at)) {
        return true;
      }
    }
    return false;
  }

  /** Where it is once every link is followed; what is not there yet, below what is. */
  private static Path real(Path path) throws IOException {
    Path there = path;
    while (!java.nio.file.Files.exists(there, java.nio.file.LinkOption.NOFOLLOW_LINKS)) {
      Path above = there.getParent();
      if (above == null) {
        return path;
      }
      there = above;
    }
    return there.toRealPath().resolve(there.relativize(path)).normalize();
  }

  @Override
  public Judged judged(String host, int port) {
    String asked = plain(host);
    List<Entry> covering = allowed.stream().filter(e -> e.covers(asked, port)).toList();
    if (covering.isEmpty()) {
      return Judged.refused(
          "The destination "
              + host
              + ":"
              + port
              + " is not allowed; an administrator lists it under plenzo.destinations in the configuration file.");
    }
    try {
      List<InetAddress> addresses = List.of(InetAddress.getAllByName(asked));
      for (InetAddress address : addresses) {
        String never = never(address, asked, covering);
        if (never != null) {
          return Judged.refused(
              "The destination "
                  + host
                  + " leads to "
                  + address.getHostAddress()
                  + ", which is "
                  + never
                  + ".");
        }
      }
      return new Judged(null, addresses.stream().map(InetAddress::getHostAddress).toList());
    } catch (UnknownHostException e) {
      return Judged.refused("There is no host " + host + ".");
    }
  }

  /** A name that may be anybody's must not lead to this machine, nor to what only it can reach. */
  private static @Nullable String never(InetAddress address, String asked, List<Entry> covering) {
    if (address.isLinkLocalAddress()
        || address.isMulticastAddress()
        || address.isAnyLocalAddress()) {
      return "never allowed";
    }
    if (address.isLoopbackAddress()) {
      boolean itself = isLoopback(asked) && covering.stream().anyMatch(e -> e.names(asked));
      return itself
          ? null
          : "this machine itself: that is allowed only where localhost or its address is listed";
    }
    return null;
  }

  private static boolean isLoopback(String asked) {
    return asked.equals("localhost") || asked.startsWith("127.") || asked.equals("::1");
  }
}
