package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.target.Access;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.RunMark;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetContract;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/**
 * Whatever a host answers, it is understood or the host is said to have answered something that is
 * not of the protocol: never an error of Plenzo's own, and never taken for "applied". {@code
 * -Dfuzz.seed=N} repeats a run, {@code -Dfuzz.rounds=N} makes it longer.
 */
class LyingHostTest {
  private static final int ROUNDS = Integer.getInteger("fuzz.rounds", 150);
  private static final ComponentKey RULE = ComponentKey.of("rule/fares.peak");
  private static final String DOCUMENT =
      "{\\\"format\\\":1,\\\"kind\\\":\\\"rule\\\",\\\"name\\\":\\\"fares.peak\\\",\\\"title\\\":\\\"Peak\\\",\\\"references\\\":[],\\\"inputs\\\":[],\\\"definition\\\":{}}";

  /** What an honest host answers to a path that ends so. */
  private static final Map<String, String> HONEST = new TreeMap<>();

  static {
    HONEST.put(
        "/identity",
        "{\"protocol\":1,\"product\":\"Desk\",\"instance\":\"i-1\",\"marker\":{\"service\":\"s\",\"stage\":\"test\",\"site\":\"main\",\"target\":\"t\",\"since\":\"2027-01-01T00:00:00Z\"},\"release\":\"1.2.3\"}");
    HONEST.put(
        "/inventory",
        "{\"components\":[{\"kind\":\"rule\",\"name\":\"fares.peak\",\"revision\":\"r1\",\"active\":true,\"unbound\":[\"gate\"],\"visible\":null,\"changedBy\":\"ines\",\"changedAt\":\"2027-01-01T00:00:00Z\"}]}");
    HONEST.put(
        "/components/rule/fares.peak",
        "{\"kind\":\"rule\",\"name\":\"fares.peak\",\"revision\":\"r1\",\"text\":\""
            + DOCUMENT
            + "\"}");
    HONEST.put(
        "/work",
        "{\"running\":[{\"id\":\"1\",\"what\":\"Sale\",\"person\":\"Ada\",\"component\":\"rule/fares.peak\"}],\"people\":3,\"maintenance\":false}");
    HONEST.put("/probe", "{\"answer\":\"{\\\"total\\\":3}\"}");
    HONEST.put(
        "/runs",
        "{\"runs\":[{\"run\":4,\"version\":\"1.0.0\",\"fingerprint\":\"ab\",\"anchor\":null}]}");
    HONEST.put("/prepared", "{\"runs\":[5]}");
    HONEST.put("/marker", outcome("applied"));
    HONEST.put("/runs/5/prepared", outcome("prepared"));
    HONEST.put("/runs/5/switch", outcome("applied"));
    HONEST.put("/runs/5/void", outcome("void"));
    HONEST.put("/runs/5/undo", outcome("undone"));
    HONEST.put("/maintenance", "{\"on\":true,\"run\":5,\"notice\":\"\"}");
    HONEST.put("/activation", "{\"kind\":\"rule\",\"name\":\"fares.peak\",\"active\":true}");
  }

  private static String outcome(String outcome) {
    return "{\"outcome\":\"" + outcome + "\",\"why\":null,\"details\":[],\"fingerprint\":null}";
  }

  private static final ItemsDelta.Source NOTHING =
      (kind, content) -> {
        throw new AssertionError("nothing is sent");
      };

  private final long seed = Long.getLong("fuzz.seed", System.nanoTime());
  private final Random random = new Random(seed);
  private final ItemsConnector connector = new HostConnector();
  private HttpServer host;
  private volatile String lied = "";

  @BeforeEach
  void listen() throws IOException {
    host = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    host.setExecutor(Executors.newSingleThreadExecutor());
    host.createContext(
        "/",
        exchange -> {
          exchange.getRequestBody().readAllBytes();
          String path = exchange.getRequestURI().getPath().replaceFirst(".*/v1", "");
          String honest = HONEST.getOrDefault(path, "{}");
          // who it is has to be heard for anything else to be asked
          boolean lies = !path.equals("/identity") || random.nextInt(4) == 0;
          String said = lies ? lie(honest) : honest;
          lied = exchange.getRequestMethod() + " " + path + " answered " + said;
          byte[] bytes = said.getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().set("Connection", "close");
          exchange.sendResponseHeaders(200, bytes.length == 0 ? -1 : bytes.length);
          if (bytes.length > 0) {
            exchange.getResponseBody().write(bytes);
          }
          exchange.close();
        });
    host.start();
  }

  @AfterEach
  void stop() {
    host.stop(0);
    ((java.util.concurrent.ExecutorService) host.getExecutor()).shutdownNow();
  }

  /** Whole answers of another kind, members gone, null or of another type, and broken text. */
  private String lie(String honest) {
    List<String> others = List.copyOf(HONEST.values());
    switch (random.nextInt(8)) {
      case 0:
        return others.get(random.nextInt(others.size()));
      case 1:
        return List.of("", "null", "[]", "{}", "3", "\"x\"", "true", "{\"outcome\":null}")
            .get(random.nextInt(8));
      case 2:
        return swapped(honest, "null");
      case 3:
        return swapped(
            honest,
            List.of("[null]", "{}", "-1", "\"\"", "\"\\ud800\"", "1e999").get(random.nextInt(6)));
      default:
        StringBuilder out = new StringBuilder(honest);
        for (int n = 1 + random.nextInt(3); n > 0 && !out.isEmpty(); n--) {
          int at = random.nextInt(out.length());
          switch (random.nextInt(3)) {
            case 0 -> out.deleteCharAt(at);
            case 1 -> out.insert(at, (char) random.nextInt(0x250));
            default -> out.setCharAt(at, out.charAt(random.nextInt(out.length())));
          }
        }
        return out.toString();
    }
  }

  /** One value of the answer is another. */
  private String swapped(String honest, String by) {
    List<String> values =
        java.util.regex.Pattern.compile(
                "(?<=:)(\"(?:[^\"\\\\]|\\\\.)*\"|\\[[^\\[\\]]*\\]|[a-z0-9]+)")
            .matcher(honest)
            .results()
            .map(java.util.regex.MatchResult::group)
            .toList();
    return values.isEmpty() ? by : honest.replace(values.get(random.nextInt(values.size())), by);
  }

  private Access access() {
    return new Access(
        "127.0.0.1", host.getAddress().getPort(), "", "", "", "disable", Map.of(), "token");
  }

  private void understoodOrRefused(ThrowingCallable asked) {
    try {
      asked.call();
    } catch (TargetFailed | SwitchRefused e) {
      assertThat(e.getMessage()).as("seed %d: %s", seed, lied).isNotBlank();
    } catch (Throwable e) {
      throw new AssertionError("seed " + seed + ": " + lied, e);
    }
  }

  /** What is no document is refused as one of a repository would be. */
  private static void document(ItemsLooking looking) throws IOException {
    try {
      looking.read(RULE).close();
    } catch (IllegalArgumentException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  @Test
  void isUnderstoodOrSaidToSpeakAnotherLanguage() {
    TargetIdentity who = new TargetIdentity("s", "test", "main", "t", Instant.EPOCH);
    for (int n = 0; n < ROUNDS; n++) {
      understoodOrRefused(() -> connector.test(access(), Trial.of(Use.LOOKING, List.of(), who)));
      understoodOrRefused(
          () -> {
            try (ItemsLooking looking = connector.look(access())) {
              understoodOrRefused(looking::identity);
              understoodOrRefused(looking::instance);
              understoodOrRefused(looking::release);
              understoodOrRefused(() -> looking.runs(3));
              understoodOrRefused(looking::leftovers);
              understoodOrRefused(() -> looking.inventory("fares", seen -> {}));
              understoodOrRefused(() -> document(looking));
              understoodOrRefused(looking::work);
              understoodOrRefused(() -> looking.probe("{}"));
            }
          });
      ItemsChanging changing = connector.change(access());
      RunMark mark = new RunMark(5, "switch", 1, "1.1.0", "ab", "ines", null);
      ItemsDelta delta = new ItemsDelta(List.of(), Map.of(), Map.of(), NOTHING);
      understoodOrRefused(() -> changing.declare(who, ""));
      understoodOrRefused(() -> changing.prepare(5, delta, new TargetContract.Passing()));
      understoodOrRefused(() -> changing.switchOver(mark, delta, new TargetContract.Passing()));
      understoodOrRefused(() -> changing.settle(mark, List.of()));
      understoodOrRefused(() -> changing.undo(mark));
      understoodOrRefused(() -> changing.discard(5));
      understoodOrRefused(() -> changing.maintenance(true, 5, Doors.NONE, ""));
      understoodOrRefused(() -> changing.activation(RULE, true));
      understoodOrRefused(() -> changing.refresh(5));
      understoodOrRefused(() -> changing.announce("soon", Instant.EPOCH));
      changing.close();
    }
  }
}
