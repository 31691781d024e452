package plenzo.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Where to and as whom: option, environment, the user's files. Tokens are stored per server and
 * sent only there.
 */
final class Settings {
  static final String DEFAULT_SERVER = "http://127.0.0.1:7878";

  private final Map<String, String> environment;

  Settings(Map<String, String> environment) {
    this.environment = environment;
  }

  private Path folder(String variable, String below) {
    String set = environment.get(variable);
    String home = environment.getOrDefault("HOME", System.getProperty("user.home"));
    return (set == null || set.isEmpty() ? Path.of(home, below) : Path.of(set)).resolve("plenzo");
  }

  private Path config() {
    return folder("XDG_CONFIG_HOME", ".config").resolve("config.properties");
  }

  private Path credentials() {
    return folder("XDG_CONFIG_HOME", ".config").resolve("credentials.properties");
  }

  Path state() {
    return folder("XDG_STATE_HOME", ".local/state");
  }

  /** The value and where it comes from. */
  record From(String value, String origin) {}

  /** An address as it is called: a scheme before it, nothing after it. */
  From server(@Nullable String option) {
    From asked = asked(option);
    return new From(address(asked.value()), asked.origin());
  }

  /**
   * {@code host:port} is enough. This machine is called plainly, any other by TLS: a token never
   * leaves this machine in plain unless somebody wrote {@code http://} before it.
   *
   * @throws Failed when it is no address
   */
  static String address(String given) {
    String bare = given.strip().replaceAll("(?<!:/{0,2})/+$", "");
    String scheme = bare.contains("://") ? "" : loopback(bare) ? "http://" : "https://";
    URI uri;
    try {
      uri = new URI(scheme + bare);
    } catch (URISyntaxException e) {
      throw noAddress(given);
    }
    if (uri.getHost() == null || !List.of("http", "https").contains(uri.getScheme())) {
      throw noAddress(given);
    }
    return scheme + bare;
  }

  private static boolean loopback(String address) {
    return address.matches("(localhost|127\\.[0-9.]+|\\[::1\\])(:[0-9]+)?(/.*)?");
  }

  private static Failed noAddress(String given) {
    return Failed.usage(
        "\"" + given + "\" is no address of a server.", "HOST:PORT, or https://plenzo.example");
  }

  private From asked(@Nullable String option) {
    String fromEnvironment = environment.get("PLENZO_SERVER");
    String fromFile = read(config()).getProperty("server");
    if (option != null) {
      return new From(option, "option");
    }
    if (fromEnvironment != null) {
      return new From(fromEnvironment, "environment PLENZO_SERVER");
    }
    if (fromFile != null) {
      return new From(fromFile, config().toString());
    }
    // signed in at one server alone, that one is meant
    Set<String> signedIn = read(credentials()).stringPropertyNames();
    return signedIn.size() == 1
        ? new From(signedIn.iterator().next(), credentials().toString())
        : new From(DEFAULT_SERVER, "built-in");
  }

  /**
   * @throws Failed when a file with secrets can be read by others
   */
  Optional<String> token(String server) {
    String file = environment.get("PLENZO_TOKEN_FILE");
    if (file != null) {
      closed(Path.of(file));
      try {
        return Optional.of(Files.readString(Path.of(file)).strip());
      } catch (IOException e) {
        throw new Failed(
            Failed.NOT_SIGNED_IN,
            "TOKEN_FILE",
            "The token file " + file + " cannot be read.",
            List.of("Check PLENZO_TOKEN_FILE"),
            "");
      }
    }
    String given = environment.get("PLENZO_TOKEN");
    if (given != null) {
      return Optional.of(given.strip());
    }
    if (!Files.exists(credentials())) {
      return Optional.empty();
    }
    closed(credentials());
    return Optional.ofNullable(read(credentials()).getProperty(server));
  }

  private static void closed(Path file) {
    try {
      if (Files.exists(file)) {
        Set<PosixFilePermission> mode = Files.getPosixFilePermissions(file);
        if (mode.stream()
            .anyMatch(
                p ->
                    p.name().toLowerCase(Locale.ROOT).startsWith("group")
                        || p.name().toLowerCase(Locale.ROOT).startsWith("others"))) {
          throw new Failed(
              Failed.NOT_SIGNED_IN,
              "OPEN_FILE",
              "The file " + file + " can be read by others.",
              List.of("chmod 600 " + file),
              "");
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (UnsupportedOperationException e) {
      // a file system without modes: nothing to check
    }
  }

  void remember(String server, @Nullable String token) {
    try {
      Files.createDirectories(
          credentials().getParent(),
          PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
      Properties all = read(credentials());
      if (token == null) {
        all.remove(server);
      } else {
        all.setProperty(server, token);
      }
      if (!Files.exists(credentials())) {
        Files.createFile(
            credentials(),
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      }
      try (var out = Files.newOutputStream(credentials())) {
        all.store(out, null);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The token could not be stored", e);
    }
  }

  private static Properties read(Path file) {
    Properties all = new Properties();
    if (Files.exists(file)) {
      try (var in = Files.newInputStream(file)) {
        all.load(in);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    return all;
  }
}
