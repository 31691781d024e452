package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.Places;
import plenzo.demo.Service;
import plenzo.demo.Teller;
import plenzo.demo.World;

/**
 * The service as people run it, its jar in 256 MB, is killed in the middle of runs; started again
 * by nobody's help but its own, it finds out the truth and ends them.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class JarKillTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("jar-kill");

  private Cluster cluster;
  private Places places;
  private Relay relay;
  private Service service;
  private int port;
  private Teller teller;

  private int minor;
  private String number = "";

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    relay = started.add(new Relay(cluster.port()));
    port = TestService.freePort();
    places = started.add(new Places(ROOT.resolve("sites"), cluster));
    service = started.add(start(port));
    teller = new Teller(service.address(), new PrintWriter(new StringWriter()));
    World.setUp(teller, places, relay.port(), TestService.ADMIN);
    Surcharges.adopt(teller);
  }

  private Service start(int at) {
    List<String> reached = new ArrayList<>(places.destinations());
    reached.add("127.0.0.1:" + relay.port());
    return new Service(
        TestService.JAR, ROOT, at, reached, places.root(), TestService.ADMIN, /* mailPort= */ 0);
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** The next version, whichever test comes first. */
  private String prepared(String amount) {
    number = "1." + ++minor + ".0";
    cluster.sql(
        "development", "UPDATE fares.surcharge SET amount = " + amount + " WHERE code = 'PEAK'");
    String draft = teller.run("ines", 0, "draft", "new", "fares").number("D");
    teller.run(
        "ines", 0, "draft", "add", draft, "records/fares.surcharge", "--site", "development");
    teller.run("ines", 0, "draft", "check", draft);
    teller.run("ines", 0, "draft", "seal", draft, "--number", number, "--title", "Peak " + amount);
    return teller
        .run("ines", 0, "promotion", "prepare", "fares@" + number, "--to", "test")
        .number("P");
  }

  /** Kills the service at a point of a run, starts it again, and waits for the run's end. */
  private String killed(String promotion, String at, Relay.When when) throws IOException {
    AtomicReference<Service> victim = new AtomicReference<>(service);
    relay.arm(new Relay.Trigger(at, 1, when, () -> victim.get().kill()));
    String run = teller.run("ines", 0, "run", "start", promotion).number("R");
    Awaitility.await().atMost(Duration.ofMinutes(1)).until(() -> !victim.get().alive());
    service = started.add(start(port));
    String ended =
        Awaitility.await()
            .atMost(Duration.ofMinutes(1))
            .until(
                () -> teller.run("ines", 0, "run", "show", run).out(),
                shown -> !shown.matches("(?s).*State +\\S+ (running|queued)\\R.*"));
    return ended
        + "\nLog\n"
        + teller.run("ines", 0, "run", "log", run).out()
        + "\nSwallowed: "
        + relay.swallowed();
  }

  private List<String> peak() {
    return cluster.query("test", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'");
  }

  @Test
  void endsARunThatWasKilledAfterCommit() throws IOException {
    assertThat(killed(prepared("6.00"), "COMMIT", Relay.When.ANSWER_SWALLOWED))
        .contains(number + " is at test/main");
    assertThat(peak()).containsExactly("6.00");

    assertThat(teller.run("odile", 0, "history", "verify").out()).contains("unbroken");
  }

  @Tag("nightly")
  @Test
  void endsARunThatWasKilledBeforeCommit() throws IOException {
    List<String> before = peak();

    assertThat(killed(prepared("5.00"), "LOCK TABLE", Relay.When.AFTER))
        .contains("stopped, nothing changed");
    assertThat(peak()).isEqualTo(before);
  }
}
