package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestMethodOrder;
import plenzo.core.component.ComponentKey;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Release;
import plenzo.core.run.RunHead;
import plenzo.core.stage.Stage;
import plenzo.core.testing.Ground;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.demo.Cluster;
import plenzo.engine.releasing.Releases;
import plenzo.engine.running.RunListener;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Adoption;

/** Two applications that are promoted as one; the later tests go on from the earlier ones. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ReleaseTest {
  private final Started started = new Started();
  private static final Path ROOT = Ground.of("release");

  private Cluster cluster;
  private EngineWorld world;
  private Releases releases;
  private final Person bram = person("bram", Right.APPROVE, "fares");
  private final Person mila = person("mila", Right.APPROVE, "sailings");

  private static Person person(String login, Right right, String application) {
    return Person.invited(login, login, "", false)
        .withGrants(
            List.of(
                new Person.Grant(Right.LOOK, "*", "*"), new Person.Grant(right, "*", application)));
  }

  @BeforeAll
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    world =
        started.add(new EngineWorld(ROOT.resolve("records"), cluster.port(), RunListener.NOBODY));
    releases = world.engine.releases();
    world
        .engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(bram);
              kept.people().insert(mila);
              return null;
            });
    for (String stage : List.of("development", "production")) {
      both(stage);
    }
    world
        .engine
        .applications()
        .register(world.ines, "sailings", "Sailings", "Fleet", "sailings", "ordinary");
    world.adopt(EngineWorld.both("fare_band"));
    world
        .engine
        .adoption()
        .adopt(
            world.ines,
            "sailings",
            EngineMain.SITE,
            new SemVer("1.0.0"),
            "Was there",
            picks("sailings"));
  }

  /** The site's database holds both name spaces, and its stage asks for an approval. */
  private void both(String stage) {
    Stage.Target t = world.engine.stages().get(world.ines, stage).sites().get(0).targets().get(0);
    world.changed(
        stage,
        stage.equals("production") ? 1 : 0,
        List.of(
            new Stage.Target(
                null,
                t.key(),
                t.sort(),
                List.of("fares", "sailings"),
                t.looking(),
                t.changing(),
                t.scratch())));
  }

  @AfterAll
  void stop() {
    started.close();
  }

  private static List<Adoption.Pick> picks(String application) {
    String table = application.equals("fares") ? "fares.fare_band" : "sailings.vessel";
    return List.of("table/" + table, "records/" + table).stream()
        .map(k -> new Adoption.Pick(ComponentKey.of(k), null, true))
        .toList();
  }

  private void seal(String application, String number, List<String> needs) {
    String draft = world.engine.drafts().start(world.ines, application, null).id();
    world.engine.drafts().add(world.ines, draft, EngineWorld.DEVELOPMENT, picks(application));
    world.engine.drafts().check(world.ines, draft);
    world
        .engine
        .drafts()
        .seal(
            world.ines,
            draft,
            new Drafts.Statement(
                new SemVer(number),
                "Next",
                "",
                needs.stream().map(Need::of).toList(),
                List.of("FERRY-7")));
  }

  private static Release.Member member(String text) {
    return new Release.Member(text.split("@")[0], new SemVer(text.split("@")[1]));
  }

  private Releases.Standing taken(String key, String... members) {
    releases.save(
        world.ines,
        key,
        "Summer",
        List.of(members).stream().map(ReleaseTest::member).toList(),
        null);
    releases.prepare(world.ines, key, EngineMain.SITE, null, "");
    return standing(key);
  }

  /** As it stands once every member was compared. */
  private Releases.Standing standing(String key) {
    releases
        .standing(world.ines, key, EngineMain.SITE)
        .members()
        .forEach(p -> world.compared(p.number()));
    return releases.standing(world.ines, key, EngineMain.SITE);
  }

  private Releases.Standing approvedByAll(String key) {
    for (Person by : List.of(bram, mila)) {
      Releases.Standing s = standing(key);
      if (s.members().stream()
          .anyMatch(
              p ->
                  p.state() == PromotionState.READY
                      && by.may(Right.APPROVE, "production", p.application()))) {
        releases.approve(by, key, EngineMain.SITE, true, expect(s), "");
      }
    }
    return standing(key);
  }

  private static String expect(Releases.Standing s) {
    return java.util.Objects.requireNonNull(s.fingerprint()).shown();
  }

  private Releases.Standing ended(String key) {
    Awaitility.await()
        .atMost(Duration.ofMinutes(2))
        .until(
            () -> {
              releases.goOn();
              return releases.standing(world.ines, key, EngineMain.SITE).at().state().ended();
            });
    return releases.standing(world.ines, key, EngineMain.SITE);
  }

  private static List<String> applications(Releases.Standing s) {
    return s.members().stream().map(Promotion::application).toList();
  }

  @Test
  @Order(1)
  void runsWhatIsNeededFirstOnceEveryMembersApproverAgreed() {
    cluster.sql(
        "development",
        "UPDATE sailings.vessel SET name = name || ' II'; UPDATE fares.fare_band SET base_price = base_price + 1");
    seal("sailings", "1.1.0", List.of());
    seal("fares", "1.1.0", List.of("sailings >=1.1.0", "server/database >=9.0.0"));

    Releases.Standing s = taken("summer", "fares@1.1.0", "sailings@1.1.0");

    assertThat(applications(s)).containsExactly("sailings", "fares");
    assertThat(s.members().get(1).findings().stream().map(f -> f.rule()))
        .contains("needs-release")
        .doesNotContain("prerequisite-missing", "server-release");
    assertThatThrownBy(
            () ->
                world
                    .engine
                    .promotions()
                    .approve(bram, s.members().get(1).number(), true, expect(s), ""))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("belongs to the release summer");
    releases.approve(bram, "summer", EngineMain.SITE, true, expect(s), "");
    Releases.Standing half = standing("summer");
    assertThat(half.closed()).hasSize(1).first().asString().contains("approval 0 of 1");
    assertThatThrownBy(() -> releases.start(world.ines, "summer", EngineMain.SITE, expect(half)))
        .hasMessageContaining("may not run");
    Releases.Standing agreed = approvedByAll("summer");
    assertThat(agreed.closed()).isEmpty();
    assertThat(expect(agreed)).isEqualTo(expect(s));
    assertThatThrownBy(
            () -> releases.start(world.ines, "summer", EngineMain.SITE, "0000-0000-0000"))
        .hasMessageContaining("are now " + expect(s));

    releases.start(world.ines, "summer", EngineMain.SITE, expect(s));

    assertThat(ended("summer").at().state()).isEqualTo(Release.State.DONE);
    assertThat(
            world.engine.runs().list(world.ines, Kept.Filter.all()).items().stream()
                .map(RunHead::application))
        .containsExactly("fares", "sailings");
    assertThat(
            cluster.query(
                "production", "SELECT count(*) FROM sailings.vessel WHERE name NOT LIKE '% II'"))
        .containsExactly("0");
    assertThat(world.engine.versions().get(world.ines, "fares", new SemVer("1.1.0")).tasks())
        .containsExactly("FERRY-7");
  }

  @Test
  @Order(2)
  void skipsWhatIsThereAndStopsWhenAMemberDoesNotComeThrough() {
    cluster.sql("development", "UPDATE fares.fare_band SET base_price = base_price + 1");
    seal("fares", "1.2.0", List.of("sailings >=1.1.0"));
    Releases.Standing with = taken("autumn", "fares@1.2.0", "sailings@1.1.0");
    assertThat(with.at().skipped()).containsExactly(member("sailings@1.1.0"));
    assertThat(applications(with)).containsExactly("fares");
    releases.withdraw(world.ines, "autumn", EngineMain.SITE, "More comes along");
    assertThat(world.engine.promotions().get(world.ines, with.members().get(0).number()).state())
        .isEqualTo(PromotionState.WITHDRAWN);
    cluster.sql("development", "UPDATE sailings.vessel SET name = name || 'I'");
    seal("sailings", "1.2.0", List.of());
    Releases.Standing s = taken("autumn", "fares@1.2.0", "sailings@1.2.0");
    assertThat(applications(s)).containsExactly("sailings", "fares");
    approvedByAll("autumn");
    cluster.sql("production", "UPDATE sailings.vessel SET name = 'By hand' WHERE name LIKE '% II'");

    releases.start(world.ines, "autumn", EngineMain.SITE, expect(s));

    Releases.Standing ended = ended("autumn");
    assertThat(ended.at().state()).isEqualTo(Release.State.STOPPED);
    assertThat(ended.at().sentence())
        .contains("sailings@1.2.0")
        .contains("did not come through")
        .contains("No member is there yet, 1 not begun");
    assertThat(world.engine.standing().record(world.ines, "fares", EngineMain.SITE).present())
        .isEqualTo(new SemVer("1.1.0"));
    assertThat(world.engine.runs().list(world.ines, Kept.Filter.all()).items()).hasSize(3);
  }

  @Test
  @Order(3)
  void refusesMembersThatNeedOneAnotherAndServersThatAreTooOld() {
    seal("sailings", "2.0.0", List.of("fares >=2.0.0"));
    seal("fares", "2.0.0", List.of("sailings >=2.0.0", "server/database >=99.0.0"));
    releases.save(
        world.ines,
        "winter",
        "Winter",
        List.of(member("fares@2.0.0"), member("sailings@2.0.0")),
        null);

    assertThatThrownBy(() -> releases.prepare(world.ines, "winter", EngineMain.SITE, null, ""))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("fares needs sailings needs fares");
    Promotion alone = world.promotion("2.0.0");
    assertThat(alone.findings().stream().map(f -> f.rule() + ": " + f.sentence()))
        .anyMatch(f -> f.startsWith("prerequisite-missing: "))
        .anyMatch(
            f ->
                f.matches(
                    "server-release: 2.0.0 needs a database of release >=99.0.0, and that of production/main is [0-9]+[.][0-9]+[.]0[.]"));
  }
}
