package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan.Way;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.returning.Rollbacks.Wish;

/** Whoever has seen the ways back starts one without waiting for the tables once more. */
class LatelyTest extends KitTest {

  @BeforeEach
  void broughtIn() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
  }

  private Promotion start(Way way, String seen) {
    return kit.engine().rollbacks().start(kit.ines, "fares", SITE, way, Wish.NONE, "test", seen);
  }

  private String seen(Way way) {
    return String.valueOf(kit.way(way).fingerprint());
  }

  private long looks() {
    return kit.production().script.calls(At.LOOK);
  }

  private List<String> comparisons() {
    return kit.engine().tools().files().list("comparison");
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void startsWithoutLookingAgainAndItsRunLooks(Way way) {
    String seen = seen(way);
    long before = looks();

    long loses = kit.engine().rollbacks().loses(kit.ines, "fares", SITE, way, Wish.NONE, seen);
    Promotion p = start(way, seen);

    assertThat(looks()).as("looks at the site until the run has a number").isEqualTo(before);
    assertThat(loses).isZero();
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
    Run run = kit.run(p);
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(looks()).isGreaterThan(before);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  @Test
  void whatMovedAtTheSiteSinceStopsTheRunBeforeItWrites() {
    String seen = seen(Way.EARLIER_VERSION);
    kit.production().row(BAND, row("PEAK", "31.00"));

    Promotion p = start(Way.EARLIER_VERSION, seen);
    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("Something moved since the plan was agreed");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("31.00");
  }

  /** Nothing is lost that was not shown: what people filled in since is more than was seen. */
  @Test
  void whatWouldBeLostSinceStopsTheRunBeforeItWrites() {
    kit.development().column(BAND, "nothing", column("level", "integer"), false);
    kit.seal("1.2.0", "table/" + BAND);
    kit.bring("1.2.0");
    String seen = seen(Way.EARLIER_VERSION);
    Map<String, @Nullable String> filled = row("PEAK", "25.00");
    filled.put("level", "3");
    kit.production().row(BAND, filled);

    Promotion p = start(Way.EARLIER_VERSION, seen);
    Run run = kit.run(p);

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("Something moved since the plan was agreed");
    assertThat(kit.production().value(BAND, "PEAK", "level")).isEqualTo("3");
  }

  /** A word that the version is good ends what covers going back: that is asked of the records. */
  @Test
  void whatMovedInTheRecordsSinceIsWorkedOutAnew() {
    String seen = seen(Way.EARLIER_VERSION);
    assertThat(kit.way(Way.EARLIER_VERSION).covered()).isTrue();
    kit.engine()
        .verdicts()
        .judge(kit.ines, "fares", SITE, new SemVer("1.1.0"), /* good= */ true, "works");
    long before = looks();

    Promotion p = start(Way.EARLIER_VERSION, seen);

    assertThat(looks()).isGreaterThan(before);
    assertThat(p.coveredBy()).as("what covers it").isNull();
  }

  @Test
  void aPlanThatNobodySawIsRefusedAfterALook() {
    seen(Way.EARLIER_VERSION);
    String other = seen(Way.BACKUP);
    long before = looks();

    assertThatThrownBy(() -> start(Way.EARLIER_VERSION, other))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("FINGERPRINT"));
    assertThat(looks()).isGreaterThan(before);
  }

  /** A start that names a plan after a restart works it out once, for the loss and for itself. */
  @Test
  void afterARestartItIsWorkedOutOnceAndNothingIsLeftBehind() {
    List<String> before = comparisons();
    String seen = seen(Way.EARLIER_VERSION);
    assertThat(comparisons()).hasSizeGreaterThan(before.size());

    kit.restart();

    assertThat(comparisons()).isEqualTo(before);
    assertThat(kit.engine().tools().files().list("ways")).isEmpty();
    long looks = looks();
    kit.engine().rollbacks().loses(kit.ines, "fares", SITE, Way.EARLIER_VERSION, Wish.NONE, seen);
    long one = looks() - looks;
    Promotion p = start(Way.EARLIER_VERSION, seen);
    assertThat(looks() - looks).isEqualTo(one).isPositive();
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
  }

  /** Asking again and again keeps one comparison a way. */
  @Test
  void keepsOneComparisonAWay() {
    kit.ways();
    int one = comparisons().size();
    kit.ways();
    kit.ways();
    assertThat(comparisons()).hasSize(one);
  }

  /** Looking with a choice is another wish, and few of them are kept. */
  @Test
  void keepsFewWishes() {
    int before = comparisons().size();
    for (String choice : List.of("keep", "take-incoming")) {
      for (int n = 0; n < 5; n++) {
        kit.ways(
            Map.of(
                "records/" + BAND + "#row/\"" + n + "\"",
                plenzo.core.comparison.Decision.of(choice)));
      }
    }
    assertThat(comparisons()).hasSizeLessThanOrEqualTo(before + 8);
    assertThat(kit.engine().tools().files().list("ways")).hasSizeLessThanOrEqualTo(8);
  }

  @Test
  void anothersLookIsNotOnesOwn() {
    String seen = seen(Way.EARLIER_VERSION);
    long before = looks();
    kit.engine()
        .rollbacks()
        .start(kit.bram, "fares", SITE, Way.EARLIER_VERSION, Wish.NONE, "test", seen);
    assertThat(looks()).isGreaterThan(before);
  }
}
