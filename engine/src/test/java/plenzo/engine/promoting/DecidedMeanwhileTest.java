package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script;

/** What was worked out of a promotion as it was before is not written over what it is by now. */
class DecidedMeanwhileTest extends KitTest {
  @Test
  void isNotWrittenOver() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    Promotions promotions = kit.engine().promotions();
    kit.production()
        .script
        .once(
            Script.At.LOOK,
            () -> promotions.save(kit.promotion(p.number()).change().sentence("Decided").done()));

    assertThatThrownBy(() -> promotions.compareNow(p.number()))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("meanwhile");

    assertThat(kit.promotion(p.number()).sentence()).isEqualTo("Decided");
  }
}
