package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.comparison.Decision;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.version.SemVer;
import plenzo.core.way.Obstacle;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;

/**
 * A row that the version being left brought is used by somebody's booking: no way back is gone for
 * that, it asks what becomes of the row.
 */
class InUseTest extends KitTest {
  private static final String BOOKING = "fares.booking";
  private static final String ALL = "records/" + BAND + Obstacle.IN_USE;

  private static String one(String code) {
    return "records/" + BAND + "#row/\"" + code + "\"";
  }

  @BeforeEach
  void world() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table(BOOKING, column("id", "integer"), column("band", "text"));
      TableStructure s = Objects.requireNonNull(base.structure(BOOKING));
      List<Constraint> keys = new ArrayList<>(s.constraints());
      keys.add(
          new Constraint(
              "booking_band",
              Constraint.Type.FOREIGN,
              "FOREIGN KEY (band) REFERENCES fares.band(code)",
              List.of("band"),
              TableName.of(BAND),
              List.of("code")));
      base.structure(BOOKING, new TableStructure(s.columns(), keys, s.indexes(), s.comment()));
    }
    kit.adopt();
    kit.development().row(BAND, row("NIGHT", "5.00")).row(BAND, row("DAWN", "4.00"));
    kit.seal("1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.ways()).as("nobody uses it yet").allMatch(Rollbacks.Option::possible);
    book("1", "NIGHT");
  }

  private void book(String id, String band) {
    Map<String, @Nullable String> booking = new TreeMap<>();
    booking.put("id", id);
    booking.put("band", band);
    kit.production().row(BOOKING, booking);
  }

  private Run goBack(Plan.Way way, Map<String, Decision> choices) {
    Promotion p = kit.back(way, choices);
    assertThat(p.findings()).noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
    Run run = kit.run(p);
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    return run;
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void isSaidWithWhatUsesItAndWhatCanBeChosen(Plan.Way way) {
    Rollbacks.Option closed = kit.way(way);

    assertThat(closed.possible()).isFalse();
    assertThat(closed.why()).contains("1 row of fares.booking points at rows that go");
    assertThat(closed.obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.at()).isEqualTo(ALL);
              assertThat(o.sentence())
                  .isEqualTo(
                      "1 row of fares.band that 1.1.0 brought is used by 1 row of fares.booking.");
              assertThat(o.chosen()).isNull();
              assertThat(o.offers())
                  .extracting(Obstacle.Offer::decision, Obstacle.Offer::loses)
                  .containsExactly(
                      org.assertj.core.api.Assertions.tuple(Decision.KEEP, 0L),
                      org.assertj.core.api.Assertions.tuple(Decision.TAKE_INCOMING, 1L));
              assertThat(o.rows())
                  .containsExactly(
                      new Obstacle.Row(one("NIGHT"), "NIGHT", "1 row of fares.booking", null));
            });
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void isLeftThereAndNothingIsLost(Plan.Way way) {
    Map<String, Decision> leave = Map.of(ALL, Decision.KEEP);
    Rollbacks.Option open = kit.way(way, leave);
    assertThat(open.possible()).as(open.why()).isTrue();
    assertThat(open.lost()).isZero();
    assertThat(open.covered())
        .as("what loses nothing was agreed")
        .isEqualTo(kit.way(way).covered());
    assertThat(open.obstacles().get(0).chosen()).as("it can be changed").isEqualTo(Decision.KEEP);

    goBack(way, leave);

    assertThat(kit.production().keys(BAND)).contains("NIGHT").doesNotContain("DAWN");
    assertThat(kit.production().value(BOOKING, "1", "band")).isEqualTo("NIGHT");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
    assertThat(kit.record().exceptions()).as("left over").containsExactly(one("NIGHT"));
    assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).look().records())
        .as("what was left on purpose is no drift")
        .isZero();
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void isRemovedWithWhatHangsOnItWhichIsCountedAndNamed(Plan.Way way) {
    Map<String, Decision> remove = Map.of(ALL, Decision.TAKE_INCOMING);
    Rollbacks.Option open = kit.way(way, remove);
    assertThat(open.possible()).as(open.why()).isTrue();
    assertThat(open.lost()).isEqualTo(1);
    List<String> saved = new ArrayList<>();
    kit.engine()
        .rollbacks()
        .lost(kit.ines, "fares", SITE, way, new Rollbacks.Wish(null, remove), saved::add);
    assertThat(saved)
        .hasSize(2)
        .last()
        .asString()
        .isEqualTo("\"fares.booking\",\"\"\"1\"\"\",\"band\",\"NIGHT\"");

    goBack(way, remove);

    assertThat(kit.production().keys(BAND)).doesNotContain("NIGHT", "DAWN");
    assertThat(kit.production().value(BOOKING, "1", "band")).isNull();
  }

  /** A choice for one row goes before the one for all. */
  @Test
  void isChosenRowByRow() {
    book("2", "DAWN");
    Map<String, Decision> choices = Map.of(ALL, Decision.KEEP, one("DAWN"), Decision.TAKE_INCOMING);

    goBack(Plan.Way.EARLIER_VERSION, choices);

    assertThat(kit.production().keys(BAND)).contains("NIGHT").doesNotContain("DAWN");
    assertThat(kit.production().value(BOOKING, "1", "band")).isEqualTo("NIGHT");
    assertThat(kit.production().value(BOOKING, "2", "band")).isNull();
  }

  @Test
  void isAskedOfEveryRow() {
    book("2", "DAWN");

    Rollbacks.Option half = kit.way(Plan.Way.EARLIER_VERSION, Map.of(one("DAWN"), Decision.KEEP));

    assertThat(half.possible()).isFalse();
    assertThat(half.obstacles().get(0).rows())
        .extracting(Obstacle.Row::key, Obstacle.Row::chosen)
        .containsExactlyInAnyOrder(
            org.assertj.core.api.Assertions.tuple("DAWN", Decision.KEEP),
            org.assertj.core.api.Assertions.tuple("NIGHT", null));
  }

  /** Somebody books another one between the look and the run. */
  @Test
  void isLookedAtOnceMoreBeforeItGoes() {
    Map<String, Decision> leave = Map.of(ALL, Decision.KEEP);
    Promotion p = kit.back(Plan.Way.EARLIER_VERSION, leave);
    book("2", "DAWN");

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(kit.production().keys(BAND)).contains("NIGHT", "DAWN");
    goBack(Plan.Way.EARLIER_VERSION, leave);
    assertThat(kit.production().keys(BAND)).contains("NIGHT", "DAWN");
  }

  /** A rollback that is open finds it used: it is chosen there, and otherwise again. */
  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void isChosenInARollbackThatIsOpen(Plan.Way way) {
    Promotion p = kit.back(way, Map.of());
    assertThat(p.findings()).anyMatch(f -> f.severity() == Finding.Severity.BLOCKER);
    assertThat(p.obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.at()).isEqualTo(ALL);
              assertThat(o.chosen()).isNull();
            });

    Promotion left = decided(p, Decision.KEEP);
    assertThat(left.findings()).noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
    assertThat(left.obstacles().get(0).chosen()).isEqualTo(Decision.KEEP);
    Promotion removed = decided(p, Decision.TAKE_INCOMING);
    assertThat(removed.obstacles().get(0).chosen()).isEqualTo(Decision.TAKE_INCOMING);
    Run run = kit.run(removed);

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.production().keys(BAND)).doesNotContain("NIGHT");
    assertThat(kit.production().value(BOOKING, "1", "band")).isNull();
  }

  /** Going back from a way back: what was left comes again, from the backup of that run. */
  @Test
  void isGoneBackFromAgain() {
    goBack(Plan.Way.EARLIER_VERSION, Map.of(ALL, Decision.KEEP));
    assertThat(kit.production().keys(BAND)).doesNotContain("DAWN");
    Rollbacks.Option again = kit.way(Plan.Way.BACKUP);
    assertThat(again.possible()).as(again.why()).isTrue();
    assertThat(again.version()).isEqualTo(new SemVer("1.1.0"));

    Run run = kit.run(kit.back(Plan.Way.BACKUP));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.production().keys(BAND)).contains("NIGHT", "DAWN");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
  }

  private Promotion decided(Promotion p, Decision decision) {
    kit.engine().promotions().decide(kit.ines, p.number(), Map.of(ALL, decision));
    kit.settleDown();
    return kit.promotion(p.number());
  }

  /** The next version takes it up: equal it is the same, another it is a conflict. */
  @Test
  void isTakenUpByTheNextComparison() {
    goBack(Plan.Way.EARLIER_VERSION, Map.of(ALL, Decision.KEEP));
    kit.development().row(BAND, row("DAY", "3.00"));
    kit.sealFrom("1.2.0", "1.1.0");

    kit.bring("1.2.0");

    assertThat(kit.production().keys(BAND)).contains("NIGHT", "DAWN");
    assertThat(kit.record().exceptions()).isEmpty();
  }

  @Test
  void saysWhatWasChosenInTheHistory() {
    goBack(Plan.Way.EARLIER_VERSION, Map.of(ALL, Decision.KEEP));

    assertThat(kit.history())
        .anyMatch(
            e -> e.event().equals("rollback prepared") && e.text().endsWith("; " + ALL + ": keep"));
  }

  /** A view that somebody made reads a column that the version brought. */
  @Test
  void leavesAColumnThatSomethingElseNeeds() {
    String zone = "table/" + BAND + "#column/zone";
    kit.development().column(BAND, null, column("zone", "text"), false);
    kit.sealFrom("1.2.0", "1.1.0");
    kit.bring("1.2.0");
    kit.production().answers(Question.Type.DEPENDENTS, 1);
    Rollbacks.Option closed = kit.way(Plan.Way.EARLIER_VERSION);
    assertThat(closed.possible()).isFalse();
    assertThat(closed.obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.at()).isEqualTo(zone);
              assertThat(o.offers())
                  .extracting(Obstacle.Offer::decision)
                  .containsExactly(Decision.KEEP);
            });

    goBack(Plan.Way.EARLIER_VERSION, Map.of(zone, Decision.KEEP));

    assertThat(Objects.requireNonNull(kit.production().structure(BAND)).column("zone")).isPresent();
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.record().exceptions()).containsExactly(zone);
  }

  @Test
  void refusesAChoiceAboutNothing() {
    assertThatThrownBy(() -> kit.ways(Map.of("records/fares.other#in-use", Decision.KEEP)))
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.code()).isEqualTo("UNKNOWN_COMPONENT"));
  }

  /** What can be used stands first, of that what loses least. */
  @Test
  void putsTheWayThatLosesLeastFirst() {
    kit.production().row(BAND, row("OWN", "1.00"));

    assertThat(kit.ways(Map.of(ALL, Decision.KEEP)))
        .extracting(Rollbacks.Option::way, Rollbacks.Option::lost)
        .containsExactly(
            org.assertj.core.api.Assertions.tuple(Plan.Way.EARLIER_VERSION, 0L),
            org.assertj.core.api.Assertions.tuple(Plan.Way.BACKUP, 1L));
  }

  /** What people changed since is kept, or the earlier is taken, which is loss. */
  @Test
  void offersToTakeTheEarlierOfWhatPeopleChangedSince() {
    kit.development().row(BAND, row("PEAK", "25.00")).row(BAND, row("DAY", "11.00"));
    kit.sealFrom("1.2.0", "1.1.0");
    kit.bring("1.2.0");
    kit.production().row(BAND, row("PEAK", "26.00")).row(BAND, row("DAY", "12.00"));
    String all = "records/" + BAND;

    Rollbacks.Option closed = kit.way(Plan.Way.EARLIER_VERSION);
    assertThat(closed.possible()).isFalse();
    assertThat(closed.obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.at()).isEqualTo(all);
              assertThat(o.sentence())
                  .isEqualTo("2 rows of fares.band were changed by 1.2.0 and by somebody since.");
              assertThat(o.offers())
                  .extracting(Obstacle.Offer::decision, Obstacle.Offer::loses)
                  .containsExactly(
                      org.assertj.core.api.Assertions.tuple(Decision.KEEP, 0L),
                      org.assertj.core.api.Assertions.tuple(Decision.TAKE_INCOMING, 2L));
              assertThat(o.chosen()).isNull();
              assertThat(o.rows())
                  .extracting(Obstacle.Row::key, Obstacle.Row::usedBy, Obstacle.Row::chosen)
                  .containsExactly(
                      org.assertj.core.api.Assertions.tuple("DAY", "changed since", null),
                      org.assertj.core.api.Assertions.tuple("PEAK", "changed since", null));
            });
    Map<String, Decision> one = Map.of(all, Decision.KEEP, one("PEAK"), Decision.TAKE_INCOMING);
    Rollbacks.Option open = kit.way(Plan.Way.EARLIER_VERSION, Map.of(all, Decision.KEEP));
    assertThat(open.possible()).as(open.why()).isTrue();
    assertThat(open.lost()).isZero();
    assertThat(kit.way(Plan.Way.EARLIER_VERSION, one).lost()).isEqualTo(1);
    assertThat(kit.way(Plan.Way.EARLIER_VERSION, Map.of(all, Decision.TAKE_INCOMING)).lost())
        .isEqualTo(2);

    goBack(Plan.Way.EARLIER_VERSION, one);

    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().value(BAND, "DAY", "amount")).isEqualTo("12.00");
  }
}
