package plenzo.e2e;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.web.server.context.WebServerApplicationContext;
import org.springframework.context.ConfigurableApplicationContext;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.Places;
import plenzo.demo.Service;
import plenzo.demo.Teller;
import plenzo.server.PlenzoServer;

/**
 * The service with the sample databases: its jar in a process of its own with 256 MB, as people run
 * it; in this process only where a test puts something in its place.
 */
final class TestService implements AutoCloseable {
  static final String ADMIN = "first-crossing";
  static final Path JAR = Path.of("../server/target/service/plenzo-server.jar").toAbsolutePath();

  final Cluster cluster;
  final Places places;
  final Path folder;
  private final String address;
  private final Started started = new Started();

  /**
   * @param more configuration classes beside the service's own
   */
  TestService(String name, Class<?>... more) throws IOException {
    folder = Ground.of(name);
    KillTest.clear(folder);
    try {
      cluster = started.add(new Cluster(folder.resolve("postgres"), /* flushed= */ false));
      places = started.add(new Places(folder.resolve("sites"), cluster));
      address = more.length == 0 ? process() : inThisProcess(List.of(more));
    } catch (IOException | RuntimeException e) {
      started.close();
      throw e;
    }
  }

  private String process() throws IOException {
    return started
        .add(
            new Service(
                JAR,
                folder,
                freePort(),
                places.destinations(),
                places.root(),
                ADMIN,
                places.letters().port()))
        .address();
  }

  static int freePort() throws IOException {
    try (ServerSocket any = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return any.getLocalPort();
    }
  }

  private String inThisProcess(List<Class<?>> more) {
    List<Class<?>> sources = new ArrayList<>(more);
    sources.add(PlenzoServer.class);
    SpringApplication application = new SpringApplication(sources.toArray(Class<?>[]::new));
    application.setAllowBeanDefinitionOverriding(true);
    ConfigurableApplicationContext context =
        started.add(
            application.run(
                "--server.port=0",
                "--plenzo.data-directory=" + folder.resolve("data"),
                "--plenzo.key-file=" + folder.resolve("key"),
                "--plenzo.destinations=" + String.join(",", places.destinations()),
                "--plenzo.directories=" + places.root(),
                "--plenzo.password-cost=10",
                "--plenzo.admin-password=" + ADMIN,
                "--plenzo.mail.host=127.0.0.1",
                "--plenzo.mail.port=" + places.letters().port(),
                "--plenzo.mail.from=plenzo@morrowick.example",
                "--plenzo.mail.tls=none",
                "--logging.file.name=" + folder.resolve("service.log"),
                "--logging.level.root=WARN"));
    return "http://127.0.0.1:" + ((WebServerApplicationContext) context).getWebServer().getPort();
  }

  String address() {
    return address;
  }

  Teller teller(StringWriter told) {
    return new Teller(address(), new PrintWriter(told));
  }

  /** What the client printed and how it ended. */
  record Said(int code, String out, String err) {}

  /** Runs the client as whoever holds the token. */
  Said client(String token, String... command) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code =
        plenzo.cli.Plenzo.run(
            Map.of("HOME", folder.toString(), "PLENZO_SERVER", address(), "PLENZO_TOKEN", token),
            new ByteArrayInputStream("".getBytes(StandardCharsets.UTF_8)),
            new PrintWriter(out),
            new PrintWriter(err),
            command);
    return new Said(code, out.toString(), err.toString());
  }

  @Override
  public void close() {
    started.close();
  }
}
