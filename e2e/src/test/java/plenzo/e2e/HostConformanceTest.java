package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.constructor.SafeConstructor;
import plenzo.conformance.Conformance;
import plenzo.conformance.ConformanceMain;
import plenzo.conformance.HostUnderTest;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.HostProcess;
import plenzo.hostprotocol.HostProtocol;

/** The conformance test bites, and the stand-in passes it. */
class HostConformanceTest {
  private static final Path ROOT = Ground.of("conformance");

  /** The host of the sample world in the hands of the test. */
  private record StandIn(HostProcess process) implements HostUnderTest {
    @Override
    public String address() {
      return "127.0.0.1";
    }

    @Override
    public int port() {
      return process.port();
    }

    @Override
    public String prefix() {
      return "";
    }

    @Override
    public String token() {
      return process.token();
    }

    @Override
    public boolean canBeKilled() {
      return true;
    }

    @Override
    public void kill() {
      process.kill();
    }

    @Override
    public void restart() {
      process.restart();
    }
  }

  @Test
  void theStandInHoldsEveryRule() throws IOException {
    KillTest.clear(ROOT);
    try (Cluster cluster = new Cluster(ROOT.resolve("postgres"), /* flushed= */ false);
        HostProcess process = new HostProcess(ROOT.resolve("host"), cluster, "test", "test_look")) {
      List<Conformance.Result> results =
          new Conformance(new StandIn(process), "conformance", 1000).run();

      assertThat(results)
          .filteredOn(r -> !r.rule().equals("takes no marker of another Plenzo"))
          .allMatch(Conformance.Result::holds)
          .hasSizeGreaterThan(28);
      assertThat(results)
          .as("it would stay, so none is written")
          .filteredOn(r -> r.rule().equals("takes no marker of another Plenzo"))
          .singleElement()
          .matches(r -> !r.tried());
    }
  }

  /** Answers 200 to everything, in the words of the protocol, and does nothing. */
  private static void idle(HttpExchange call) throws IOException {
    String path = call.getRequestURI().getPath();
    call.getRequestBody().readAllBytes();
    String answer =
        path.endsWith("/identity")
            ? "{\"protocol\":1,\"product\":\"Idle\",\"instance\":\"i\",\"marker\":null}"
            : path.endsWith("/inventory")
                ? "{\"components\":[]}"
                : path.endsWith("/work")
                    ? "{\"running\":[],\"people\":0,\"maintenance\":false}"
                    : path.endsWith("/v1/prepared")
                        ? "{\"runs\":[]}"
                        : path.endsWith("/prepared")
                            ? outcome(
                                call.getRequestMethod().equals("PUT") ? "prepared" : "discarded")
                            : path.endsWith("/switch")
                                ? outcome("applied")
                                : path.endsWith("/void")
                                    ? outcome("void")
                                    : path.endsWith("/undo") ? outcome("undone") : "{}";
    byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
    call.sendResponseHeaders(200, bytes.length);
    call.getResponseBody().write(bytes);
    call.close();
  }

  /** The host is known by its certificate and knows its caller by one. */
  @Tag("nightly")
  @Test
  void triesAHostThatAsksForACertificateAndSaysWhatItDoesNotDo(@TempDir Path folder)
      throws Exception {
    try (TlsHost host = new TlsHost(folder, HostConformanceTest::idle)) {
      Path client = Files.writeString(folder.resolve("client.pem"), host.client);
      Path authority = Files.writeString(folder.resolve("authority.pem"), host.authority);
      Process p =
          new ProcessBuilder(
                  ProcessHandle.current().info().command().orElse("java"),
                  "-cp",
                  System.getProperty(
                      "surefire.test.class.path", System.getProperty("java.class.path")),
                  ConformanceMain.class.getName(),
                  "--address",
                  "https://127.0.0.1:" + host.port(),
                  "--certificate",
                  client.toString(),
                  "--authority",
                  authority.toString())
              .redirectErrorStream(true)
              .start();
      String said = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);

      assertThat(p.waitFor()).as(said).isEqualTo(1);
      assertThat(said)
          .contains("holds   serves nobody without the right token or certificate")
          .contains("holds   says who it is, the same each time")
          .contains("FAILS   applies a switch in full: new, changed and gone: ")
          .contains("rules do not hold.");
    }
  }

  @Test
  void aHostThatDoesNothingFails() throws IOException {
    HttpServer idle =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
    idle.createContext("/", HostConformanceTest::idle);
    idle.start();
    try {
      List<Conformance.Result> results =
          new Conformance(
                  new HostUnderTest() {
                    @Override
                    public String address() {
                      return "127.0.0.1";
                    }

                    @Override
                    public int port() {
                      return idle.getAddress().getPort();
                    }

                    @Override
                    public String prefix() {
                      return "";
                    }

                    @Override
                    public String token() {
                      return "t";
                    }

                    @Override
                    public boolean canBeKilled() {
                      return false;
                    }

                    @Override
                    public void kill() {}

                    @Override
                    public void restart() {}
                  },
                  "conformance",
                  1)
              .run();

      Map<String, Boolean> held =
          results.stream()
              .collect(Collectors.toMap(Conformance.Result::rule, Conformance.Result::holds));
      assertThat(held)
          .containsEntry("applies a switch in full: new, changed and gone", false)
          .containsEntry("serves nobody without the right token or certificate", false)
          .containsEntry("never applies a run that was made void", false)
          .containsEntry("has applied when only the answer got lost", false)
          .containsEntry("shows maintenance", false);
      assertThat(results.stream().filter(r -> r.tried() && !r.holds()).count()).isGreaterThan(14);
    } finally {
      idle.stop(0);
    }
  }

  private static String outcome(String word) {
    return "{\"outcome\":\"" + word + "\",\"why\":null,\"details\":[]}";
  }

  /** The document and the messages that Plenzo sends name the same members. */
  @Test
  @SuppressWarnings("unchecked")
  void theDocumentNamesTheMembersOfEveryMessage() throws IOException {
    Map<String, Object> document =
        new Yaml(new SafeConstructor(new LoaderOptions()))
            .load(Files.readString(Path.of("..", "docs", "formats", "host-protocol.yaml")));
    Map<String, Object> schemas =
        (Map<String, Object>) ((Map<String, Object>) document.get("components")).get("schemas");
    Map<String, List<String>> said = new TreeMap<>();
    schemas.forEach(
        (name, schema) ->
            said.put(
                name,
                ((Map<String, Object>) ((Map<String, Object>) schema).get("properties"))
                    .keySet().stream().sorted().toList()));
    Map<String, List<String>> sent = new TreeMap<>();
    for (Class<?> type : HostProtocol.class.getDeclaredClasses()) {
      sent.put(
          type.getSimpleName(),
          Arrays.stream(type.getRecordComponents())
              .map(RecordComponent::getName)
              .sorted()
              .toList());
    }

    assertThat(said).isEqualTo(sent);
  }
}
