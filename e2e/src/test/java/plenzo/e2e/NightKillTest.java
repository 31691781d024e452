package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.manual.ManualStep;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Waves;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Doors;
import plenzo.core.testing.Ground;
import plenzo.core.version.SemVer;
import plenzo.demo.Cluster;
import plenzo.engine.Engine;
import plenzo.engine.running.RunListener;
import plenzo.engine.waves.InWaves;

/**
 * A night is killed from outside: one version to two sites in two waves, an account kept out of the
 * first site's database meanwhile, and work by hand before anybody is let in. Judged from outside:
 * each site is wholly old or wholly new, the second only where the first came through, whoever was
 * kept out is in again, nothing is left behind, and a second restart finds nothing to do.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class NightKillTest {
  private static final Path ROOT = Ground.of("night-kill");
  private static final SiteKey SOUTH = new SiteKey("production", "south");
  private static final List<String> PICKS =
      List.of("table/fares.surcharge", "records/fares.surcharge");
  private static final Map<String, String> SITES = Map.of("main", "production", "south", "south");

  private final Started started = new Started();
  private Cluster cluster;
  private Relay relay;
  private Path golden;
  private String old;

  @BeforeAll
  void prepare() throws Exception {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    relay = started.add(new Relay(cluster.port()));
    golden = ROOT.resolve("golden");
    Files.createDirectories(golden);
    cluster.sql("postgres", "CREATE ROLE desk LOGIN PASSWORD 'x'");
    cluster.sql("postgres", "REVOKE CONNECT ON DATABASE production FROM PUBLIC");
    cluster.sql(
        "postgres",
        "SET ROLE production_change; GRANT CONNECT ON DATABASE production TO production_look, desk");
    cluster.sql(
        "development",
        "SET ROLE development_change; UPDATE fares.surcharge SET amount = 5.00 WHERE code = 'PEAK'");
    old = state("production");
    assertThat(state("south")).isEqualTo(old);
    agree();
    for (String database : SITES.values()) {
      cluster.sql("postgres", "ALTER DATABASE " + database + " RENAME TO golden_" + database);
    }
  }

  @AfterAll
  void stop() {
    started.close();
  }

  private void connection(Engine engine, EngineWorld world, String name, String database) {
    engine
        .connections()
        .save(
            world.ines,
            new Connection(
                "production",
                name,
                "postgresql",
                "127.0.0.1",
                relay.port(),
                database,
                "",
                name.replace('-', '_'),
                "disable",
                Map.of(),
                List.of(),
                false,
                null,
                null,
                null,
                0),
            Cluster.PASSWORD);
  }

  /** Two sites, what a night asks of its leg, and waves that are agreed. */
  private void agree() {
    try (EngineWorld world = new EngineWorld(golden, relay.port(), RunListener.NOBODY)) {
      Engine engine = world.engine;
      connection(engine, world, "south-look", "south");
      connection(engine, world, "south-change", "south");
      engine
          .stages()
          .newSite(
              world.ines,
              "production",
              new Stage.Site(
                  "south",
                  List.of(
                      new Stage.Target(
                          null,
                          "database",
                          "postgresql",
                          List.of("fares"),
                          "south-look",
                          "south-change",
                          "scratch"))));
      Stage.Target main =
          engine.stages().get(world.ines, "production").site("main").orElseThrow().targets().get(0);
      engine
          .stages()
          .changeSite(
              world.ines,
              "production",
              new Stage.Site(
                  "main",
                  List.of(
                      new Stage.Target(
                          main.id(),
                          main.key(),
                          main.sort(),
                          main.schemas(),
                          main.looking(),
                          main.changing(),
                          main.scratch(),
                          new Doors(List.of("desk"), false)))));
      engine.connections().testSite(world.ines, SOUTH);
      plenzo.core.stage.Path was = engine.paths().list().get(0);
      engine
          .paths()
          .change(
              world.ines,
              new plenzo.core.stage.Path(
                  was.key(),
                  was.name(),
                  was.source(),
                  List.of(
                      Leg.open("production")
                          .proven(true)
                          .by(
                              List.of(
                                  new ManualStep(
                                      ManualStep.When.SWITCHED,
                                      "",
                                      "Tell the desk",
                                      "",
                                      0,
                                      false,
                                      false)))),
                  was.revision()));
      world.adopt(PICKS);
      engine.adoption().match(world.ines, "fares", SOUTH, new SemVer("1.0.0"));
      world.seal("1.1.0", PICKS);
      InWaves.Standing waves =
          engine
              .waves()
              .prepare(
                  world.ines,
                  new InWaves.Asked(
                      "fares",
                      new SemVer("1.1.0"),
                      "production",
                      null,
                      List.of(List.of(EngineMain.SITE), List.of(SOUTH)),
                      new Waves.Rules(Waves.Between.GO_ON, 0, 0),
                      ""));
      waves.parts().forEach(p -> world.compared(p.number()));
      Awaitility.await()
          .until(
              () ->
                  engine.waves().standing(world.ines, waves.waves().number()).parts().stream()
                      .allMatch(p -> p.state() == PromotionState.AGREED));
    }
  }

  @Tag("nightly")
  @ParameterizedTest(name = "{0}, time {1}, {2}")
  @CsvSource({
    "REVOKE CONNECT, 1, BEFORE",
    "REVOKE CONNECT, 1, ANSWER_SWALLOWED",
    "INSERT INTO plenzo.door, 1, AFTER",
    "INSERT INTO plenzo.run_mark, 1, BEFORE",
    "INSERT INTO plenzo.run_mark, 1, AFTER",
    "DELETE FROM plenzo.door, 1, BEFORE",
    "GRANT CONNECT, 1, BEFORE",
    "GRANT CONNECT, 1, ANSWER_SWALLOWED",
    "CREATE DATABASE, 2, AFTER",
    "LOCK TABLE, 2, AFTER",
    "INSERT INTO plenzo.run_mark, 2, AFTER",
    "INSERT INTO plenzo.run_mark, 2, ANSWER_SWALLOWED"
  })
  void everySiteIsWhollyOldOrWhollyNewAfterAKill(String text, int occurrence, Relay.When when)
      throws Exception {
    kill(text, occurrence, when);
  }

  /** Killed while it waits for people, with users out: it waits on, and comes to its end. */
  @Test
  void aRunThatWaitsForPeopleWaitsOnAfterAKill() throws Exception {
    String said =
        inCase(
            () -> {
              KillTest.Child child = KillTest.child(ROOT.resolve("case"), "night-paused");
              child.waitFor("paused");
              assertThat(deskMayComeIn()).as("while it waits").isFalse();
              child.kill();
            });

    assertThat(said).startsWith("ended main=1.1.0 south=1.1.0 waves=done runs=done|done");
  }

  private void kill(String text, int occurrence, Relay.When when) throws Exception {
    inCase(
        () -> {
          AtomicReference<KillTest.Child> running = new AtomicReference<>();
          relay.arm(
              new Relay.Trigger(
                  text,
                  occurrence,
                  when,
                  () -> {
                    while (running.get() == null) {
                      Thread.onSpinWait();
                    }
                    running.get().kill();
                  }));
          running.set(KillTest.child(ROOT.resolve("case"), "night"));
          running.get().waitForExit();
          assertThat(relay.fired()).as("the point was reached").isTrue();
          relay.arm(null);
        });
  }

  private interface Killing {
    void run() throws Exception;
  }

  /** Copies of both sites and of the records; afterwards everything is judged. */
  private String inCase(Killing killing) throws Exception {
    for (String database : SITES.values()) {
      cluster.sql("postgres", "ALTER DATABASE golden_" + database + " RENAME TO " + database);
      cluster.sql("postgres", "CREATE DATABASE aside_" + database + " TEMPLATE " + database);
    }
    KillTest.clear(ROOT.resolve("case"));
    KillTest.copy(golden, ROOT.resolve("case"));
    try {
      killing.run();
      String said = KillTest.child(ROOT.resolve("case"), "night-recover").waitForEnd();
      String again = KillTest.child(ROOT.resolve("case"), "night-recover").waitForEnd();
      assertThat(again).as("a second restart finds nothing to do").isEqualTo(said);
      judge(said);
      return said;
    } finally {
      for (String database : SITES.values()) {
        cluster.sql("postgres", "DROP DATABASE " + database + " WITH (FORCE)");
        // who may connect is not part of a template
        cluster.sql(
            "postgres", "ALTER DATABASE aside_" + database + " RENAME TO golden_" + database);
        cluster.sql(
            "postgres", "ALTER DATABASE golden_" + database + " OWNER TO " + database + "_change");
      }
      cluster.sql("postgres", "REVOKE CONNECT ON DATABASE golden_production FROM PUBLIC");
      cluster.sql(
          "postgres",
          "SET ROLE production_change; GRANT CONNECT ON DATABASE golden_production TO production_look, desk");
    }
  }

  private void judge(String said) {
    SITES.forEach(
        (site, database) -> {
          boolean isNew = said.contains(site + "=1.1.0");
          assertThat(state(database))
              .as(site + " after " + said)
              .isEqualTo(isNew ? old.replace("\"amount\": 4.50", "\"amount\": 5.00") : old);
          assertThat(
                  cluster.query(
                      database,
                      "SELECT relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE nspname = 'plenzo' AND relname LIKE 'stage%'"))
              .as("leftovers")
              .isEmpty();
        });
    assertThat(said).doesNotContain("closed", "half");
    if (said.contains("south=1.1.0")) {
      assertThat(said).as("the second comes after the first").contains("main=1.1.0");
    }
    assertThat(deskMayComeIn()).as("whoever was kept out after " + said).isTrue();
    if (cluster
        .query("production", "SELECT to_regclass('plenzo.door') IS NOT NULL")
        .equals(List.of("t"))) {
      assertThat(cluster.query("production", "SELECT account FROM plenzo.door")).isEmpty();
    }
    assertThat(
            cluster.query(
                "postgres", "SELECT datname FROM pg_database WHERE datname LIKE 'plenzo_%'"))
        .as("scratch places")
        .isEmpty();
  }

  private boolean deskMayComeIn() {
    return cluster
        .query("postgres", "SELECT has_database_privilege('desk', 'production', 'CONNECT')")
        .equals(List.of("t"));
  }

  private String state(String database) {
    return String.valueOf(
        cluster.query(database, "SELECT to_jsonb(b) FROM fares.surcharge b ORDER BY code"));
  }
}
