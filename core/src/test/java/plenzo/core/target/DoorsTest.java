package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.stage.Stage;

/** Who can be kept out of which sort of target. */
class DoorsTest {
  @ParameterizedTest
  @CsvSource({
    "postgresql, desk, true, ",
    "directory, closed.html, false, ",
    "directory, closed.html, true, A directory has one file",
    "directory, ../closed.html, false, is a plain name",
    "directory, .hidden, false, is a plain name",
    "host, desk, false, A host keeps people out by itself"
  })
  void fitsItsTarget(String sort, String name, boolean end, String problem) {
    String found = Doors.problem(sort, new Doors(List.of(name), end));

    if (problem == null) {
      assertThat(found).isNull();
    } else {
      assertThat(found).contains(problem);
    }
  }

  @Test
  void aTargetThatCannotBeClosedSoIsRefused() {
    assertThatThrownBy(
            () ->
                new Stage.Target(
                    null,
                    "files",
                    "directory",
                    List.of(),
                    "a",
                    "a",
                    "",
                    new Doors(List.of("a/b"), false)))
        .hasMessageContaining("plain name");
    assertThat(Doors.problem("postgresql", new Doors(List.of(), true)))
        .contains("nobody cannot be ended");
  }

  @Test
  void namesAreKeptOnceAndNotWithoutEnd() {
    assertThat(new Doors(List.of(" desk ", "desk", ""), false).names()).containsExactly("desk");
    assertThatThrownBy(
            () ->
                new Doors(
                    java.util.stream.IntStream.range(0, 51).mapToObj(n -> "a" + n).toList(), false))
        .hasMessageContaining("At most 50");
    assertThat(new Doors(Collections.nCopies(60, "desk"), false).names()).hasSize(1);
  }
}
