package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.stage.Weight.Bound;

/** How bad a stage finds what a rule finds. */
class WeightTest {
  private static Finding found(String rule, Severity severity) {
    return Finding.of(rule, severity, "records/fares.band", "Something.", 3, "Look", null);
  }

  private static Stage judging(Weight... weights) {
    return new Stage(
        "test",
        "Test",
        Stage.Role.TEST,
        1,
        "UTC",
        false,
        List.of(),
        0,
        List.of(weights),
        List.of());
  }

  @ParameterizedTest
  @CsvSource({
    "AT_LEAST, BLOCKER, NOTE,    BLOCKER",
    "AT_LEAST, BLOCKER, RISK,    BLOCKER",
    "AT_LEAST, BLOCKER, BLOCKER, BLOCKER",
    "AT_LEAST, RISK,    NOTE,    RISK",
    "AT_LEAST, RISK,    BLOCKER, BLOCKER",
    "AT_MOST,  NOTE,    BLOCKER, NOTE",
    "AT_MOST,  NOTE,    RISK,    NOTE",
    "AT_MOST,  RISK,    BLOCKER, RISK",
    "AT_MOST,  RISK,    NOTE,    NOTE",
  })
  void raisesWhatIsLessBadAndLowersWhatIsWorse(
      Bound bound, Severity severity, Severity found, Severity here) {
    Stage stage = judging(new Weight("other-open", bound, severity, "All try things here"));

    Finding weighed = stage.weigh(found("other-open", found));

    assertThat(weighed.severity()).isEqualTo(here);
    assertThat(weighed.built()).isEqualTo(found == here ? null : found);
    assertThat(weighed.count()).isEqualTo(3);
  }

  @Test
  void otherRulesAreLeftAlone() {
    Stage stage = judging(new Weight("other-open", Bound.AT_LEAST, Severity.BLOCKER, ""));

    assertThat(stage.weigh(found("newer-there", Severity.RISK)).severity())
        .isEqualTo(Severity.RISK);
  }

  @Test
  void whatCouldNotBeAskedIsNeverLowered() {
    Stage stage = judging(new Weight("other-open", Bound.AT_MOST, Severity.NOTE, "All try things"));
    Finding silent =
        Finding.notEvaluated("other-open", Severity.RISK, "the check itself", "Not asked.", "Look");

    assertThat(stage.weigh(silent).severity()).isEqualTo(Severity.RISK);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "wrong-identity",
        "conflict-undecided",
        "backup-not-proven",
        "value-does-not-fit",
        "column-dropped",
        "drift-overwritten",
        "nothing-to-do",
        "input-unbound"
      })
  void whatWouldFailOrSaysWhatIsLostIsNotLowered(String rule) {
    assertThatThrownBy(() -> new Weight(rule, Bound.AT_MOST, Severity.NOTE, "We know"))
        .hasMessageContaining("not lowered anywhere");
    assertThat(new Weight(rule, Bound.AT_LEAST, Severity.BLOCKER, "").words())
        .isEqualTo(rule + " at least blocker");
  }

  @Test
  void loweringNeedsAReason() {
    assertThatThrownBy(() -> new Weight("judged-bad", Bound.AT_MOST, Severity.RISK, "  "))
        .hasMessageContaining("needs a reason");
  }

  @Test
  void aBoundThatBoundsNothingIsRefused() {
    assertThatThrownBy(() -> new Weight("other-open", Bound.AT_LEAST, Severity.NOTE, ""))
        .hasMessage("at least a note is what every finding is");
    assertThatThrownBy(() -> new Weight("other-open", Bound.AT_MOST, Severity.BLOCKER, "x"))
        .hasMessage("at most a blocker is what every finding is");
  }

  @Test
  void aRuleIsJudgedOnce() {
    Weight once = new Weight("other-open", Bound.AT_LEAST, Severity.BLOCKER, "");

    assertThatThrownBy(() -> judging(once, once)).hasMessageContaining("one severity of its own");
  }
}
