package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.ScriptedDatabase.column;

import org.junit.jupiter.api.Test;
import plenzo.core.locking.Locked;
import plenzo.core.run.RunState;
import plenzo.core.target.Question;
import plenzo.engine.kit.KitTest;

/** How long a switch is foreseen to hold what it touches follows how long earlier ones took. */
class EarlierSwitchesTest extends KitTest {
  private static final long MB = 1 << 20;

  private Locked foreseen(String number, String type) {
    kit.development().column(BAND, "amount", column("amount", type), false);
    kit.seal(number, "table/" + BAND);
    return kit.prepare(number).requirePlan().locked();
  }

  @Test
  void ofThreeThatWereForeseenToBeFelt() {
    kit.adopt("table/" + BAND);
    kit.production().answers(Question.Type.BYTES, 400 * MB);
    for (int n = 1; n <= 3; n++) {
      Locked plain = foreseen("1." + n + ".0", "numeric(" + (6 + n) + ",2)");
      assertThat(plain.millis()).isEqualTo(10_100);
      assertThat(plain.switches()).isNull();
      assertThat(kit.bring("1." + n + ".0").state()).isEqualTo(RunState.DONE);
    }

    Locked corrected = foreseen("1.4.0", "numeric(10,2)");

    assertThat(corrected.switches()).isEqualTo(3);
    assertThat(corrected.foreseen()).isEqualTo(10_100);
    assertThat(corrected.millis())
        .as("the switches of the kit take seven of its seconds")
        .isLessThan(10_100);
    assertThat(corrected.basis()).endsWith("how long the last 3 switches here took");
  }
}
