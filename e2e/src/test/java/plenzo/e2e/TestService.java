package plenzo.e2e;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.web.server.context.WebServerApplicationContext;
import org.springframework.context.ConfigurableApplicationContext;
import plenzo.demo.Cluster;
import plenzo.demo.Teller;
import plenzo.server.PlenzoServer;

/** The service in this process on a free port, with the sample databases. */
final class TestService implements AutoCloseable {
  static final String ADMIN = "first-crossing";

  final Cluster cluster;
  final Path folder;
  private final ConfigurableApplicationContext context;

  /**
   * @param more configuration classes beside the service's own
   */
  TestService(String name, Class<?>... more) throws IOException {
    folder = Path.of("target", name).toAbsolutePath();
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
    Files.createDirectories(folder);
    cluster = new Cluster(folder.resolve("postgres"), /* flushed= */ false);
    List<Class<?>> sources = new ArrayList<>(List.of(more));
    sources.add(PlenzoServer.class);
    SpringApplication application = new SpringApplication(sources.toArray(Class<?>[]::new));
    application.setAllowBeanDefinitionOverriding(true);
    context =
        application.run(
            "--server.port=0",
            "--plenzo.data-directory=" + folder.resolve("data"),
            "--plenzo.key-file=" + folder.resolve("key"),
            "--plenzo.destinations=127.0.0.1:" + cluster.port(),
            "--plenzo.admin-password=" + ADMIN,
            "--logging.file.name=" + folder.resolve("service.log"),
            "--logging.level.root=WARN");
  }

  String address() {
    return "http://127.0.0.1:" + ((WebServerApplicationContext) context).getWebServer().getPort();
  }

  Teller teller(StringWriter told) {
    return new Teller(address(), new PrintWriter(told));
  }

  /** Runs the client as whoever holds the token. */
  record Said(int code, String out, String err) {}

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
    context.close();
    cluster.close();
  }
}
