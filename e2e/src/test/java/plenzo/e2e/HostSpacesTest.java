package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.connectors.host.HostConnector;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Leftover;
import plenzo.core.target.TargetFailed;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.HostProcess;

/** Definitions are tried in a place of its own at a real host, and nobody else sees it. */
class HostSpacesTest {
  private static final Path ROOT = Ground.of("host-spaces");
  private static final ComponentKey PEAK = ComponentKey.of("rule/fares.peak");
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
    host.edit("rule", "fares.peak", rule("5"), true, "");
  }

  @AfterEach
  void stop() {
    host.close();
  }

  private String rule(String add) {
    String text =
        Json.object(
                "format",
                1,
                "kind",
                "rule",
                "name",
                "fares.peak",
                "title",
                "Peak",
                "references",
                List.of(),
                "inputs",
                List.of(),
                "definition",
                Json.object("add", add))
            .canonical();
    contents.put(ContentDigest.of(PEAK.kind(), text.getBytes(StandardCharsets.UTF_8)), text);
    return text;
  }

  private Digest digest(String add) {
    return ContentDigest.of(PEAK.kind(), rule(add).getBytes(StandardCharsets.UTF_8));
  }

  private ItemsDelta.Source source() {
    return (kind, content) ->
        new ByteArrayInputStream(
            Objects.requireNonNull(contents.get(content)).getBytes(StandardCharsets.UTF_8));
  }

  private Access access() {
    return new Access("127.0.0.1", host.port(), "", "", "", "disable", Map.of(), host.token());
  }

  private Map<ComponentKey, Digest> seen(Access at) {
    Map<ComponentKey, Digest> out = new TreeMap<>();
    try (ItemsLooking look = connector.look(at)) {
      look.inventory("fares", i -> out.put(i.key(), i.content()));
    }
    return out;
  }

  private List<Leftover> left() {
    try (ItemsLooking look = connector.look(access())) {
      return look.leftovers();
    }
  }

  @Test
  void aCopyIsWhatTheHostHasAndGoesWithoutATrace() {
    Aside copy = connector.aside(access(), 7);
    try (ItemsLooking look = connector.look(access())) {
      assertThat(look.spaces()).isTrue();
      copy.fill(look, Map.of(PEAK, digest("5")), () -> {});
    }

    assertThat(seen(copy.inside())).isEqualTo(seen(access())).containsKey(PEAK);
    assertThat(left())
        .containsExactly(new Leftover(Leftover.Sort.REHEARSAL, "rehearsal-7", 7, null));
    try (ItemsLooking inside = connector.look(copy.inside())) {
      assertThat(inside.identity()).as("nobody's yet").isEmpty();
    }

    copy.drop();
    copy.drop();
    assertThat(left()).isEmpty();
    assertThatThrownBy(() -> seen(copy.inside())).isInstanceOf(TargetFailed.class);
  }

  @Test
  void aCopyThatIsNotWhatWasReadIsRefused() {
    Aside copy = connector.aside(access(), 7);
    host.edit("rule", "fares.peak", rule("9"), true, "");
    try (ItemsLooking look = connector.look(access())) {
      assertThatThrownBy(() -> copy.fill(look, Map.of(PEAK, digest("5")), () -> {}))
          .isInstanceOf(TargetFailed.class)
          .hasMessageContaining("rule/fares.peak is not in the copy as it is at the host");
    }
  }

  @Test
  void whatWasBackedUpIsRestoredThereAndReadAgain() {
    try (ItemsChanging session = connector.change(access())) {
      assertThat(session.restoreAside(3, Map.of(PEAK, digest("5")), source(), () -> {})).isEmpty();
    }

    assertThat(left()).isEmpty();
    assertThat(seen(access())).containsEntry(PEAK, digest("5"));
  }

  @Test
  void aPlaceSurvivesTheHostAndIsClearedByName() {
    try (ItemsLooking look = connector.look(access())) {
      connector.aside(access(), 7).fill(look, Map.of(), () -> {});
    }
    host.kill();
    host.restart();
    Leftover left = left().get(0);

    try (ItemsChanging session = connector.change(access())) {
      session.clear(left);
    }

    assertThat(left()).isEmpty();
  }

  @Test
  void aHostThatMakesNoneIsAskedForNone() {
    host.simulate("spaces", "{\"on\":false}");

    try (ItemsLooking look = connector.look(access());
        ItemsChanging session = connector.change(access())) {
      assertThat(look.spaces()).isFalse();
      assertThat(look.leftovers()).isEmpty();
      session.forgetAside(3);
    }
  }
}
