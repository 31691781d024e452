package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Stage;
import plenzo.core.stage.Weight;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** A stage finds worse, or less bad, what a rule finds. */
class StageSeveritiesTest extends KitTest {
  private static final String RULE = "other-open";
  private static final String NEWER = "newer-there";

  private Promotion first;
  private Promotion second;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.sealPeak("1.2.0", "26.00");
    first = kit.prepare("1.1.0");
    second = kit.prepare("1.2.0");
  }

  private Stage judge(Weight... weights) {
    Stage now = kit.engine().stages().get(kit.ines, SITE.stage());
    Stage saved =
        kit.engine()
            .stages()
            .save(
                kit.ines,
                new Stage(
                    now.key(),
                    now.name(),
                    now.role(),
                    now.position(),
                    now.zone(),
                    now.driftCloses(),
                    now.sites(),
                    now.revision(),
                    List.of(weights),
                    List.of()));
    kit.settleDown();
    return saved;
  }

  private Finding found(Promotion p) {
    return found(p, RULE);
  }

  private Finding found(Promotion p, String rule) {
    return kit.promotion(p.number()).findings().stream()
        .filter(f -> f.rule().equals(rule))
        .findFirst()
        .orElseThrow();
  }

  private String fingerprint(Promotion p) {
    Plan plan = kit.promotion(p.number()).plan();
    assertThat(plan).isNotNull();
    return plan.fingerprint().shown();
  }

  @Test
  void raisesAndComparesWhatIsOpenAgain() {
    assertThat(found(second).severity()).isEqualTo(Severity.NOTE);
    String before = fingerprint(second);

    judge(new Weight(RULE, Weight.Bound.AT_LEAST, Severity.BLOCKER, ""));

    assertThat(found(second).severity()).isEqualTo(Severity.BLOCKER);
    assertThat(found(second).built()).isEqualTo(Severity.NOTE);
    assertThat(fingerprint(second)).as("another plan to say yes to").isNotEqualTo(before);
    assertThatThrownBy(() -> kit.start(kit.promotion(second.number())))
        .hasMessageContaining("blocker");
  }

  @Test
  void lowersAndIsTakenBack() {
    kit.run(second);
    Promotion p = kit.prepare("1.1.0");
    assertThat(found(p, NEWER).severity()).isEqualTo(Severity.RISK);

    judge(new Weight(NEWER, Weight.Bound.AT_MOST, Severity.NOTE, "All try things here"));
    assertThat(found(p, NEWER).severity()).isEqualTo(Severity.NOTE);
    assertThat(found(p, NEWER).built()).isEqualTo(Severity.RISK);

    judge();
    assertThat(found(p, NEWER).severity()).isEqualTo(Severity.RISK);
    assertThat(found(p, NEWER).built()).isNull();
    assertThat(kit.history())
        .extracting(h -> h.text())
        .contains("judged otherwise: newer-there at most note (All try things here)")
        .contains("no longer judged otherwise: newer-there at most note (All try things here)");
  }

  @Test
  void anUnknownRuleIsRefused() {
    assertThatThrownBy(
            () -> judge(new Weight("others-open", Weight.Bound.AT_LEAST, Severity.BLOCKER, "")))
        .hasMessageContaining("There is no rule \"others-open\"");
    assertThat(kit.engine().stages().rules()).contains(RULE, "wrong-identity");
  }

  @Test
  void noWayBackIsClosedByIt() {
    kit.run(first);
    kit.host().put("rule/fares.night", EngineKit.rule("3"));
    judge(new Weight("only-there", Weight.Bound.AT_LEAST, Severity.BLOCKER, ""));

    Promotion back = kit.back(Plan.Way.EARLIER_VERSION);

    assertThat(found(back, "only-there").severity()).isEqualTo(Severity.NOTE);
  }
}
