package plenzo.server.wiring;

import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.server.PlenzoSettings;

/** What whoever starts the service reads first: where it listens, and what is set to nothing. */
final class StartNotes {
  private StartNotes() {}

  /**
   * @param address where it listens; null for every address of this machine
   * @param tls whether the service itself speaks TLS
   */
  static List<String> lines(
      PlenzoSettings settings, @Nullable InetAddress address, int port, boolean tls) {
    List<String> out = new ArrayList<>();
    String host = address == null ? "0.0.0.0" : address.getHostAddress();
    out.add(
        "Plenzo listens at "
            + (tls ? "https://" : "http://")
            + (host.contains(":") ? "[" + host + "]" : host)
            + ":"
            + port);
    if (!tls && (address == null || !address.isLoopbackAddress())) {
      out.add(
          "Passwords and tokens come there in plain: let it listen on this machine alone"
              + " (server.address: 127.0.0.1), with a proxy before it that speaks TLS.");
    }
    for (Path folder : settings.directories()) {
      if (!Files.isDirectory(folder)) {
        out.add("plenzo.directories names " + folder + ", and there is no such folder.");
      }
    }
    if (settings.destinations().isEmpty() && settings.directories().isEmpty()) {
      out.add(
          "Nothing may be reached yet: name hosts under plenzo.destinations and folders under"
              + " plenzo.directories in the configuration file.");
    }
    return out;
  }
}
