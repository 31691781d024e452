package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Condition;
import plenzo.engine.kit.KitTest;

/** A site that differs from what is recorded there is never said to be equal. */
class DriftedSiteTest extends KitTest {

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
  }

  private Finding nothing(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.rule().equals("nothing-to-do"))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void promotingItsOwnVersionAgainIsBlockedAndNamesWhatDiffers() {
    kit.production().row(BAND, row("PEAK", "99.00"));

    Promotion p = kit.prepare("1.1.0");

    assertThat(nothing(p).severity()).isEqualTo(Finding.Severity.BLOCKER);
    assertThat(nothing(p).sentence()).doesNotContain("already equals");
  }

  @Test
  void promotingItAgainWhereNothingDiffersIsANote() {
    Promotion p = kit.prepare("1.1.0");

    assertThat(nothing(p).severity()).isEqualTo(Finding.Severity.NOTE);
    assertThat(nothing(p).ceiling()).as("nothing is counted").isZero();
  }

  @Test
  void aRunOfOtherPartsLeavesItsDriftKnown() {
    kit.production().row(BAND, row("DAY", "99.00"));
    kit.engine().drift().look(kit.ines, "fares", SITE);
    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
    kit.sealPeak("1.2.0", "26.00");

    kit.bring("1.2.0");

    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
    assertThat(kit.record().drift()).isEqualTo(1);
  }

  @Test
  void whatWasNotReachedIsNotSaidToBeEqual() {
    kit.production().script.fallSilent();

    kit.engine().drift().look(kit.ines, "fares", SITE);

    assertThat(kit.record().condition()).isEqualTo(Condition.NOT_REACHABLE);
  }
}
