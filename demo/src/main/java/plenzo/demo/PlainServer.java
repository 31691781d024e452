package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * A PostgreSQL server with its own tools, as the system's packages bring them: what people would
 * use by hand. It listens on the loopback address alone and trusts whoever is there.
 */
public final class PlainServer implements AutoCloseable {
  private final Path programs;
  private final Path folder;
  private final int port;

  public PlainServer(Path folder) throws IOException {
    this.programs = programs();
    this.folder = folder;
    try (ServerSocket any = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      this.port = any.getLocalPort();
    }
    Files.createDirectories(folder);
    if (isRoot()) {
      took(List.of("chown", "postgres", folder.toString()));
    }
    asServer("initdb", "-D", data(), "-A", "trust", "-U", "postgres", "-E", "UTF8", "--locale=C");
    asServer(
        "pg_ctl",
        "-D",
        data(),
        "-w",
        "-l",
        folder.resolve("server.log").toString(),
        "-o",
        "-p " + port + " -c listen_addresses=127.0.0.1 -c unix_socket_directories=''",
        "start");
  }

  private static Path programs() throws IOException {
    Path all = Path.of("/usr/lib/postgresql");
    if (Files.isDirectory(all)) {
      try (Stream<Path> releases = Files.list(all)) {
        Path newest =
            releases
                .map(r -> r.resolve("bin"))
                .filter(b -> Files.isExecutable(b.resolve("initdb")))
                .max(
                    Comparator.comparing(
                        b -> Integer.parseInt(b.getParent().getFileName().toString())))
                .orElse(null);
        if (newest != null) {
          return newest;
        }
      }
    }
    throw new IllegalStateException(
        "PostgreSQL and its tools stand beside Plenzo here, and are missing. Install them: sudo apt-get install -y postgresql");
  }

  /** Where its settings and data are. */
  Path database() {
    return folder.resolve("data");
  }

  private String data() {
    return database().toString();
  }

  private static boolean isRoot() {
    return System.getProperty("user.name").equals("root");
  }

  /** The server refuses to run as root. */
  private void asServer(String program, String... arguments) {
    List<String> all = new ArrayList<>();
    if (isRoot()) {
      all.addAll(List.of("runuser", "-u", "postgres", "--"));
    }
    all.add(programs.resolve(program).toString());
    all.addAll(List.of(arguments));
    took(all);
  }

  /** Runs one of the server's tools on a database, and says how long it took. */
  public Duration tool(String program, String database, String... arguments) {
    return tool(Map.of(), program, database, arguments);
  }

  /**
   * The same with variables of the environment, a session's own settings among them.
   *
   * @param environment beside what this process has
   */
  public Duration tool(
      Map<String, String> environment, String program, String database, String... arguments) {
    List<String> all = new ArrayList<>();
    all.add(programs.resolve(program).toString());
    all.addAll(
        List.of("-h", "127.0.0.1", "-p", String.valueOf(port), "-U", "postgres", "-d", database));
    all.addAll(List.of(arguments));
    Map<String, String> variables = new HashMap<>(environment);
    variables.put("PGPASSWORD", "postgres");
    return took(all, variables);
  }

  /** Runs a command to its end. */
  public static Duration took(List<String> command) {
    return took(command, Map.of());
  }

  private static Duration took(List<String> command, Map<String, String> environment) {
    long began = System.nanoTime();
    try {
      // in a file, as a server that stays would hold a pipe open
      Path said = Files.createTempFile("plenzo-figures", ".log");
      try {
        ProcessBuilder tool =
            new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(said.toFile())
                .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()));
        tool.environment().putAll(environment);
        Process p = tool.start();
        if (p.waitFor() != 0) {
          throw new IllegalStateException(
              String.join(" ", command) + " failed: " + Files.readString(said));
        }
      } finally {
        Files.delete(said);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
    return Duration.ofNanos(System.nanoTime() - began);
  }

  public int port() {
    return port;
  }

  public Connection open(String database) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + port + "/" + database, "postgres", "postgres");
  }

  public void sql(String database, String... statements) throws SQLException {
    try (Connection c = open(database);
        Statement s = c.createStatement()) {
      for (String sql : statements) {
        s.execute(sql);
      }
    }
  }

  @Override
  public void close() {
    asServer("pg_ctl", "-D", data(), "-m", "fast", "-w", "stop");
  }
}
