package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ClosingTest {
  @ParameterizedTest
  @CsvSource({"5, 5 s", "60, 60 s", "90, 90 s", "120, 2 min", "150, 2 min 30 s", "600, 10 min"})
  void saysHowLong(int seconds, String words) {
    assertThat(new Closing(seconds, "").span()).isEqualTo(words);
  }

  @ParameterizedTest
  @ValueSource(ints = {0, -1, 86_401})
  void isBounded(int seconds) {
    assertThatThrownBy(() -> new Closing(seconds, "")).hasMessageContaining("86400");
    assertThatThrownBy(() -> new Closing(1, 241, "")).hasMessageContaining("240 minutes");
    assertThatThrownBy(() -> new Closing(1, -1, "")).hasMessageContaining("got -1");
    assertThat(new Closing(60, 0, "")).isEqualTo(Closing.USUAL);
    assertThat(new Closing(60, 10, "").words()).endsWith(", 10 min before");
    assertThatThrownBy(() -> new Closing(1, "x".repeat(501))).hasMessageContaining("500");
  }

  @Test
  void peopleReadWhatTheLegSaysOrTheVersion() {
    assertThat(Closing.USUAL.told("2.4.0")).isEqualTo("2.4.0 is being put in place");
    assertThat(new Closing(60, "Back at six").told("2.4.0")).isEqualTo("Back at six");
  }

  @Test
  void aLegSaysItOnlyWhereItIsNotTheUsual() {
    Leg leg = Leg.open("production");
    assertThat(leg.words()).isEmpty();
    assertThat(leg.closing(new Closing(600, "Back at six")).words())
        .containsExactly("running work waited for 10 min, and people told: Back at six");
    assertThat(leg.closing(new Closing(600, "")).proven(true).closing().seconds())
        .as("kept when something else is changed")
        .isEqualTo(600);
  }
}
