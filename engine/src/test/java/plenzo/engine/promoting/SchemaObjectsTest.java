package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.Column;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.setup.Adoption;

/** Views, routines and the like from development to production and back. */
class SchemaObjectsTest extends KitTest {
  private static final String VIEW = "view/fares.dear";
  private static final String ROUTINE = "routine/fares.half(numeric)";
  private static final String TRIGGER = "trigger/fares.band.stamp";
  private static final String[] WITH = {"table/" + BAND, "records/" + BAND, VIEW, ROUTINE, TRIGGER};

  private static SchemaObject object(String key, Sort sort, String body, String... needs) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(),
        new TreeMap<>(),
        body,
        null,
        java.util.Arrays.stream(needs).map(n -> new Needed(ComponentKey.of(n), List.of())).toList(),
        List.of());
  }

  private static SchemaObject view(String body) {
    return object(VIEW, Sort.VIEW, body, "table/" + BAND, ROUTINE);
  }

  private static void everything(ScriptedDatabase.Base base) {
    base.object(view("SELECT 1"))
        .object(object(ROUTINE, Sort.FUNCTION, "CREATE FUNCTION half"))
        .object(object(TRIGGER, Sort.TRIGGER, "CREATE TRIGGER stamp", "table/" + BAND));
  }

  @BeforeEach
  void world() {
    everything(kit.development());
    everything(kit.production());
  }

  private static List<String> bodies(ScriptedDatabase.Base base) {
    return List.of(VIEW, ROUTINE, TRIGGER).stream()
        .map(base::object)
        .map(o -> o == null ? "-" : o.body())
        .toList();
  }

  private @Nullable String body(String key) {
    SchemaObject o = kit.production().object(key);
    return o == null ? null : o.body();
  }

  @Test
  void areCandidatesAndAreAdopted() {
    assertThat(kit.engine().adoption().candidates(kit.ines, "fares", SITE).candidates())
        .extracting(c -> c.component().toString())
        .contains(VIEW, ROUTINE, TRIGGER);

    kit.adopt(WITH);

    VersionHead v = kit.engine().versions().head(kit.ines, "fares", new SemVer("1.0.0"));
    assertThat(v.coverage().get(0)).isEqualTo("4 of 4 things in the schema fares");
    assertThat(v.coverage()).contains("1 of 1 view", "1 of 1 routine", "1 of 1 trigger");
  }

  @Test
  void theirChangeComesAndGoesBackByBothWays() {
    kit.adopt(WITH);
    kit.development().object(view("SELECT 2"));
    kit.seal("1.1.0", WITH);

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(body(VIEW)).isEqualTo("SELECT 2");
    assertThat(Objects.requireNonNull(run.backup()).pieces()).containsExactly(VIEW);
    assertThat(Objects.requireNonNull(run.backup()).proof()).isEqualTo("proven");
    kit.run(kit.back(Plan.Way.BACKUP));
    assertThat(body(VIEW)).isEqualTo("SELECT 1");

    kit.run(kit.prepare("1.1.0"));
    assertThat(body(VIEW)).isEqualTo("SELECT 2");
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(body(VIEW)).isEqualTo("SELECT 1");
  }

  @Test
  void oneThatIsNewGoesAgainWhenTheRunIsTakenBack() {
    kit.production().noObject(VIEW);
    kit.adopt("table/" + BAND, ROUTINE);
    kit.seal("1.1.0", "table/" + BAND, ROUTINE, VIEW);

    Promotion p = kit.prepare("1.1.0");
    assertThat(p.components().stream().filter(c -> c.key().toString().equals(VIEW)))
        .as("who agrees reads its code")
        .singleElement()
        .extracting(c -> c.parts().get(0).attributes().get(0).incoming())
        .asString()
        .startsWith("SELECT 1");
    kit.run(p);
    assertThat(body(VIEW)).isEqualTo("SELECT 1");

    kit.run(kit.back(Plan.Way.BACKUP));
    assertThat(body(VIEW)).isNull();
  }

  @Test
  void aRemovalTakesItAway() {
    kit.adopt(WITH);
    kit.development().noObject(VIEW);
    kit.seal("1.1.0", WITH);

    kit.bring("1.1.0");
    assertThat(bodies(kit.production()))
        .containsExactly("-", "CREATE FUNCTION half", "CREATE TRIGGER stamp");

    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(body(VIEW)).isEqualTo("SELECT 1");
  }

  @Test
  void aColleaguesChangeAtTheSiteIsAConflictAndDecided() {
    kit.adopt(WITH);
    kit.development().object(view("SELECT 2"));
    kit.seal("1.1.0", WITH);
    kit.production().object(view("SELECT 'mine'"));

    Promotion p = kit.prepare("1.1.0");
    assertThat(kit.rules(p)).contains("BLOCKER conflict-undecided");
    assertThat(p.components())
        .filteredOn(c -> c.key().toString().equals(VIEW))
        .flatExtracting(c -> c.parts().get(0).attributes())
        .extracting(a -> a.name())
        .containsExactly("line 1");

    kit.engine().promotions().decide(kit.ines, p.number(), Map.of(VIEW, Decision.KEEP));
    kit.settleDown();
    assertThat(kit.rules(kit.promotion(p.number()))).doesNotContain("BLOCKER conflict-undecided");
    kit.takeIncoming(p, VIEW);
    kit.run(kit.promotion(p.number()));
    assertThat(body(VIEW)).isEqualTo("SELECT 2");
  }

  @Test
  void aHandEditIsDriftAndIsPutBack() {
    kit.adopt(WITH);
    kit.production().object(view("SELECT 'by hand'"));
    kit.engine().drift().look(kit.ines, "fares", SITE);
    kit.settleDown();
    assertThat(kit.record().look().structure()).isEqualTo(1);

    Promotion p = kit.putBack(PutBack.of(Set.of(VIEW), Set.of()));
    kit.run(p);

    assertThat(body(VIEW)).isEqualTo("SELECT 1");
  }

  @Test
  void whatARoleMayDoIsCarriedOnlyWhereItIsAskedFor() {
    String grant = "grant/fares.band.clerk";
    kit.development().object(object(grant, Sort.GRANT, "", "table/" + BAND));
    kit.adopt(WITH);
    assertThat(kit.engine().versions().get(kit.ines, "fares", new SemVer("1.0.0")).entries())
        .extracting(e -> e.key().toString())
        .doesNotContain(grant);
    kit.development().object(object(grant, Sort.GRANT, "now otherwise", "table/" + BAND));
    assertThat(changed(/* grants= */ false)).doesNotContain(grant + " new");
    assertThat(changed(/* grants= */ true)).contains(grant + " new");
    kit.seal("1.1.0", grant);

    kit.bring("1.1.0");

    assertThat(body(grant)).isEqualTo("now otherwise");
    kit.production().object(object(grant, Sort.GRANT, "by hand", "table/" + BAND));
    kit.engine().drift().look(kit.ines, "fares", SITE);
    kit.settleDown();
    assertThat(kit.record().look().structure()).as("it is the version's by now").isEqualTo(1);
    kit.run(kit.putBack(PutBack.of(Set.of(grant), Set.of())));
    assertThat(body(grant)).isEqualTo("now otherwise");
  }

  private List<String> changed(boolean grants) {
    return kit
        .engine()
        .sources()
        .against(kit.ines, "fares", DEVELOPMENT, new SemVer("1.0.0"), grants)
        .components()
        .stream()
        .filter(c -> !c.state().equals("same"))
        .map(c -> c.key() + " " + c.state())
        .toList();
  }

  @Test
  void whatItIsBuiltOnIsTakenAlong() {
    kit.adopt("table/" + BAND);
    String d = kit.engine().drafts().start(kit.ines, "fares", null).id();

    kit.engine()
        .drafts()
        .add(
            kit.ines,
            d,
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of(VIEW), null, false)));

    assertThat(kit.engine().drafts().check(kit.ines, d).picks())
        .extracting(p -> p.key() + ": " + p.reason())
        .containsExactlyInAnyOrder(VIEW + ": chosen", ROUTINE + ": needed by " + VIEW);
  }

  @Test
  void aTableBringsWhatWorksOnIt() {
    kit.production().noObject(TRIGGER);
    kit.adopt("table/" + BAND);
    kit.development().column(BAND, "-", ScriptedDatabase.column("note", "text"), false);
    String d = kit.engine().drafts().start(kit.ines, "fares", null).id();

    kit.engine()
        .drafts()
        .add(
            kit.ines,
            d,
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of("table/" + BAND), null, false)));

    assertThat(kit.engine().drafts().check(kit.ines, d).picks())
        .extracting(p -> p.key() + ": " + p.reason())
        .contains(TRIGGER + ": works on table/" + BAND);
  }

  @Test
  void whatWorksOnAPickedTableAndIsLeftOutIsARisk() {
    kit.adopt("table/" + BAND);
    kit.development().column(BAND, "-", ScriptedDatabase.column("note", "text"), false);
    String d = kit.engine().drafts().start(kit.ines, "fares", null).id();
    kit.engine()
        .drafts()
        .add(
            kit.ines,
            d,
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of("records/" + BAND), null, true)));

    assertThat(kit.engine().drafts().check(kit.ines, d).findings())
        .extracting(Finding::sentence)
        .noneMatch(s -> s.contains("works on"));
    kit.development().object(object("policy/fares.band.own", Sort.POLICY, "", "table/" + BAND));
    assertThat(kit.engine().drafts().check(kit.ines, d).findings())
        .extracting(Finding::sentence)
        .contains(
            "policy/fares.band.own works on fares.band at the source and is not in the version.");
  }

  @Test
  void aColumnBringsItsType() {
    kit.adopt("table/" + BAND);
    kit.development()
        .object(object("type/fares.kind", Sort.ENUM, ""))
        .column(
            BAND,
            "-",
            new Column("kind", "fares.kind", false, null, null, null, null, null),
            false);
    String d = kit.draft(null, "table/" + BAND);
    assertThat(kit.engine().drafts().get(kit.ines, d).picks())
        .extracting(p -> p.key().toString())
        .contains("type/fares.kind");

    assertThat(
            kit.engine()
                .drafts()
                .dropping(kit.ines, d, ComponentKey.of("type/fares.kind"))
                .neededBy())
        .isEqualTo("needed by table/fares.band");
  }

  @Test
  void aViewWithoutItsRoutineAtTheSiteIsABlocker() {
    kit.adopt(WITH);
    kit.development().object(view("SELECT 2"));
    kit.seal("1.1.0", WITH);
    kit.production().noObject(ROUTINE);

    Promotion p = kit.prepare("1.1.0");
    assertThat(kit.rules(p)).contains("BLOCKER needed-missing");
    assertThatThrownBy(() -> kit.start(p)).isInstanceOf(Problem.class);
  }

  @Test
  void whatMovedSinceThePlanStopsTheRunUnchanged() {
    kit.adopt(WITH);
    kit.development().object(view("SELECT 2"));
    kit.seal("1.1.0", WITH);
    Promotion p = kit.prepare("1.1.0");
    kit.production().object(view("SELECT 'since'"));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(body(VIEW)).isEqualTo("SELECT 'since'");
  }

  @Test
  void somethingElseThatDiffersAfterARunIsLookedAt() {
    kit.adopt(WITH);
    kit.development().object(view("SELECT 2"));
    kit.seal("1.1.0", WITH);
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            plenzo.engine.kit.Script.At.SWITCHED,
            () -> kit.production().object(object("view/fares.odd", Sort.VIEW, "SELECT 3")));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(run.sentence()).contains("view/fares.odd is there and was not foreseen");
  }

  private static SchemaObject columns(String... shape) {
    SchemaObject v = view("SELECT " + shape.length);
    return new SchemaObject(
        v.key(), v.sort(), List.of(shape), v.parts(), v.body(), null, v.needs(), List.of());
  }

  /** On the way back it must go before it is made again, and what is built on it is not carried. */
  @Test
  void waysBackThatWouldBeRefusedAreSaidBeforeTheRun() {
    kit.development().object(columns("code text"));
    kit.production().object(columns("code text"));
    kit.adopt(WITH);
    kit.development().object(columns("code text", "price numeric"));
    kit.seal("1.1.0", WITH);
    assertThat(kit.prepare("1.1.0").requirePlan().waysBack()).allMatch(Plan.WayBack::possible);
    kit.production().answers(plenzo.core.target.Question.Type.BUILT_ON, 2);

    Promotion p = kit.prepare("1.1.0");

    assertThat(p.findings()).as("it stays on the way there").noneMatch(f -> f.count() == 2);
    assertThat(p.requirePlan().waysBack())
        .hasSize(2)
        .noneMatch(Plan.WayBack::possible)
        .allMatch(
            w -> w.sentence().contains("built on the view fares.dear, which goes on this way"));
  }
}
