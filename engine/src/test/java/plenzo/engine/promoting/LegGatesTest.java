package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Release;
import plenzo.core.run.RunState;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.setup.Applications;

/** What a leg asks is asked by the whole engine, of the path that a promotion goes by. */
class LegGatesTest extends KitTest {
  private static final String P = "ordinary";

  @BeforeEach
  void adopted() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  private void asks(Leg... legs) {
    Path old =
        kit.engine().paths().list().stream()
            .filter(p -> p.key().equals(P))
            .findFirst()
            .orElseThrow();
    kit.engine()
        .paths()
        .change(kit.ines, new Path(P, "Ordinary", old.source(), List.of(legs), old.revision()));
    kit.settleDown();
  }

  private static Leg production(Leg.Quorum... approvals) {
    return Leg.open("production").asking(approvals);
  }

  private static Leg apart(String... pairs) {
    return Leg.open("production").apart(Set.copyOf(Arrays.stream(pairs).map(Apart::of).toList()));
  }

  private Promotion approved(Promotion p, Person by) {
    kit.engine()
        .promotions()
        .approve(by, p.number(), true, p.requirePlan().fingerprint().shown(), "");
    return kit.promotion(p.number());
  }

  private List<String> open(Promotion p) {
    return kit.engine().promotions().gates(kit.promotion(p.number())).lines();
  }

  private Person holder(String login, String role) {
    Role held = new Role(role, role, List.of(Right.LOOK, Right.APPROVE), 0);
    Person person =
        Person.invited(login, login, "", false).withRoles(List.of(held.at("production", "fares")));
    kit.engine()
        .tools()
        .keeper()
        .write(
            kept -> {
              if (kept.roles().find(role).isEmpty()) {
                kept.roles().insert(held);
              }
              kept.people().insert(person);
              return null;
            });
    return person;
  }

  @Test
  void eachRoleThatIsAskedSaysItsOwnYes() {
    Person ada = holder("ada", "board");
    Person edda = holder("edda", "board");
    Person olga = holder("olga", "owner");
    asks(production(new Leg.Quorum("board", 2), new Leg.Quorum("owner", 1)));
    Promotion p = kit.prepare("1.1.0");

    approved(p, ada);
    approved(p, kit.bram);
    approved(p, olga);
    assertThat(open(p)).as("bram holds no role").containsExactly("approval 1 of 2 by board");
    assertThat(approved(p, edda).state()).isEqualTo(PromotionState.AGREED);
    assertThat(kit.run(kit.promotion(p.number())).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void aYesFallsWithTheGatesThatItWasSaidUnder() {
    asks(production(new Leg.Quorum("", 1)));
    Promotion p = approved(kit.prepare("1.1.0"), kit.bram);
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);

    asks(production(new Leg.Quorum("", 1)).judged(true));

    Promotion after = kit.promotion(p.number());
    assertThat(after.state()).isEqualTo(PromotionState.READY);
    assertThat(after.approvals()).singleElement().matches(a -> a.voidBecause() != null);
    assertThat(after.moved()).anyMatch(m -> m.contains("judged good at the stage before"));
  }

  @Test
  void whatALegAsksOtherwiseStandsInTheHistory() {
    asks(production(new Leg.Quorum("", 1)).judged(true));
    asks(production(new Leg.Quorum("", 2)).judged(true));

    assertThat(kit.history().get(0).text())
        .isEqualTo(
            "ordinary: production asks now: 2 approvals by whoever may approve, not by who prepared it;"
                + " production asks no more: 1 approval by whoever may approve, not by who prepared it");
  }

  @Test
  void aYesIsTooOldAfterItsDays() {
    asks(
        new Leg(
            "production", List.of(new Leg.Quorum("", 1)), 7, false, false, 0, "", false, Set.of()));
    Promotion p = approved(kit.prepare("1.1.0"), kit.bram);
    kit.clock.tick(Duration.ofDays(7));

    assertThatThrownBy(() -> kit.start(p)).hasMessageContaining("too old to count");
    kit.engine().promotions().settleByTime();
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.READY);
    assertThat(kit.history().get(0).event()).isEqualTo("approvals too old");
    assertThat(approved(p, kit.bram).state()).as("said anew").isEqualTo(PromotionState.AGREED);
  }

  @Test
  void whoSealedItPreparesItNotWhereThatIsKeptApart() {
    asks(apart("author-preparer"));

    assertThatThrownBy(() -> kit.prepare("1.1.0"))
        .isInstanceOfSatisfying(
            Problem.class,
            x -> {
              assertThat(x.code()).isEqualTo("OWN_VERSION");
              assertThat(x.next()).containsExactly("Ask one of: bram");
            })
        .hasMessageContaining("author and preparer are two people");
    assertThat(kit.engine().promotions().prepare(kit.bram, "fares", new SemVer("1.1.0"), SITE, ""))
        .isNotNull();
  }

  @Test
  void whoPreparedItStartsItNotWhereThatIsKeptApart() {
    asks(apart("preparer-runner"));
    Promotion p = kit.prepare("1.1.0");

    assertThatThrownBy(() -> kit.start(p))
        .isInstanceOfSatisfying(
            Problem.class, x -> assertThat(x.code()).isEqualTo("OWN_PROMOTION"));
    kit.engine().runs().start(kit.bram, p.number(), p.requirePlan().fingerprint().shown());
    kit.settleDown();
    assertThat(kit.record().present()).hasToString("1.1.0");
  }

  @Test
  void whoStartedItJudgesItNotWhereThatIsKeptApart() {
    asks(apart("runner-tester"));
    kit.bring("1.1.0");
    SemVer there = new SemVer("1.1.0");

    assertThatThrownBy(
            () -> kit.engine().verdicts().judge(kit.ines, "fares", SITE, there, true, "works"))
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.code()).isEqualTo("OWN_WORK"));
    kit.engine().verdicts().judge(kit.bram, "fares", SITE, there, true, "works");
    assertThat(kit.record().verdict(there).orElseThrow().good()).isTrue();
  }

  /** A stage before production, with two sites that hold what they are said to hold. */
  private void trial() {
    List<Stage.Site> sites =
        List.of(new Stage.Site("east", List.of()), new Stage.Site("west", List.of()));
    kit.engine()
        .stages()
        .save(kit.ines, new Stage("trial", "Trial", Stage.Role.TEST, 1, "UTC", false, sites, 0));
  }

  private void holds(String site, String version) {
    SiteRecord none = SiteRecord.none("fares", new SiteKey("trial", site));
    SiteRecord.Placement placed =
        new SiteRecord.Placement(new SemVer(version), "run", 1L, kit.clock.instant(), "ines");
    kit.engine()
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.sites().insert(none.placed(placed, List.of(), null, SiteRecord.Look.NONE));
              return null;
            });
  }

  @Test
  void aVersionIsAtEverySiteBeforeAndForItsDays() {
    trial();
    asks(
        Leg.open("trial"),
        new Leg("production", List.of(), 0, false, true, 2, "", false, Set.of()));
    holds("east", "1.1.0");
    holds("west", "1.0.0");
    Promotion p = kit.prepare("1.1.0");

    assertThat(open(p)).first().asString().isEqualTo("1.1.0 is not at trial/west yet");
    assertThat(open(p)).last().asString().startsWith("1.1.0 must be in trial until 2027-03-03 ");
    kit.engine()
        .tools()
        .keeper()
        .write(
            kept -> {
              SiteRecord west = kept.sites().find("fares@trial/west").orElseThrow();
              SiteRecord.Placement now =
                  new SiteRecord.Placement(
                      new SemVer("1.1.0"), "run", 2L, kit.clock.instant(), "ines");
              return kept.sites().update(west.placed(now, List.of(), null, west.look()));
            });
    kit.clock.tick(Duration.ofDays(2));
    assertThat(open(p)).isEmpty();
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.READY);
    kit.engine().promotions().settleByTime();
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
    assertThat(kit.history().get(0).event()).isEqualTo("gates opened");
    assertThat(kit.run(kit.promotion(p.number())).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void aVersionThatNamesNoTaskIsStoppedAndWhatNamesOneIsNot() {
    asks(new Leg("production", List.of(), 0, false, false, 0, "CHG-[0-9]+", false, Set.of()));

    assertThat(open(kit.prepare("1.1.0"))).containsExactly("1.1.0 names no task like CHG-[0-9]+");
  }

  @Test
  void goesByThePathThatIsAskedAndByItsGates() {
    kit.engine()
        .paths()
        .lay(kit.ines, new Path("urgent", "Urgent", "development", List.of(production()), 0));
    asks(production(new Leg.Quorum("", 2)));
    assertThatThrownBy(() -> prepare("urgent"))
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.code()).isEqualTo("NOT_ITS_PATH"));
    travels(List.of(P, "urgent"));

    assertThat(open(prepare(null))).containsExactly("approval 0 of 2");
    Promotion urgent = prepare("urgent");
    assertThat(open(urgent)).isEmpty();
    assertThat(urgent.path()).isEqualTo("urgent");
    assertThatThrownBy(() -> travels(List.of(P)))
        .as("one is open by it")
        .hasMessageContaining(urgent.shown() + " to production/main");
    assertThat(kit.run(urgent).state()).isEqualTo(RunState.DONE);
    travels(List.of(P));
  }

  @Test
  void aReleaseGoesByThePathThatIsAsked() {
    kit.engine()
        .paths()
        .lay(kit.ines, new Path("urgent", "Urgent", "development", List.of(production()), 0));
    asks(production(new Leg.Quorum("", 2)));
    var releases = kit.engine().releases();
    var member = new Release.Member("fares", new SemVer("1.1.0"));
    releases.save(kit.ines, "summer", "Summer", List.of(member), null);
    assertThatThrownBy(() -> releases.prepare(kit.ines, "summer", SITE, "urgent", ""))
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.code()).isEqualTo("NOT_ITS_PATH"));
    travels(List.of(P, "urgent"));

    var standing = releases.prepare(kit.ines, "summer", SITE, "urgent", "");
    kit.settleDown();

    Promotion p = kit.promotion(standing.members().get(0).number());
    assertThat(p.path()).isEqualTo("urgent");
    assertThat(open(p)).isEmpty();
  }

  private Promotion prepare(@Nullable String path) {
    long n =
        kit.engine()
            .promotions()
            .prepare(kit.ines, "fares", new SemVer("1.1.0"), SITE, path, "")
            .number();
    kit.settleDown();
    return kit.promotion(n);
  }

  private void travels(List<String> paths) {
    kit.engine()
        .applications()
        .change(
            kit.ines,
            "fares",
            new Applications.Facts(null, null, null, null, paths, null, null),
            null);
  }
}
