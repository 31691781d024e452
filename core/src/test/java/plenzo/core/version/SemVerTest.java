package plenzo.core.version;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Collections;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class SemVerTest {
  /** The order that semver.org gives in its rule 11, and 9 before 10. */
  @Test
  void ordersNumberByNumber() {
    List<String> ordered =
        List.of(
            "1.0.0-alpha",
            "1.0.0-alpha.1",
            "1.0.0-alpha.beta",
            "1.0.0-beta",
            "1.0.0-beta.2",
            "1.0.0-beta.11",
            "1.0.0-rc.1",
            "1.0.0",
            "2.0.0",
            "2.1.0",
            "2.1.1",
            "2.9.0",
            "2.10.0");
    List<SemVer> shuffled =
        Stream.concat(ordered.stream(), Stream.empty())
            .map(SemVer::new)
            .collect(java.util.stream.Collectors.toList());
    Collections.shuffle(shuffled);

    assertThat(shuffled.stream().sorted().map(SemVer::text)).containsExactlyElementsOf(ordered);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"2.4", "v2.4.0", "2.04.0", "2.4.0-", "", "2.4.0 ", "1.0.0'; DROP TABLE x; --"})
  void refusesWhatIsNotSemVer(String text) {
    assertThatThrownBy(() -> new SemVer(text)).hasMessageContaining("2.4.0");
  }
}
