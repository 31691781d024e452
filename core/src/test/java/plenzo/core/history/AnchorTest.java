package plenzo.core.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class AnchorTest {
  private static final String HASH = "ab".repeat(32);

  @Test
  void comesBackFromItsText() {
    Anchor anchor = new Anchor(4711, HASH);
    assertThat(Anchor.of(anchor.text())).isEqualTo(anchor);
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "4711", "x ", "-1 abab", "4711 short", " 4711"})
  void refusesWhatIsNone(String text) {
    assertThatIllegalArgumentException().isThrownBy(() -> Anchor.of(text));
  }
}
