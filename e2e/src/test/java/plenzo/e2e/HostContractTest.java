package plenzo.e2e;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import plenzo.connectors.host.HostConnector;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.target.Access;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.TargetContract;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.HostProcess;

/** An application host, reached by its protocol, keeps what every target promises. */
class HostContractTest extends TargetContract {
  private static final Path ROOT = Ground.of("host-contract");
  private static final ComponentKey KEY = ComponentKey.of("rule/fares.peak-crossing");

  private static final Started ONCE = new Started();
  private static Cluster cluster;

  private final HostConnector connector = new HostConnector();
  private final Map<Digest, String> contents = new HashMap<>();
  private HostProcess host;

  @BeforeAll
  static void startDatabases() throws IOException {
    KillTest.clear(ROOT);
    cluster = ONCE.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
  }

  @AfterAll
  static void stopDatabases() {
    ONCE.close();
  }

  @BeforeEach
  void start() throws IOException {
    KillTest.clear(ROOT.resolve("host"));
    host = new HostProcess(ROOT.resolve("host"), cluster, "test", "test_look");
    write(OLD);
  }

  @AfterEach
  void stop() {
    if (host != null) {
      host.close();
    }
  }

  private static String rule(String amount) {
    return Json.object(
            "format",
            1,
            "kind",
            "rule",
            "name",
            "fares.peak-crossing",
            "title",
            "Peak",
            "references",
            List.of(),
            "inputs",
            List.of(),
            "definition",
            Json.object("when", "peak", "add", amount))
        .canonical();
  }

  @Override
  protected Connector connector() {
    return connector;
  }

  @Override
  protected Access looking() {
    return changing();
  }

  @Override
  protected Access changing() {
    return new Access("127.0.0.1", host.port(), "", "", "", "disable", Map.of(), host.token());
  }

  @Override
  protected Delta to(String value) {
    Digest next = ContentDigest.of(KEY.kind(), rule(value).getBytes(StandardCharsets.UTF_8));
    contents.put(next, rule(value));
    String[] seal = {null};
    Digest[] present = {null};
    try (ItemsLooking look = connector.look(looking())) {
      look.inventory(
          "fares",
          seen -> {
            if (seen.key().equals(KEY)) {
              seal[0] = seen.seal();
              present[0] = seen.content();
            }
          });
    }
    return new ItemsDelta(
        List.of(
            new ItemsDelta.Change(
                KEY, Difference.CHANGED, present[0], seal[0], next, rule(value).length(), false)),
        Map.of(),
        Map.of(),
        (kind, digest) ->
            new ByteArrayInputStream(
                Objects.requireNonNull(contents.get(digest)).getBytes(StandardCharsets.UTF_8)));
  }

  @Override
  protected String held() {
    try (ItemsLooking look = connector.look(looking());
        InputStream in = look.read(KEY)) {
      Json.Obj document =
          (Json.Obj) Json.parse(new String(in.readAllBytes(), StandardCharsets.UTF_8));
      return ((Json.Obj) Objects.requireNonNull(document.find("definition"))).text("add");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  @Override
  protected void write(String value) {
    host.edit("rule", "fares.peak-crossing", rule(value), true, "");
  }
}
