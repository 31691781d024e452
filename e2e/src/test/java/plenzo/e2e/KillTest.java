package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.locks.LockSupport;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.probe.Probe;
import plenzo.core.probe.WhenFailed;
import plenzo.core.promotion.PromotionState;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.engine.Engine;
import plenzo.engine.running.RunListener;
import plenzo.engine.setup.Applications;

/**
 * A run is killed from outside at every named point, and judged from outside: the site is wholly
 * old or wholly new, the record agrees, a writer loses nothing, no leftover stays, and a second
 * restart finds nothing to do.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class KillTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("kill");

  private Cluster cluster;
  private Relay relay;
  private Path golden;
  private String old;
  private String fresh;
  private boolean killSettling;

  @BeforeAll
  void prepare() throws Exception {
    clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    relay = started.add(new Relay(cluster.port()));
    golden = ROOT.resolve("golden");
    Files.createDirectories(golden);
    cluster.sql(
        "development",
        "SET ROLE development_change; ALTER TABLE fares.fare_band ADD COLUMN bicycle_price numeric(6,2) NOT NULL DEFAULT 0; UPDATE fares.fare_band SET bicycle_price = 3.50 WHERE code = 'FOOT';"
            + " INSERT INTO fares.concession SELECT 'C' || n, 'Concession ' || n, n % 100 FROM generate_series(1, 500) n; UPDATE fares.surcharge SET amount = 5.00 WHERE code = 'PEAK'");
    agree();
    cluster.sql("postgres", "ALTER DATABASE production RENAME TO golden");
    old = state("golden");
    restore(golden);
    assertThat(child("run").waitForEnd()).startsWith("ended done");
    fresh = state("production");
    assertThat(fresh).isNotEqualTo(old);
    copy(ROOT.resolve("case"), ROOT.resolve("golden-new"));
    cluster.sql("postgres", "ALTER DATABASE production RENAME TO golden_new");
  }

  @AfterAll
  void stop() {
    started.close();
  }

  /** Registers everything and brings a promotion to agreed, with the relay between. */
  private void agree() {
    try (EngineWorld world = new EngineWorld(golden, relay.port(), RunListener.NOBODY)) {
      List<String> picks =
          List.of(
              "table/fares.fare_band",
              "table/fares.concession",
              "table/fares.surcharge",
              "records/fares.fare_band",
              "records/fares.concession",
              "records/fares.surcharge");
      world.adopt(picks);
      world.seal("1.1.0", picks);
      assertThat(world.promotion("1.1.0").state().code()).isEqualTo("agreed");
    }
  }

  /** Of these, one is in every run of the tests: it is killed once more while that is settled. */
  @Tag("nightly")
  @ParameterizedTest(name = "forward: {0}, time {1}, {2}")
  @CsvSource({
    "COMMIT, 1, ANSWER_SWALLOWED",
    "COMMIT, 1, LATE",
    "CREATE DATABASE, 1, AFTER",
    "FROM STDIN, 4, AFTER",
    "COMMIT, 1, BEFORE",
    "COMMIT, 1, AFTER",
    "COPY (SELECT, 1, AFTER",
    "COPY (SELECT, 4, AFTER",
    "LOCK TABLE, 1, AFTER",
    "DROP DATABASE, 2, BEFORE",
    "INSERT INTO plenzo.run_mark, 1, BEFORE",
    "INSERT INTO plenzo.run_mark, 1, AFTER",
    "ADD COLUMN, 1, AFTER",
    "INSERT INTO \"fares\", 1, AFTER",
    "DROP TABLE IF EXISTS plenzo, 1, AFTER"
  })
  void isWhollyOldOrWhollyNewAfterAKill(String text, int occurrence, Relay.When when)
      throws Exception {
    kill(golden, "golden", "run", text, occurrence, when, old, fresh);
  }

  /** Whatever a rehearsal is in the middle of: the site is as it was, and no copy stays. */
  @ParameterizedTest(name = "rehearsed: {0}, time {1}, {2}")
  @CsvSource("COMMIT, 1, ANSWER_SWALLOWED")
  void isWhollyOldAfterAKillOfARehearsal(String text, int occurrence, Relay.When when)
      throws Exception {
    kill(golden, "golden", "rehearse", text, occurrence, when, old, old);
  }

  @Tag("nightly")
  @ParameterizedTest(name = "rehearsed: {0}, time {1}, {2}")
  @CsvSource({
    "CREATE DATABASE, 1, BEFORE",
    "CREATE DATABASE, 1, AFTER",
    "COPY (SELECT, 2, AFTER",
    "FROM STDIN, 2, AFTER",
    "LOCK TABLE, 1, AFTER",
    "COMMIT, 1, BEFORE",
    "COMMIT, 2, ANSWER_SWALLOWED",
    "DROP DATABASE, 2, BEFORE",
    "DROP DATABASE, 2, ANSWER_SWALLOWED"
  })
  void isWhollyOldAfterAKillAtFurtherPointsOfARehearsal(
      String text, int occurrence, Relay.When when) throws Exception {
    kill(golden, "golden", "rehearse", text, occurrence, when, old, old);
  }

  /**
   * The new version answers a question wrongly, and is gone back from by itself: killed in the
   * middle, the site is wholly old once that came through, and else wholly new.
   */
  @Tag("nightly")
  @ParameterizedTest(name = "by itself: {0}, time {1}, {2}")
  @CsvSource({
    "COMMIT, 1, ANSWER_SWALLOWED",
    "COMMIT, 2, BEFORE",
    "fares.concession x, 2, BEFORE",
    "fares.concession x, 2, ANSWER_SWALLOWED",
    "LOCK TABLE, 5, AFTER",
    "COMMIT, 2, ANSWER_SWALLOWED",
    "COMMIT, 2, LATE",
    "fares.concession x, 4, BEFORE"
  })
  void isWhollyOldOrWhollyNewAfterAKillWhileItGoesBackByItself(
      String text, int occurrence, Relay.When when) throws Exception {
    kill(wrong(), "golden", "run", text, occurrence, when, fresh, old);
  }

  /** The agreed promotion, with a question that its version answers otherwise than before. */
  private Path wrong() throws IOException {
    Path folder = ROOT.resolve("golden-wrong");
    if (Files.exists(folder)) {
      return folder;
    }
    Files.createDirectories(folder);
    copy(golden, folder);
    cluster.sql("postgres", "ALTER DATABASE golden RENAME TO production");
    Engine engine = EngineMain.open(folder);
    Person ines = EngineMain.person("ines");
    engine
        .applications()
        .change(
            ines,
            "fares",
            new Applications.Facts(
                null,
                null,
                null,
                null,
                null,
                null,
                List.of(
                    new Probe(
                        "concessions",
                        "SELECT count(*) FROM fares.concession x",
                        /* mustStay= */ true,
                        Probe.Sort.QUERY,
                        null))),
            null);
    plenzo.core.stage.Path was = engine.paths().list().get(0);
    engine
        .paths()
        .change(
            ines,
            new plenzo.core.stage.Path(
                was.key(),
                was.name(),
                was.source(),
                was.legs().stream().map(l -> l.failing(WhenFailed.BACK)).toList(),
                was.revision()));
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .until(
            () ->
                engine.promotions().list(ines, Kept.Filter.application("fares")).items().stream()
                    .allMatch(p -> p.state() == PromotionState.AGREED));
    engine.tools().keeper().close();
    cluster.sql("postgres", "ALTER DATABASE production RENAME TO golden");
    return folder;
  }

  /** The restart that asks the target is killed itself, in the middle of asking. */
  @Test
  void isWhollyNewWhenTheSettlingIsKilledToo() throws Exception {
    killSettlingToo("COMMIT", Relay.When.ANSWER_SWALLOWED);
  }

  @Tag("nightly")
  @Test
  void isWhollyOldWhenTheSettlingIsKilledToo() throws Exception {
    killSettlingToo("LOCK TABLE", Relay.When.AFTER);
  }

  private void killSettlingToo(String text, Relay.When when) throws Exception {
    killSettling = true;
    try {
      kill(golden, "golden", "run", text, 1, when, old, fresh);
    } finally {
      killSettling = false;
    }
  }

  @ParameterizedTest(name = "back: {0}, time {1}, {2}")
  @CsvSource("COMMIT, 1, ANSWER_SWALLOWED")
  void isWhollyOldOrWhollyNewAfterAKillOnTheWayBack(String text, int occurrence, Relay.When when)
      throws Exception {
    kill(ROOT.resolve("golden-new"), "golden_new", "back", text, occurrence, when, fresh, old);
  }

  @Tag("nightly")
  @ParameterizedTest(name = "back: {0}, time {1}, {2}")
  @CsvSource({"DROP COLUMN, 1, AFTER", "COMMIT, 1, LATE"})
  void isWhollyOldOrWhollyNewAfterAKillAtFurtherPointsOfTheWayBack(
      String text, int occurrence, Relay.When when) throws Exception {
    kill(ROOT.resolve("golden-new"), "golden_new", "back", text, occurrence, when, fresh, old);
  }

  /**
   * An hour's walk: it says how far it came, and {@code -Dkill.from=N} goes on there, {@code
   * -Dkill.step=N} takes every n-th message.
   */
  @Tag("nightly")
  @Test
  void survivesAKillAtEveryMessageOfARun() throws Exception {
    int step = Integer.getInteger("kill.step", 1);
    int n = Integer.getInteger("kill.from", 1);
    while (kill(golden, "golden", "run", "", n, Relay.When.AFTER, old, fresh)) {
      System.out.println("Killed at message " + n);
      n += step;
    }
    System.out.println("A run has fewer than " + n + " messages");
  }

  /**
   * @return whether the point was reached
   */
  private boolean kill(
      Path records,
      String database,
      String mode,
      String text,
      int occurrence,
      Relay.When when,
      String before,
      String after)
      throws Exception {
    cluster.sql("postgres", "ALTER DATABASE " + database + " RENAME TO production");
    boolean fired;
    String seen;
    String said;
    try (Connection keep = cluster.open("postgres")) {
      cluster.sql("postgres", "CREATE DATABASE aside TEMPLATE production");
      restoreFolder(records);
      Writer writer = new Writer(cluster);
      Child[] child = new Child[1];
      AtomicReference<Child> started = new AtomicReference<>();
      relay.arm(
          new Relay.Trigger(
              text,
              occurrence,
              when,
              () -> {
                while (started.get() == null) {
                  Thread.onSpinWait();
                }
                started.get().kill();
              }));
      child[0] = child(mode);
      started.set(child[0]);
      child[0].waitForExit();
      fired = relay.fired();
      relay.arm(null);
      if (!text.isEmpty()) {
        assertThat(fired).as("the point \"" + text + "\" was reached").isTrue();
      }
      if (killSettling) {
        killWhileItSettles();
      }
      said = child("recover").waitForEnd();
      relay.deliverLate();
      writer.stop();
      seen = state("production");
      String again = child("recover").waitForEnd();
      assertThat(again).as("a second restart finds nothing to do").isEqualTo(said);
      assertThat(writer.lost()).as("bookings that a user made meanwhile").isZero();
      assertThat(
              cluster.query(
                  "production",
                  "SELECT relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE nspname = 'plenzo' AND relname LIKE 'stage%'"))
          .as("leftovers")
          .isEmpty();
      assertThat(
              cluster.query(
                  "postgres", "SELECT datname FROM pg_database WHERE datname LIKE 'plenzo_%'"))
          .as("scratch places")
          .isEmpty();
    } finally {
      cluster.sql("postgres", "DROP DATABASE production WITH (FORCE)");
      cluster.sql("postgres", "ALTER DATABASE aside RENAME TO " + database);
    }
    boolean done = said.startsWith("ended done ");
    if (text.equals("COMMIT") && !mode.equals("rehearse")) {
      boolean arrived = when == Relay.When.AFTER || when == Relay.When.ANSWER_SWALLOWED;
      assertThat(done).as("COMMIT " + when + ": " + said).isEqualTo(arrived);
    }
    assertThat(seen).as("after " + said).isEqualTo(done ? after : before);
    assertThat(said)
        .matches(
            "ended (done|stopped, nothing changed|never began) journal \\d+|ended done journal \\d+");
    return fired;
  }

  private void killWhileItSettles() throws IOException {
    AtomicReference<Child> settling = new AtomicReference<>();
    relay.arm(
        new Relay.Trigger(
            "INSERT INTO plenzo.run_mark",
            1,
            Relay.When.AFTER,
            () -> {
              while (settling.get() == null) {
                Thread.onSpinWait();
              }
              settling.get().kill();
            }));
    settling.set(child("recover"));
    settling.get().waitForExit();
    assertThat(relay.fired()).as("the settling was reached").isTrue();
    relay.arm(null);
  }

  /** The site as plain SQL sees it. */
  private String state(String database) {
    return String.join(
            "\n",
            cluster.query(
                database,
                "SELECT column_name, data_type, is_nullable FROM information_schema.columns WHERE table_schema = 'fares' ORDER BY table_name, column_name"))
        + "\n"
        + cluster.query(database, "SELECT to_jsonb(b) FROM fares.fare_band b ORDER BY code")
        + cluster.query(database, "SELECT to_jsonb(b) FROM fares.concession b ORDER BY code")
        + cluster.query(database, "SELECT to_jsonb(b) FROM fares.surcharge b ORDER BY code");
  }

  private void restore(Path records) throws IOException {
    cluster.sql("postgres", "CREATE DATABASE production TEMPLATE golden OWNER production_change");
    restoreFolder(records);
  }

  private static void restoreFolder(Path records) throws IOException {
    clear(ROOT.resolve("case"));
    copy(records, ROOT.resolve("case"));
  }

  static void clear(Path folder) throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
  }

  static void copy(Path from, Path to) throws IOException {
    try (Stream<Path> all = Files.walk(from)) {
      for (Path p : all.toList()) {
        Files.copy(
            p, to.resolve(from.relativize(p).toString()), StandardCopyOption.REPLACE_EXISTING);
      }
    }
  }

  private static Child child(String mode) throws IOException {
    return child(ROOT.resolve("case"), mode);
  }

  /** A process of the engine over the records of a folder. */
  static Child child(Path folder, String mode) throws IOException {
    String classes =
        System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
    return new Child(
        new ProcessBuilder(
                ProcessHandle.current().info().command().orElse("java"),
                "-Xmx256m",
                "-XX:TieredStopAtLevel=1",
                "-cp",
                classes,
                EngineMain.class.getName(),
                folder.toString(),
                mode)
            .redirectErrorStream(true)
            .start());
  }

  /** A process of the engine. */
  record Child(Process process) {
    /** SIGKILL, and wait until it is gone. */
    void kill() {
      process.destroyForcibly();
      waitForExit();
    }

    void waitForExit() {
      try {
        if (!process.waitFor(180, TimeUnit.SECONDS)) {
          process.destroyForcibly();
          throw new IllegalStateException("The engine did not end in three minutes");
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }

    /** Waits for a line that begins so. */
    void waitFor(String beginning) throws IOException {
      StringBuilder all = new StringBuilder();
      BufferedReader in =
          new BufferedReader(
              new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
      for (String line = in.readLine(); line != null; line = in.readLine()) {
        all.append(line).append('\n');
        if (line.startsWith(beginning)) {
          return;
        }
      }
      throw new IllegalStateException("The engine did not say " + beginning + ":\n" + all);
    }

    /** The line that says how it ended. */
    String waitForEnd() throws IOException {
      StringBuilder all = new StringBuilder();
      @Nullable String ended = null;
      try (BufferedReader in =
          new BufferedReader(
              new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
        for (String line = in.readLine(); line != null; line = in.readLine()) {
          all.append(line).append('\n');
          ended = line.startsWith("ended ") ? line : ended;
        }
      }
      waitForExit();
      if (ended == null) {
        throw new IllegalStateException("The engine did not say how it ended:\n" + all);
      }
      return ended;
    }
  }

  /** A user who makes bookings all the time; each that was committed must be there afterwards. */
  private static final class Writer {
    private final Cluster cluster;
    private final AtomicBoolean go = new AtomicBoolean(true);
    private final AtomicLong made = new AtomicLong();
    private final Thread thread;

    Writer(Cluster cluster) {
      this.cluster = cluster;
      this.thread = new Thread(this::write);
      thread.start();
    }

    private void write() {
      try (Connection c = cluster.open("production");
          Statement s = c.createStatement()) {
        while (go.get()) {
          s.execute(
              "INSERT INTO fares.booking (passenger, band_code, price) VALUES ('writer', 'CAR', 1)");
          made.incrementAndGet();
          LockSupport.parkNanos(2_000_000); // else it takes both cores, and nothing else moves
        }
      } catch (SQLException e) {
        throw new IllegalStateException(
            "The writer was disturbed after " + made.get() + " bookings", e);
      }
    }

    void stop() throws InterruptedException {
      go.set(false);
      thread.join();
    }

    long lost() {
      return made.get()
          - Long.parseLong(
              cluster
                  .query(
                      "production", "SELECT count(*) FROM fares.booking WHERE passenger = 'writer'")
                  .get(0));
    }
  }
}
