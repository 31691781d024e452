package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Condition;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.FareDesk;
import plenzo.engine.binding.Bindings;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;

/** Tables, files and definitions in one promotion, on three real targets. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class VersionOfAllKindsTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("all-kinds");
  private static final String FORGET =
      "DROP TABLE IF EXISTS plenzo.marker, plenzo.run_mark CASCADE";

  private Cluster cluster;
  private ThreeTargets targets;
  private EngineWorld world;
  private int number;

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    cluster.sql("postgres", "CREATE DATABASE pristine_d TEMPLATE development");
    cluster.sql("postgres", "CREATE DATABASE pristine_p TEMPLATE production");
  }

  @AfterAll
  void stop() {
    started.close();
  }

  @BeforeEach
  void world() {
    for (String stage : List.of("development", "production")) {
      cluster.sql("postgres", "DROP DATABASE " + stage + " WITH (FORCE)");
      cluster.sql(
          "postgres",
          "CREATE DATABASE "
              + stage
              + " TEMPLATE pristine_"
              + stage.charAt(0)
              + " OWNER "
              + stage
              + "_change");
    }
    Path folder = ROOT.resolve("case-" + number++);
    targets = new ThreeTargets(folder, cluster);
    world = new EngineWorld(folder.resolve("records"), cluster.port(), RunListener.NOBODY);
    targets.register(world, 0);
    List<String> all = new ArrayList<>(EngineWorld.both("fare_band", "concession"));
    all.addAll(ThreeTargets.PIECES);
    world.adopt(all);
    ThreeTargets.bind(world);
  }

  @AfterEach
  void close() {
    world.close();
    targets.close();
  }

  /** People change everything in development, and 1.1.0 is sealed from it. */
  private void change(String... more) {
    cluster.sql(
        "development",
        "INSERT INTO fares.concession VALUES ('YOUTH', 'Youth', 15); ALTER TABLE fares.fare_band ADD COLUMN bicycle_price numeric(6,2) NOT NULL DEFAULT 0");
    FareDesk.write(
        targets.published("development"),
        "fares/conditions.txt",
        "Conditions of carriage\n\n1. Tickets are personal.\n2. Pets travel on deck.\n3. Bicycles are free.\n");
    FareDesk.write(targets.published("development"), "fares/summer/poster.txt", "Summer!\n");
    targets
        .host("development")
        .edit("rule", "fares.night-crossing", FareDesk.night("1.15"), true, "");
    targets.host("development").edit("rule", "fares.ceiling", FareDesk.ceiling(), true, "");
    List<String> picks = new ArrayList<>(EngineWorld.both("fare_band", "concession"));
    picks.addAll(ThreeTargets.PIECES);
    picks.add("file/fares/summer/poster.txt");
    picks.add("rule/fares.ceiling");
    picks.addAll(List.of(more));
    world.seal("1.1.0", picks);
  }

  private String quote(String stage) {
    return targets
        .host(stage)
        .post(
            "/quote",
            "{\"form\":\"fares.quote\",\"values\":{\"band\":\"FOOT\",\"night\":\"true\"}}");
  }

  private String file(String name) throws IOException {
    return Files.readString(targets.published("production").resolve(name));
  }

  private List<String> concessions() {
    return cluster.query(
        "production", "SELECT count(*) FROM fares.concession WHERE code = 'YOUTH'");
  }

  private void assertOld() throws IOException {
    assertThat(quote("production")).contains("\"amount\":\"13.20\"");
    assertThat(file("fares/conditions.txt")).contains("in the hold");
    assertThat(targets.published("production").resolve("fares/summer")).doesNotExist();
    assertThat(concessions()).containsExactly("0");
  }

  private void assertNew() throws IOException {
    assertThat(quote("production")).contains("\"amount\":\"13.80\"");
    assertThat(file("fares/conditions.txt")).contains("on deck");
    assertThat(file("fares/summer/poster.txt")).isEqualTo("Summer!\n");
    assertThat(concessions()).containsExactly("1");
  }

  private static List<String> rules(Promotion p) {
    return p.findings().stream().map(Finding::rule).toList();
  }

  /** Rows and files are rehearsed on copies; of the host it is said that nothing was. */
  @Test
  void isRehearsedOnCopiesOfTheDatabaseAndTheFiles() throws IOException {
    change();
    Promotion p = world.promotion("1.1.0");

    long number = world.engine.rehearsals().start(world.ines, p.number()).number();
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .until(() -> world.engine.rehearsals().get(world.ines, number).over());
    Rehearsal r = world.engine.rehearsals().get(world.ines, number);

    assertThat(r.result()).as(r.sentence()).isEqualTo(Rehearsal.Result.PROVEN);
    assertThat(r.parts())
        .extracting(Rehearsal.Part::name)
        .contains(
            "Carry out the plan at the copy of files",
            "Carry out the plan at the copy of host",
            "Carry out the plan at the copy of database",
            "Take it back at the copy of files",
            "Take it back at the copy of database");
    assertThat(r.beside()).noneMatch(line -> line.contains("definition"));
    assertOld();
    assertThat(
            targets.published("production").resolveSibling("published.plenzo/rehearsal-" + number))
        .doesNotExist();
  }

  @Test
  void bringsEveryKindAndGoesBack() throws IOException {
    assertOld();
    change();
    Promotion p = world.promotion("1.1.0");
    assertThat(p.components().stream().map(c -> c.key() + " " + c.difference().sign()))
        .contains(
            "records/fares.concession ≠",
            "file/fares/conditions.txt ≠",
            "file/fares/summer/poster.txt +",
            "rule/fares.night-crossing ≠",
            "rule/fares.ceiling +",
            "form/fares.quote =");
    assertThat(p.sameFiles()).as("prices.html, which is counted alone").isEqualTo(1);
    assertThat(rules(p)).contains("arrives-off").doesNotContain("input-unbound");
    assertThat(p.requirePlan().steps().stream().map(Plan.Step::name))
        .containsExactly(
            "Look again",
            "Back up",
            "Prove the backup",
            "Prepare",
            "Close",
            "Add what moved",
            "Switch files",
            "Switch host",
            "Switch database",
            "Read back",
            "Open",
            "Record");
    assertThat(p.requirePlan().steps().get(2).what())
        .isEqualTo(
            "Restore and compare every row in the scratch place and 1 file beside the tree"
                + " and 1 definition in a place of its own");

    Run run = world.run(p);

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(Objects.requireNonNull(run.backup()).proof()).isEqualTo("proven");
    assertThat(world.engine.runs().log(world.ines, run.number()))
        .contains("Restored and compared 1 file of production/main files");
    assertNew();
    assertThat(world.engine.hosts().work(world.ines, EngineMain.SITE).maintenance()).isFalse();
    assertThat(
            world.engine.hosts().needs(world.ines, "fares", EngineMain.SITE).stream()
                .map(n -> n.component() + " " + n.why().code()))
        .contains("rule/fares.ceiling off");
    assertThat(world.engine.drift().look(world.ines, "fares", EngineMain.SITE).drift()).isZero();

    for (Plan.Way way : List.of(Plan.Way.EARLIER_VERSION)) {
      Promotion back = back(way);
      assertThat(world.run(back).state()).isEqualTo(RunState.DONE);
      assertOld();
    }
  }

  private Promotion back(Plan.Way way) {
    var option = world.way(way);
    assertThat(option.possible()).as(option.why()).isTrue();
    return world.goBack(option);
  }

  @Test
  void restoresTheBackupOfEveryKindAndCountsWhatPeopleChangedSince() throws IOException {
    change();
    assertThat(world.run(world.promotion("1.1.0")).state()).isEqualTo(RunState.DONE);
    FareDesk.write(targets.published("production"), "fares/conditions.txt", "By hand\n");

    var option =
        world
            .engine
            .rollbacks()
            .ways(world.ines, "fares", EngineMain.SITE, Rollbacks.Wish.NONE)
            .stream()
            .filter(o -> o.way() == Plan.Way.BACKUP)
            .findFirst()
            .orElseThrow();
    assertThat(option.lost()).isEqualTo(1);
    assertThat(option.lossSentence())
        .isEqualTo("1 change of file/fares/conditions.txt made since would be lost.");
    Promotion back = back(Plan.Way.BACKUP);
    assertThat(world.run(back).state()).isEqualTo(RunState.DONE);
    assertOld();
  }

  /** One line of the file both changed, and each another one: of that one alone it is asked. */
  @Tag("nightly")
  @Test
  void takesLinesOfAFileFromWhoeverChangedThem() throws IOException {
    change();
    String there =
        file("fares/conditions.txt")
            .replace("Conditions of carriage", "Conditions of carriage, north")
            .replace("in the hold", "in the cabin");
    FareDesk.write(targets.published("production"), "fares/conditions.txt", there);
    long n = world.promotion("1.1.0").number();
    String conditions = "file/fares/conditions.txt";
    world.engine.promotions().decide(world.ines, n, Map.of(conditions, Decision.TAKE_BOTH));
    Promotion open = world.compared(n);
    assertThat(rules(open)).contains("conflict-undecided");
    String line =
        open.components().stream()
            .filter(c -> c.key().toString().equals(conditions))
            .flatMap(c -> c.parts().get(0).attributes().stream())
            .filter(a -> String.valueOf(a.present()).contains("in the cabin"))
            .map(AttributeDifference::name)
            .findFirst()
            .orElseThrow();

    world
        .engine
        .promotions()
        .decide(world.ines, n, Map.of(conditions + "#member/" + line, Decision.TAKE_INCOMING));
    Run run = world.run(world.compared(n));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(file("fares/conditions.txt"))
        .startsWith("Conditions of carriage, north\n")
        .contains("Pets travel on deck.\n3. Bicycles are free.\n")
        .doesNotContain("in the cabin");
    assertThat(world.engine.drift().look(world.ines, "fares", EngineMain.SITE).drift()).isZero();
  }

  @Test
  void switchesOnWhatThePlanSays() {
    change();
    long n = world.promotion("1.1.0").number();
    Promotion p =
        world
            .engine
            .promotions()
            .activate(world.ines, n, Set.of(ComponentKey.of("rule/fares.ceiling")));
    assertThat(rules(p)).doesNotContain("arrives-off");

    assertThat(world.run(p).state()).isEqualTo(RunState.DONE);

    assertThat(
            world.engine.hosts().needs(world.ines, "fares", EngineMain.SITE).stream()
                .map(x -> x.component().toString()))
        .doesNotContain("rule/fares.ceiling");
  }

  @Test
  void stopsWhenADefinitionOrAFileMovedAfterTheCheck() throws IOException {
    change();
    Promotion p = world.promotion("1.1.0");
    targets
        .host("production")
        .edit("rule", "fares.night-crossing", FareDesk.night("1.11"), true, "");

    Run run = world.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("rule/fares.night-crossing: it was changed here");
    assertThat(concessions()).containsExactly("0");
    Promotion again = world.compared(p.number());
    assertThat(again.counts().conflict()).isEqualTo(1);
    world
        .engine
        .promotions()
        .decide(
            world.ines,
            p.number(),
            Map.of("rule/fares.night-crossing", plenzo.core.comparison.Decision.KEEP));
    assertThat(world.run(world.compared(p.number())).state()).isEqualTo(RunState.DONE);
    assertThat(quote("production")).contains("\"amount\":\"13.32\"");
    assertThat(file("fares/conditions.txt")).contains("on deck");
  }

  @Test
  void switchesEverythingBackWhenTheDatabaseRefuses() throws IOException {
    change();
    Promotion p = world.promotion("1.1.0");
    // the database is the last to switch; somebody holds its table until every try is over
    try (var c = cluster.open("production");
        var s = c.createStatement()) {
      c.setAutoCommit(false);
      s.execute("LOCK TABLE fares.concession IN ROW EXCLUSIVE MODE");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.PUT_BACK);
      assertThat(run.sentence()).contains("Everything that had switched was switched back");
    } catch (java.sql.SQLException e) {
      throw new IllegalStateException(e);
    }
    assertOld();
    assertThat(world.engine.hosts().work(world.ines, EngineMain.SITE).maintenance()).isFalse();
    assertThat(world.run(world.compared(p.number())).state()).isEqualTo(RunState.DONE);
    assertNew();
  }

  @Tag("nightly")
  @Test
  void saysHalfWrittenWhenWhatHadSwitchedWasTouched() throws Exception {
    change();
    Promotion p = world.promotion("1.1.0");
    try (var c = cluster.open("production");
        var s = c.createStatement()) {
      c.setAutoCommit(false);
      s.execute("LOCK TABLE fares.concession IN ROW EXCLUSIVE MODE");
      Run run = world.start(p);
      Awaitility.await()
          .atMost(Duration.ofMinutes(1))
          .until(() -> file("fares/conditions.txt").contains("on deck"));
      FareDesk.write(targets.published("production"), "fares/conditions.txt", "By hand\n");

      Run ended = world.ended(run);

      assertThat(ended.state()).as(ended.sentence()).isEqualTo(RunState.HALF_WRITTEN);
      assertThat(ended.sentence()).contains("file/fares/conditions.txt").contains("half written");
    }
    assertThat(world.engine.drift().look("fares", EngineMain.SITE, /* rows= */ true).condition())
        .isEqualTo(Condition.HALF_WRITTEN);
    assertThat(world.engine.hosts().work(world.ines, EngineMain.SITE).maintenance()).isTrue();
    world.engine.promotions().compareAgain(world.ines, p.number());
    Promotion again = world.compared(p.number());
    world
        .engine
        .promotions()
        .decide(
            world.ines,
            p.number(),
            Map.of("file/fares/conditions.txt", plenzo.core.comparison.Decision.TAKE_INCOMING));
    assertThat(world.run(world.compared(again.number())).state()).isEqualTo(RunState.DONE);
    assertNew();
    assertThat(world.engine.hosts().work(world.ines, EngineMain.SITE).maintenance()).isFalse();
  }

  @Tag("nightly")
  @Test
  void waitsForRunningWork() throws IOException {
    change();
    targets
        .host("production")
        .simulate(
            "work",
            "{\"what\":\"A quote\",\"person\":\"Clerk 3\",\"component\":\"rule/fares.night-crossing\",\"seconds\":3600}");
    targets.host("production").simulate("people", "{\"people\":3}");
    Promotion p = world.promotion("1.1.0");
    assertThat(rules(p)).contains("running-work", "people-signed-in");

    Run begun = world.start(p);
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .until(
            () ->
                world
                    .engine
                    .runs()
                    .log(world.ines, begun.number())
                    .contains("Waiting for 1 piece of running work to end"));
    targets
        .host("production")
        .simulate("work", "{\"what\":\"\",\"person\":\"\",\"component\":\"\",\"seconds\":0}");
    Run run = world.ended(begun);

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(world.engine.runs().log(world.ines, run.number()))
        .contains("Waiting for 1 piece of running work to end");
    assertNew();
  }

  @Tag("nightly")
  @Test
  void blocksWhatIsNotBoundAndWarnsOfAnotherStagesSystem() {
    targets
        .host("development")
        .edit("integration", "fares.card-terminal", FareDesk.terminal("4"), true, "");
    change();
    Bindings.Place key = new Bindings.Place("fares", "production", "", "terminal-key");
    world.engine.bindings().clear(world.ines, key, null);
    assertThatThrownBy(() -> world.engine.bindings().bind(world.ines, key, null, false, "host", 0))
        .isInstanceOf(plenzo.core.problem.Problem.class)
        .hasMessageContaining("names the connection host, which is not lent to fares");
    Promotion p = world.promotion("1.1.0");
    assertThat(rules(p)).contains("secret-missing");
    assertThat(p.state().code()).isEqualTo("ready");

    world
        .engine
        .bindings()
        .bind(world.ines, key, "the same everywhere", /* secret= */ true, null, 0);
    world
        .engine
        .bindings()
        .bind(
            world.ines,
            new Bindings.Place("fares", "development", "", "terminal-key"),
            "the same everywhere",
            /* secret= */ true,
            null,
            0);
    Promotion bound = world.engine.promotions().compareNow(p.number());
    assertThat(rules(bound)).contains("points-elsewhere").doesNotContain("secret-missing");
    assertThat(bound.findings().toString()).doesNotContain("the same everywhere");
  }

  /** That it dies before it writes is among the kills of {@link ThreeTargetKillTest}. */
  @Tag("nightly")
  @Test
  void outlivesAHostThatDiesOrFailsAfterItWrote() throws IOException {
    for (String fault : List.of("die-after", "fail-after")) {
      close();
      world();
      change();
      Promotion p = world.promotion("1.1.0");
      targets
          .host("production")
          .simulate(
              "fault",
              "{\"path\":\"/switch\",\"does\":\"" + fault + "\",\"millis\":0,\"times\":1}");

      Run run = world.start(p);
      if (fault.startsWith("die")) {
        Awaitility.await()
            .atMost(Duration.ofMinutes(1))
            .until(() -> !targets.host("production").alive());
        targets.host("production").restart();
        Awaitility.await()
            .atMost(Duration.ofMinutes(1))
            .until(
                () -> {
                  world.engine.runs().recover();
                  return world.engine.runs().get(world.ines, run.number()).state().ended();
                });
      }
      Run ended = world.ended(run);

      // the host had the last word about itself: the database had not switched yet
      assertThat(ended.state()).as(fault + ": " + ended.sentence()).isEqualTo(RunState.PUT_BACK);
      assertOld();
      assertThat(world.engine.hosts().work(world.ines, EngineMain.SITE).maintenance()).isFalse();
      assertThat(world.run(world.compared(p.number())).state()).isEqualTo(RunState.DONE);
      assertNew();
    }
  }
}
