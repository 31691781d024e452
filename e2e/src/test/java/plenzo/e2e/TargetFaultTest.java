package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.BiConsumer;
import java.util.function.UnaryOperator;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;

/**
 * What goes wrong around a run while the service lives: the target is silent, late or gone, the
 * backup is damaged, the disk is full, others write and wait, two people press start. The judge is
 * plain SQL.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class TargetFaultTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("faults");

  /** Records in which production is adopted and 1.1.0 is sealed. */
  private static final Path GOLDEN = ROOT.resolve("golden");

  private static final List<String> PICKS =
      EngineWorld.both("fare_band", "concession", "surcharge");
  private static final String EDIT =
      "ALTER TABLE fares.fare_band ADD bicycle numeric(6,2) NOT NULL DEFAULT 0; UPDATE fares.fare_band SET bicycle = 3.50 WHERE code = 'FOOT';"
          + "INSERT INTO fares.concession VALUES ('YOUTH', 'Youth', 15); UPDATE fares.surcharge SET amount = 5 WHERE code = 'PEAK'";

  private Cluster cluster;
  private Relay relay;
  private EngineWorld world;
  private Path folder;
  private int cases;
  private String old;
  private volatile BiConsumer<Run, String> listening = (run, line) -> {};

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    relay = started.add(new Relay(cluster.port()));
    cluster.sql("development", "SET ROLE development_change; " + EDIT);
    try (EngineWorld first = new EngineWorld(GOLDEN, relay.port(), RunListener.NOBODY)) {
      first.adopt(PICKS);
      first.seal("1.1.0", PICKS);
    }
    cluster.sql("postgres", "ALTER DATABASE production RENAME TO pristine");
  }

  @AfterAll
  void stop() {
    started.close();
  }

  @BeforeEach
  void world() {
    cluster.sql("postgres", "CREATE DATABASE production TEMPLATE pristine");
    cluster.sql("postgres", "ALTER DATABASE production OWNER TO production_change");
    old = state();
    open(ROOT.resolve("case-" + cases++));
  }

  private void open(Path at) {
    open(at, Duration.ofSeconds(15));
  }

  private void open(Path at, Duration beat) {
    folder = at;
    RunListener listener =
        new RunListener() {
          @Override
          public void changed(Run run) {}

          @Override
          public void said(Run run, String line) {
            listening.accept(run, line);
          }
        };
    world = EngineWorld.again(GOLDEN, folder, listener, beat);
  }

  @AfterEach
  void forget() {
    listening = (run, line) -> {};
    relay.arm(null);
    relay.release();
    relay.mend();
    world.close();
    cluster.sql("postgres", "DROP DATABASE production WITH (FORCE)");
  }

  private String state() {
    return String.valueOf(
        List.of(
            cluster.query(
                "production",
                "SELECT table_name, column_name, data_type FROM information_schema.columns WHERE table_schema = 'fares' ORDER BY 1, 2"),
            cluster.query("production", "SELECT to_jsonb(b) FROM fares.fare_band b ORDER BY code"),
            cluster.query("production", "SELECT to_jsonb(b) FROM fares.concession b ORDER BY code"),
            cluster.query(
                "production", "SELECT to_jsonb(b) FROM fares.surcharge b ORDER BY code")));
  }

  private void nothingChanged(Run run, String why) {
    assertThat(run.state().code())
        .as(String.valueOf(run.sentence()))
        .isEqualTo("stopped, nothing changed");
    assertThat(run.sentence()).contains(why);
    assertThat(state()).isEqualTo(old);
    assertThat(
            cluster.query(
                "production",
                "SELECT relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE nspname = 'plenzo' AND relname LIKE 'stage%'"))
        .isEmpty();
  }

  /** Does something in the run's own thread when it says a line. */
  private void when(String line, Runnable act) {
    AtomicBoolean done = new AtomicBoolean();
    listening =
        (run, said) -> {
          if (said.contains(line) && done.compareAndSet(false, true)) {
            act.run();
          }
        };
  }

  // --- the backup ---------------------------------------------------------------------------

  private void damage(String name, UnaryOperator<byte[]> how) {
    try (var found = Files.walk(folder)) {
      Path file = found.filter(f -> f.endsWith(name)).findFirst().orElseThrow();
      Files.write(file, how.apply(Files.readAllBytes(file)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static UnaryOperator<byte[]> damaged(String how) {
    return bytes ->
        switch (how) {
          case "one flipped byte" -> {
            bytes[bytes.length - 4] ^= 1;
            yield bytes;
          }
          case "one missing row" -> {
            String text = new String(bytes, java.nio.charset.StandardCharsets.UTF_8);
            int cut = text.lastIndexOf('\n', text.length() - 2);
            yield text.substring(0, cut + 1).getBytes(java.nio.charset.StandardCharsets.UTF_8);
          }
          default -> {
            String text = new String(bytes, java.nio.charset.StandardCharsets.UTF_8);
            int cut = text.lastIndexOf('\n', text.length() - 2);
            yield (text + text.substring(cut + 1).replaceFirst("\"", "\"Z"))
                .getBytes(java.nio.charset.StandardCharsets.UTF_8);
          }
        };
  }

  @ParameterizedTest
  @ValueSource(strings = "one flipped byte")
  void stopsBeforeAnythingChangesWhenTheBackupIsDamaged(String how) {
    backupDamaged(how);
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(strings = {"one missing row", "one row too many"})
  void stopsBeforeAnythingChangesWhenTheBackupIsDamagedAtFurtherPoints(String how) {
    backupDamaged(how);
  }

  private void backupDamaged(String how) {
    when("Step 3", () -> damage("0.csv", damaged(how)));

    nothingChanged(world.run(world.promotion("1.1.0")), "The backup is not good");
  }

  @Test
  void doesNotGoBackToABackupThatWasDamagedLater() {
    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");
    damage("0.csv", damaged("one flipped byte"));

    Rollbacks.Option way = way(Plan.Way.BACKUP);

    assertThat(way.possible()).isFalse();
    assertThat(way.why()).contains("cannot be used").contains("damaged");
    assertThat(way(Plan.Way.EARLIER_VERSION).possible()).isTrue();
  }

  // --- others at the target ------------------------------------------------------------------

  @ParameterizedTest
  @ValueSource(strings = "Step 4")
  void stopsAndNamesRowAndAttributeWhenATouchedRowMovesDuringTheRun(String step) {
    moved(step);
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(strings = {"Step 2", "Step 5"})
  void stopsAndNamesRowAndAttributeWhenATouchedRowMovesDuringTheRunAtFurtherPoints(String step) {
    moved(step);
  }

  private void moved(String step) {
    when(
        step,
        () ->
            cluster.sql(
                "production", "UPDATE fares.surcharge SET amount = 4.75 WHERE code = 'PEAK'"));
    old = old.replace("4.50", "4.75");

    nothingChanged(world.run(world.promotion("1.1.0")), "PEAK: amount");
  }

  @Test
  void givesUpOnALockWithoutKeepingReadersWaiting() throws SQLException {
    try (Connection holder = cluster.open("production");
        Statement s = holder.createStatement()) {
      holder.setAutoCommit(false);
      s.execute("SELECT * FROM fares.fare_band");
      Run run = world.start(world.promotion("1.1.0"));
      // a second reader never waits longer than the lock time-out of the run, and a bit
      try (Connection second = cluster.open("production");
          Statement reader = second.createStatement()) {
        reader.execute("SET lock_timeout = '3500ms'");
        while (!world.engine.runs().get(world.ines, run.number()).state().ended()) {
          reader.execute("SELECT count(*) FROM fares.fare_band");
        }
      }

      Run ended = world.ended(run);
      nothingChanged(ended, "fares.fare_band is held by process");
    }
  }

  @Test
  void keepsTheNextIdentityValueFreeForUsers() {
    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");

    cluster.sql(
        "production",
        "INSERT INTO fares.booking (passenger, band_code, price) VALUES ('after', 'FOOT', 1)");
    assertThat(
            cluster.query(
                "production", "SELECT count(*) FROM fares.booking WHERE passenger = 'after'"))
        .containsExactly("1");
  }

  @Test
  void refusesATargetThatAnotherServiceHasClaimed() throws SQLException {
    try (Connection other = cluster.open("production");
        Statement s = other.createStatement()) {
      s.execute("SELECT pg_advisory_lock(" + 0x506c656e7a6fL + ")");

      nothingChanged(world.run(world.promotion("1.1.0")), "Another run works on this database");
    }
  }

  @Test
  void looksAtRowsSeldomAndForgetsNothingOfThemMeanwhile() {
    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");
    cluster.sql("production", "UPDATE fares.surcharge SET amount = 9 WHERE code = 'PEAK'");

    assertThat(look(/* rows= */ false)).isZero();
    assertThat(look(/* rows= */ true)).isEqualTo(1);
    cluster.sql(
        "production",
        "SET ROLE production_change; ALTER TABLE fares.fare_band ALTER name DROP NOT NULL");
    assertThat(look(/* rows= */ false))
        .as("one row as before, one part of a structure")
        .isEqualTo(2);
    cluster.sql("production", "UPDATE fares.surcharge SET amount = 5 WHERE code = 'PEAK'");
    assertThat(look(/* rows= */ true)).isEqualTo(1);
  }

  private long look(boolean rows) {
    return world.engine.drift().look("fares", EngineMain.SITE, rows).drift();
  }

  // --- abort --------------------------------------------------------------------------------

  @ParameterizedTest
  @ValueSource(strings = "Read back: everything")
  void leavesNoTraceWhenItIsAbortedBeforeTheNoReturnLine(String at) {
    aborted(at);
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(strings = {"Step 2", "Restored and compared", "Step 4"})
  void leavesNoTraceWhenItIsAbortedBeforeTheNoReturnLineAtFurtherPoints(String at) {
    aborted(at);
  }

  private void aborted(String at) {
    when(at, () -> world.engine.runs().abort(world.ines, 1, "Not today"));

    nothingChanged(world.run(world.promotion("1.1.0")), "Aborted by ines");
    assertThat(
            cluster.query(
                "postgres", "SELECT datname FROM pg_database WHERE datname LIKE 'plenzo%'"))
        .isEmpty();
    assertThat(world.compared(1).state().code())
        .as("the promotion is open again")
        .isEqualTo("agreed");
  }

  @Test
  void cannotBeAbortedOnceCommitIsSent() {
    List<String> said = new ArrayList<>();
    when(
        "No return from here",
        () -> {
          try {
            world.engine.runs().abort(world.ines, 1, "Too late");
          } catch (Problem e) {
            said.add(e.code());
          }
        });

    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");
    assertThat(said).containsExactly("NO_RETURN");
  }

  // --- two people ----------------------------------------------------------------------------

  @Test
  void letsOneOfTwoPeopleStartTheSameRun() throws Exception {
    Promotion p = world.promotion("1.1.0");
    CyclicBarrier together = new CyclicBarrier(2);
    ExecutorService people = Executors.newFixedThreadPool(2);
    Callable<String> start =
        () -> {
          together.await();
          try {
            return "R-" + world.start(p).number();
          } catch (Problem e) {
            return e.code();
          }
        };
    List<Future<String>> both = people.invokeAll(List.of(start, start));
    people.shutdown();

    List<String> said = new ArrayList<>();
    for (Future<String> f : both) {
      said.add(f.get());
    }
    assertThat(said).containsOnlyOnce("R-1").containsAnyOf("CHANGED", "RUNNING_ALREADY");
    Run only = world.ended(world.engine.runs().get(world.ines, 1));
    assertThat(only.state().code()).isEqualTo("done");
    assertThat(world.engine.runs().list(world.ines, Kept.Filter.all()).items()).hasSize(1);
    assertThat(cluster.query("production", "SELECT count(*) FROM plenzo.run_mark"))
        .containsExactly("1");
  }

  // --- a target that is silent, late or gone -------------------------------------------------

  /** The same world with a short beat, so that a silent target is found out soon. */
  private void impatient() {
    world.close();
    open(ROOT.resolve("case-" + cases++), Duration.ofMillis(700));
  }

  @ParameterizedTest
  @ValueSource(strings = "FROM STDIN")
  void stopsWithNothingChangedWhenTheTargetFallsSilentBeforeTheSwitch(String at) {
    silentBefore(at);
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(strings = {"COPY (SELECT", "CREATE DATABASE"})
  void stopsWithNothingChangedWhenTheTargetFallsSilentBeforeTheSwitchAtFurtherPoints(String at) {
    silentBefore(at);
  }

  private void silentBefore(String at) {
    impatient();
    Promotion p = world.promotion("1.1.0");
    relay.arm(new Relay.Trigger(at, at.startsWith("COPY") ? 3 : 1, Relay.When.HELD, relay::hold));
    Run run = world.start(p);
    Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .until(() -> log(run).contains("sessions are cut"));
    relay.release();

    Run ended = recovered(run);
    nothingChanged(ended, "");
  }

  @ParameterizedTest
  @ValueSource(strings = "COMMIT")
  void saysThatItIsUnknownWhileTheTargetIsSilentInTheSwitchAndThenTheTruth(String at) {
    silentIn(at);
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(strings = "LOCK TABLE")
  void saysThatItIsUnknownWhileTheTargetIsSilentInTheSwitchAndThenTheTruthAtFurtherPoints(
      String at) {
    silentIn(at);
  }

  private void silentIn(String at) {
    impatient();
    Promotion p = world.promotion("1.1.0");
    relay.arm(new Relay.Trigger(at, 1, Relay.When.HELD, relay::hold));
    Run run = world.start(p);
    Awaitility.await()
        .atMost(Duration.ofSeconds(90))
        .until(
            () ->
                world.engine.runs().get(world.ines, run.number()).steps().get(4).state()
                    == RunStep.State.UNKNOWN);
    assertThat(world.engine.runs().get(world.ines, run.number()).state().ended()).isFalse();
    relay.release();

    Run ended = recovered(run);
    assertThat(ended.state().code()).isIn("done", "stopped, nothing changed");
    assertThat(ended.sentence()).doesNotContain("Plenzo was stopped");
    assertThat(state().equals(old)).isEqualTo(!ended.state().code().equals("done"));
  }

  @ParameterizedTest
  @CsvSource({"LOCK TABLE, BEFORE", "COMMIT, AFTER"})
  void tellsTheTruthWhenTheNetworkIsCutForSeconds(String at, Relay.When when) {
    cut(at, when, Duration.ofSeconds(3));
  }

  @Tag("nightly")
  @ParameterizedTest
  @CsvSource({
    "COPY (SELECT, BEFORE",
    "CREATE DATABASE, BEFORE",
    "FROM STDIN, BEFORE",
    "LOCK TABLE, BEFORE",
    "COMMIT, BEFORE",
    "COMMIT, AFTER"
  })
  void tellsTheTruthWhenTheNetworkIsCutForMinutes(String at, Relay.When when) {
    cut(at, when, Duration.ofMinutes(3));
  }

  /** All that time the service asks again every moment, as it does; nobody can answer. */
  private void cut(String at, Relay.When when, Duration span) {
    Promotion p = world.promotion("1.1.0");
    relay.arm(new Relay.Trigger(at, at.startsWith("COPY") ? 3 : 1, when, relay::cut));
    Run run = world.start(p);
    Awaitility.await().atMost(Duration.ofSeconds(90)).until(relay::fired);
    Instant until = Instant.now().plus(span);
    Awaitility.await()
        .atMost(span.plusSeconds(60))
        .pollInterval(Duration.ofMillis(300))
        .until(
            () -> {
              world.engine.runs().recover();
              Run now = world.engine.runs().get(world.ines, run.number());
              assertThat(now.state().code())
                  .as("what cannot be asked is not said")
                  .isNotIn("done", "failed, all put back");
              return Instant.now().isAfter(until);
            });
    relay.mend();

    Run ended = recovered(run);
    boolean arrived = when == Relay.When.AFTER;
    assertThat(ended.sentence()).doesNotContain("Plenzo was stopped");
    if (arrived) {
      assertThat(ended.state().code()).isEqualTo("done");
      assertThat(state()).isNotEqualTo(old);
    } else {
      nothingChanged(ended, "");
    }
    assertThat(world.engine.runs().recover()).as("nothing is left to do").isZero();
    assertThat(
            cluster.query(
                "postgres", "SELECT datname FROM pg_database WHERE datname LIKE 'plenzo_%'"))
        .as("nothing is left in the scratch place")
        .isEmpty();
  }

  @Test
  void endsWellWhenTheAnswerToCommitIsOnlyLate() {
    Promotion p = world.promotion("1.1.0");
    relay.arm(
        new Relay.Trigger(
            "COMMIT",
            1,
            Relay.When.AFTER_DELAY,
            () -> {
              /* nothing but the wait */
            }));
    Run ended = recovered(world.start(p));

    assertThat(ended.state().code()).isEqualTo("done");
    assertThat(state()).isNotEqualTo(old);
  }

  @Test
  void tellsTheTruthWhenTheTargetDiesInTheSwitchAndComesBack() {
    Promotion p = world.promotion("1.1.0");
    relay.arm(
        new Relay.Trigger(
            "INSERT INTO \"fares\"",
            1,
            Relay.When.BEFORE,
            () ->
                cluster.query(
                    "postgres",
                    "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name LIKE 'plenzo%'")));

    nothingChanged(recovered(world.start(p)), "");
  }

  private String log(Run run) {
    return world.engine.runs().log(world.ines, run.number());
  }

  /** What the service does every few seconds: asks again until the run has ended. */
  private Run recovered(Run run) {
    Awaitility.await()
        .atMost(Duration.ofMinutes(2))
        .pollInterval(Duration.ofMillis(300))
        .until(
            () -> {
              world.engine.runs().recover();
              return world.engine.runs().get(world.ines, run.number()).state().ended();
            });
    return world.engine.runs().get(world.ines, run.number());
  }

  // --- the disk ------------------------------------------------------------------------------

  @Test
  void writesOutcomeAndDecisionWhenTheDiskIsFull() throws Exception {
    Path small = ROOT.resolve("small");
    Files.createDirectories(small);
    Process mount =
        new ProcessBuilder("mount", "-t", "tmpfs", "-o", "size=400m", "tmpfs", small.toString())
            .redirectErrorStream(true)
            .start();
    Assumptions.assumeTrue(
        mount.waitFor() == 0, "a small disk can only be mounted by an administrator");
    try {
      world.close();
      open(small.resolve("data"));
      Promotion p = world.promotion("1.1.0");
      when(
          "Step 2",
          () -> {
            try (var out = Files.newOutputStream(small.resolve("filler"))) {
              byte[] much = new byte[1 << 16];
              while (true) {
                out.write(much);
              }
            } catch (IOException e) {
              // full: that is the point
            }
          });

      Run ended = world.run(p);

      nothingChanged(ended, "backup");
      assertThat(
              world
                  .engine
                  .history()
                  .list(world.ines, new Kept.HistoryFilter("fares", null, null, null, 0, 10))
                  .items())
          .anySatisfy(e -> assertThat(e.event()).isEqualTo("run stopped"));
    } finally {
      Files.deleteIfExists(small.resolve("filler"));
      try {
        world.close();
      } finally {
        new ProcessBuilder("umount", "-l", small.toString()).start().waitFor(20, TimeUnit.SECONDS);
        open(ROOT.resolve("case-" + cases++));
      }
    }
  }

  // --- going back ----------------------------------------------------------------------------

  private Rollbacks.Option way(Plan.Way way) {
    return world
        .engine
        .rollbacks()
        .ways(world.ines, "fares", EngineMain.SITE, Rollbacks.Wish.NONE)
        .stream()
        .filter(o -> o.way() == way)
        .findFirst()
        .orElseThrow();
  }

  @Test
  void losesExactlyWhatItShowedWhenItGoesBackByTheBackup() {
    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");
    cluster.sql(
        "production",
        "UPDATE fares.fare_band SET bicycle = 9 WHERE code = 'VAN'; UPDATE fares.concession SET percent = 11 WHERE code = 'CREW';"
            + "INSERT INTO fares.concession VALUES ('MINE', 'Mine', 1); DELETE FROM fares.surcharge WHERE code = 'STORM'");
    Rollbacks.Option way = way(Plan.Way.BACKUP);
    List<String> saved = new ArrayList<>();
    world
        .engine
        .rollbacks()
        .lost(
            world.ines, "fares", EngineMain.SITE, Plan.Way.BACKUP, Rollbacks.Wish.NONE, saved::add);

    assertThat(way.lost()).as(way.lossSentence()).isEqualTo(4);
    assertThat(saved)
        .contains("\"fares.fare_band\",\"\"\"VAN\"\"\",\"bicycle\",\"9.00\"")
        .anySatisfy(l -> assertThat(l).contains("MINE"))
        .anySatisfy(l -> assertThat(l).contains("CREW").contains("11"))
        .anySatisfy(l -> assertThat(l).contains("STORM").contains("would come back"));
    Promotion back =
        world
            .engine
            .rollbacks()
            .start(
                world.ines,
                "fares",
                EngineMain.SITE,
                Plan.Way.BACKUP,
                Rollbacks.Wish.NONE,
                "test",
                String.valueOf(way.fingerprint()));
    assertThat(world.run(back).state().code()).isEqualTo("done");
    assertThat(state()).as("what was lost is exactly what was counted").isEqualTo(old);
  }

  @Test
  void keepsWhatUsersWroteWhenItGoesBackByTheEarlierVersion() {
    assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");
    cluster.sql(
        "production",
        "UPDATE fares.fare_band SET bicycle = 9 WHERE code = 'VAN'; UPDATE fares.concession SET percent = 11 WHERE code = 'CREW'; INSERT INTO fares.concession VALUES ('MINE', 'Mine', 1)");
    Rollbacks.Option way = way(Plan.Way.EARLIER_VERSION);

    assertThat(way.lost()).as(way.lossSentence()).isEqualTo(1);
    assertThatThrownBy(
            () ->
                world
                    .engine
                    .rollbacks()
                    .start(
                        world.ines,
                        "fares",
                        EngineMain.SITE,
                        Plan.Way.EARLIER_VERSION,
                        Rollbacks.Wish.NONE,
                        " ",
                        String.valueOf(way.fingerprint())))
        .isInstanceOf(Problem.class);
    Promotion back =
        world
            .engine
            .rollbacks()
            .start(
                world.ines,
                "fares",
                EngineMain.SITE,
                Plan.Way.EARLIER_VERSION,
                Rollbacks.Wish.NONE,
                "test",
                String.valueOf(way.fingerprint()));
    assertThat(world.run(back).state().code()).isEqualTo("done");
    assertThat(
            cluster.query(
                "production",
                "SELECT percent FROM fares.concession WHERE code IN ('CREW', 'MINE', 'YOUTH') ORDER BY code"))
        .containsExactly("11", "1");
    assertThat(
            cluster.query("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'"))
        .containsExactly("4.50");
  }
}
