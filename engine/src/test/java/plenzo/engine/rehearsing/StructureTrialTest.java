package plenzo.engine.rehearsing;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.table.Column;
import plenzo.core.target.Leftover;
import plenzo.core.target.SwitchRefused;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.returning.Rollbacks;

/** What the engine refuses by structure alone is found when the plan is made. */
class StructureTrialTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
  }

  /** A version that adds a column. */
  private Promotion wider() {
    Column note = ScriptedDatabase.column("note", "text");
    kit.development().column(BAND, "note", note, /* renamed= */ false);
    kit.seal("1.1.0");
    return kit.prepare("1.1.0");
  }

  private static List<String> of(Promotion p, String rule) {
    return p.findings().stream()
        .filter(f -> f.rule().equals(rule))
        .map(f -> f.severity() + " " + f.sentence())
        .toList();
  }

  @Test
  void whatTheEngineTakesIsNoFindingAndTheCopyIsGone() {
    Promotion p = wider();

    assertThat(p.findings()).extracting(Finding::rule).noneMatch(r -> r.startsWith("structure-"));
    assertThat(kit.production().copies.calls(Script.At.SWITCH)).isEqualTo(1);
    assertThat(kit.production().script.calls(Script.At.SWITCH))
        .as("the site is only read")
        .isZero();
    assertThat(kit.production().leftovers).extracting(Leftover::sort).isEmpty();
  }

  @Test
  void whatItRefusesIsABlockerBeforeAnyRun() {
    kit.production()
        .copies
        .once(
            Script.At.SWITCH,
            () -> {
              throw new SwitchRefused(
                  SwitchRefused.Why.REFUSED, "the column has an odd type", List.of());
            });

    assertThat(of(wider(), "structure-refused"))
        .singleElement()
        .asString()
        .startsWith("BLOCKER Tried on a copy of the structures, the database refuses the plan")
        .contains("odd type");
  }

  /** The site may have what the copy lacks: then nothing is known of the plan. */
  @Test
  void whatACopyRefusesThatLacksAnExtensionIsARisk() {
    kit.production().lacking =
        List.of("extension maps, which this site has, cannot be made in a scratch place: denied");
    Promotion taken = wider();
    assertThat(of(taken, "structure-not-tried")).as("nothing is refused").isEmpty();
    kit.engine().promotions().withdraw(kit.ines, taken.number(), "Tried");
    kit.production()
        .copies
        .once(
            Script.At.SWITCH,
            () -> {
              throw new SwitchRefused(
                  SwitchRefused.Why.REFUSED, "type maps.place does not exist", List.of());
            });

    Promotion p = kit.prepare("1.1.0");

    assertThat(of(p, "structure-refused")).isEmpty();
    assertThat(of(p, "structure-not-tried"))
        .singleElement()
        .asString()
        .startsWith("RISK The statements that change structures could not be tried")
        .contains("maps.place does not exist", "extension maps, which this site has");
  }

  @Test
  void aPlaceThatCannotBeMadeIsSaidAndStopsNothing() {
    kit.production().script.loseAt(Script.At.SCRATCH);

    assertThat(of(wider(), "structure-not-tried"))
        .singleElement()
        .asString()
        .startsWith("NOTE The statements that change structures were not tried before");
  }

  @Test
  void whoGoesBackWaitsForNothing() {
    kit.run(wider());
    long before = kit.production().script.calls(Script.At.SCRATCH);
    String plan = kit.ways().get(0).fingerprint();

    kit.engine()
        .rollbacks()
        .start(
            kit.ines,
            "fares",
            SITE,
            Plan.Way.EARLIER_VERSION,
            Rollbacks.Wish.NONE,
            "Wrong",
            String.valueOf(plan));

    assertThat(kit.production().script.calls(Script.At.SCRATCH)).isEqualTo(before);
  }

  @Test
  void whereNoStructureChangesNothingIsMade() {
    kit.sealPeak("1.1.0", "25.00");
    kit.prepare("1.1.0");

    assertThat(kit.production().script.calls(Script.At.SCRATCH)).isZero();
    assertThat(kit.production().copies.calls(Script.At.SWITCH)).isZero();
  }
}
