package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.conformance.Conformance;
import plenzo.conformance.HostUnderTest;

/**
 * The example host of the documents passes the conformance test, and each host that is the same but
 * for one mistake fails it.
 */
class BrokenHostsTest {
  private static final Path EXAMPLE = Path.of("../docs/examples/ExampleHost.java");
  private static final String TOKEN = "of-the-example";

  @TempDir Path folder;

  private String source = "";

  @BeforeEach
  void read() throws IOException {
    source = Files.readString(EXAMPLE);
  }

  /** The example, compiled and running in this process; a kill keeps what is on its disk alone. */
  private final class Example implements HostUnderTest, AutoCloseable {
    private final Class<?> type;
    private final int port = TestService.freePort();
    private AutoCloseable running;

    Example(String name) throws Exception {
      Path java = Files.createDirectories(folder.resolve(name)).resolve("ExampleHost.java");
      Files.writeString(java, source);
      int code =
          ToolProvider.getSystemJavaCompiler()
              .run(
                  null,
                  null,
                  null,
                  "-proc:none",
                  "-cp",
                  System.getProperty(
                      "surefire.test.class.path", System.getProperty("java.class.path")),
                  "-d",
                  java.getParent().toString(),
                  java.toString());
      assertThat(code).as("it compiles").isZero();
      type =
          new java.net.URLClassLoader(
                  new java.net.URL[] {java.getParent().toUri().toURL()},
                  BrokenHostsTest.class.getClassLoader())
              .loadClass("ExampleHost");
      running = start();
    }

    private AutoCloseable start() {
      try {
        return (AutoCloseable)
            type.getConstructor(int.class, Path.class, String.class)
                .newInstance(port, folder.resolve("state.json"), TOKEN);
      } catch (ReflectiveOperationException e) {
        throw new IllegalStateException(e);
      }
    }

    @Override
    public String address() {
      return "127.0.0.1";
    }

    @Override
    public int port() {
      return port;
    }

    @Override
    public String prefix() {
      return "";
    }

    @Override
    public String token() {
      return TOKEN;
    }

    @Override
    public boolean canBeKilled() {
      return true;
    }

    @Override
    public void kill() {
      close();
    }

    @Override
    public void restart() {
      close();
      running = start();
    }

    @Override
    public void close() {
      try {
        running.close();
      } catch (Exception e) {
        throw new IllegalStateException(e);
      }
    }
  }

  /** Adopted by a Plenzo before, as a host of a test stage is. */
  private List<Conformance.Result> tried(String name) throws Exception {
    try (Example host = new Example(name)) {
      HttpResponse<String> marked =
          HttpClient.newHttpClient()
              .send(
                  HttpRequest.newBuilder(
                          URI.create("http://127.0.0.1:" + host.port() + "/plenzo-host/v1/marker"))
                      .header("Authorization", "Bearer " + TOKEN)
                      .PUT(
                          HttpRequest.BodyPublishers.ofString(
                              "{\"service\":\"s\",\"stage\":\"test\",\"site\":\"main\",\"target\":\"host\",\"since\":\"2027-01-01T00:00:00Z\"}"))
                      .build(),
                  HttpResponse.BodyHandlers.ofString());
      assertThat(marked.statusCode()).isEqualTo(200);
      return new Conformance(host, "conformance", 1000).run();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Test
  void theExampleHoldsEveryRule() throws Exception {
    assertThat(tried("whole")).allMatch(Conformance.Result::holds).hasSizeGreaterThan(30);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          another's marker is taken      | if (!same) return refused("other", List.of()); | | takes no marker of another Plenzo
          scope without the dot          | startsWith(scope + ".")           | startsWith(scope)                         | lists only what begins with the scope and a dot
          a revision again after undo    | put("revision", "r" + state.get("revision").asLong()) | put("revision", "r" + text.hashCode()) | uses no revision a second time, after switching back neither
          discard after applied          | if (!List.of("", "prepared", "discarded").contains(text(run, "phase"))) return outcome(text(run, "phase"), run); | | keeps what was applied when it is discarded
          404 as 200                     | super(message); this.status = status; | super(message); this.status = status == 404 ? 200 : status; | says 404 of what is not there
          any question is answered       | catch (JacksonException e) { throw new Trouble(422, "A question is JSON"); } | catch (JacksonException e) { return Map.of("answer", "true"); } | refuses a question that is none, and changes nothing by one
          a question writes              | if (!asked.has("active")) throw   | components().keySet().forEach(k -> component(k).put("active", true)); if (!asked.has("active")) throw | refuses a question that is none, and changes nothing by one
          values shown in work           | "running", List.of(), "people"    | "running", List.of(Map.of("id", "1", "what", state.get("inputs").toString(), "person", "", "component", "")), "people" | shows no value of an input anywhere
          text re-formatted              | "text", text(c, "text"));         | "text", JSON.readTree(text(c, "text")).toString()); | gives texts back character by character
          nothing kept on disk           | void save() throws IOException {  | void save() throws IOException { if (true) return; | remembers its runs after a restart
          """)
  void aHostWithOneMistakeFails(String mistake, String right, String wrong, String rule)
      throws Exception {
    String a = right.replace("\\|", "|");
    assertThat(source).as("the example still has what is broken here").contains(a);
    source = source.replace(a, wrong == null ? "" : wrong.replace("\\|", "|"));

    assertThat(tried("broken"))
        .as(mistake)
        .filteredOn(r -> r.tried() && !r.holds())
        .extracting(Conformance.Result::rule)
        .contains(rule);
  }
}
