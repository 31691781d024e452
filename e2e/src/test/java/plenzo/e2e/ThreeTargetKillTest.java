package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.FareDesk;
import plenzo.engine.running.RunListener;

/**
 * The engine is killed from outside while it changes a directory, an application host and a
 * database in one run. The judge reads all three by itself: wholly old or wholly new, never
 * between, and open to everybody again.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class ThreeTargetKillTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("three-targets");
  private static final Path CASE = ROOT.resolve("case");
  private static final Path SITES = ROOT.resolve("sites");

  private Cluster cluster;
  private ThreeTargets targets;
  private Relay database;
  private Relay host;
  private String old;
  private String fresh;

  @BeforeAll
  void start() throws Exception {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    database = started.add(new Relay(cluster.port()));
    targets = started.add(new ThreeTargets(SITES, cluster));
    host = started.add(new Relay(targets.host("production").port()));
    try (EngineWorld world = new EngineWorld(CASE, database.port(), RunListener.NOBODY)) {
      targets.register(world, host.port());
      List<String> all = new ArrayList<>(EngineWorld.both("concession"));
      all.addAll(ThreeTargets.PIECES);
      world.adopt(all);
      ThreeTargets.bind(world);
      cluster.sql("development", "INSERT INTO fares.concession VALUES ('YOUTH', 'Youth', 15)");
      FareDesk.write(targets.published("development"), "fares/conditions.txt", "New conditions\n");
      FareDesk.write(targets.published("development"), "fares/summer/poster.txt", "Summer!\n");
      targets
          .host("development")
          .edit("rule", "fares.night-crossing", FareDesk.night("1.15"), true, "");
      all.add("file/fares/summer/poster.txt");
      world.seal("1.1.0", all);
      assertThat(world.promotion("1.1.0").state().code()).isEqualTo("agreed");
    }
    keep("golden");
    old = state();
    assertThat(child("run")).startsWith("ended done");
    fresh = state();
    assertThat(fresh).isNotEqualTo(old).contains("13.80").contains("New conditions");
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** Puts records, database, directory and host aside as they are. */
  private void keep(String name) throws IOException {
    Path to = ROOT.resolve(name);
    targets.host("production").kill();
    copy(CASE, to.resolve("case"));
    copy(SITES.resolve("production"), to.resolve("production"));
    copy(SITES.resolve("host-production/state"), to.resolve("state"));
    targets.host("production").restart();
    cluster.sql("postgres", "CREATE DATABASE golden TEMPLATE production");
  }

  private void restore() throws IOException {
    Path from = ROOT.resolve("golden");
    targets.host("production").kill();
    for (String place : List.of("case", "production", "state")) {
      Path to =
          place.equals("case")
              ? CASE
              : place.equals("state")
                  ? SITES.resolve("host-production/state")
                  : SITES.resolve("production");
      KillTest.clear(to);
      copy(from.resolve(place), to);
    }
    targets.host("production").restart();
    cluster.sql("postgres", "DROP DATABASE production WITH (FORCE)");
    cluster.sql("postgres", "CREATE DATABASE production TEMPLATE golden OWNER production_change");
  }

  private static void copy(Path from, Path to) throws IOException {
    try (Stream<Path> all = Files.walk(from)) {
      for (Path p : all.toList()) {
        Path place = to.resolve(from.relativize(p).toString());
        if (Files.isDirectory(p, LinkOption.NOFOLLOW_LINKS)) {
          Files.createDirectories(place);
        } else {
          Files.copy(p, place, LinkOption.NOFOLLOW_LINKS);
        }
      }
    }
  }

  /** All three targets as somebody else sees them. */
  private String state() {
    TreeMap<String, String> files = new TreeMap<>();
    try {
      Path root = targets.published("production").toRealPath();
      try (Stream<Path> all = Files.walk(root)) {
        for (Path p : all.filter(Files::isRegularFile).toList()) {
          files.put(root.relativize(p).toString(), Files.readString(p));
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return files
        + "\n"
        + targets.host("production").post("/quote", FareDesk.QUESTION)
        + "\n"
        + cluster.query("production", "SELECT to_jsonb(c) FROM fares.concession c ORDER BY code");
  }

  @Tag("nightly")
  @ParameterizedTest(name = "{0}: {1}, time {2}, {3}")
  @CsvSource({
    "host, \"fingerprint\", 1, LATE",
    "host, \"fingerprint\", 1, BEFORE",
    "host, \"fingerprint\", 1, ANSWER_SWALLOWED",
    "host, /prepared, 1, BEFORE",
    "host, \"changes\", 1, ANSWER_SWALLOWED",
    "host, \"notice\", 1, AFTER",
    "host, \"notice\", 2, BEFORE",
    "database, INSERT INTO plenzo.run_mark, 1, BEFORE",
    "database, LOCK TABLE, 1, AFTER",
    "database, COMMIT, 1, BEFORE",
    "database, COMMIT, 1, LATE",
    "database, COMMIT, 1, ANSWER_SWALLOWED",
    "host, \"notice\", 2, ANSWER_SWALLOWED"
  })
  void isWhollyOldOrWhollyNew(String where, String text, int occurrence, Relay.When when)
      throws Exception {
    killed(where, text, occurrence, when, "");
  }

  /** What is being switched back is killed too, before and after it arrived. */
  @ParameterizedTest(name = "settling: {0}, {1}")
  @CsvSource("/undo, ANSWER_SWALLOWED")
  void isWhollyOldOrWhollyNewWhenGoingBackIsKilledToo(String text, Relay.When when)
      throws Exception {
    killed("database", "COMMIT", 1, Relay.When.BEFORE, text + " " + when);
  }

  @Tag("nightly")
  @Test
  void isWhollyOldWhenTheVoidingIsKilledToo() throws Exception {
    killed("database", "COMMIT", 1, Relay.When.BEFORE, "/void AFTER");
  }

  @Tag("nightly")
  @Test
  void isWhollyOldWhenGoingBackIsKilledAndArrivesLate() throws Exception {
    killed("database", "COMMIT", 1, Relay.When.BEFORE, "/undo LATE");
  }

  private void killed(String where, String text, int occurrence, Relay.When when, String settling)
      throws Exception {
    restore();
    Relay relay = where.equals("host") ? host : database;
    kill(relay, text, occurrence, when, "run");
    if (!settling.isEmpty()) {
      String[] at = settling.split(" ");
      kill(host, at[0], 1, Relay.When.valueOf(at[1]), "recover");
    }

    String said = child("recover");
    relay.deliverLate();
    host.deliverLate();

    String seen = state();
    assertThat(child("recover")).as("a second restart finds nothing to do").isEqualTo(said);
    boolean done = said.startsWith("ended done");
    assertThat(said)
        .matches("ended (done|stopped, nothing changed|failed, all put back) journal \\d+");
    assertThat(seen).as("after " + said).isEqualTo(done ? fresh : old);
    if (text.equals("COMMIT")) {
      assertThat(done).as(said).isEqualTo(when == Relay.When.ANSWER_SWALLOWED);
    }
    assertThat(seen).as("open to everybody again").contains("\"amount\"");
    try (Stream<Path> trees = Files.list(SITES.resolve("production/published.plenzo/trees"))) {
      assertThat(trees.count()).as("trees that are left").isEqualTo(1);
    }
    assertThat(Files.readString(SITES.resolve("host-production/state/state.json")))
        .doesNotContain("\"phase\":\"prepared\"");
  }

  private void kill(Relay relay, String text, int occurrence, Relay.When when, String mode)
      throws IOException {
    AtomicReference<Process> victim = new AtomicReference<>();
    relay.arm(
        new Relay.Trigger(
            text,
            occurrence,
            when,
            () -> {
              while (victim.get() == null) {
                Thread.onSpinWait();
              }
              victim.get().destroyForcibly();
              await(victim.get());
            }));
    victim.set(begin(mode));
    await(victim.get());
    assertThat(relay.fired()).as("the point \"" + text + "\" was reached").isTrue();
    relay.arm(null);
  }

  private static void await(Process process) {
    try {
      if (!process.waitFor(3, TimeUnit.MINUTES)) {
        process.destroyForcibly();
        throw new IllegalStateException("The engine did not end in three minutes");
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static Process begin(String mode) throws IOException {
    return new ProcessBuilder(
            ProcessHandle.current().info().command().orElse("java"),
            "-Xmx256m",
            "-XX:TieredStopAtLevel=1",
            "-cp",
            System.getProperty("surefire.test.class.path", System.getProperty("java.class.path")),
            EngineMain.class.getName(),
            CASE.toString(),
            mode)
        .redirectErrorStream(true)
        .start();
  }

  /** The line that says how it ended. */
  private static String child(String mode) throws IOException {
    Process process = begin(mode);
    StringBuilder all = new StringBuilder();
    String ended = "";
    try (BufferedReader in =
        new BufferedReader(
            new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
      for (String line = in.readLine(); line != null; line = in.readLine()) {
        all.append(line).append('\n');
        ended = line.startsWith("ended ") ? line : ended;
      }
    }
    await(process);
    assertThat(ended).as(all.toString()).isNotEmpty();
    return ended;
  }
}
