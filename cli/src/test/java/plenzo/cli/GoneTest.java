package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** What is gone at a source is listed so that people read it: by the dozen in one line. */
class GoneTest {
  private static List<String> columns(String table, int count) {
    return IntStream.range(0, count).mapToObj(n -> table + "#column/c" + n).toList();
  }

  @Test
  void aFewStandOneByOneWithTheirTicks() {
    assertThat(
            DraftCommand.gone(
                List.of("table/fares.old", "table/fares.band#column/a"),
                List.of("table/fares.band#column/a")))
        .containsExactly("[ ] table/fares.old", "[x] table/fares.band#column/a");
  }

  @Test
  void manyOfOneTableStandInOneLineWithHowMany() {
    assertThat(DraftCommand.gone(columns("table/fares.band", 14), List.of()))
        .containsExactly(
            "[ ] table/fares.band: 14 parts, column/c0, column/c1, column/c2, column/c3, column/c4"
                + " and 9 more (all of them with --json)");
  }

  @Test
  void tickedOnesAreNotHiddenAmongTheOthers() {
    List<String> all = columns("table/fares.band", 14);

    assertThat(DraftCommand.gone(all, List.of(all.get(3))))
        .hasSize(2)
        .contains("[x] table/fares.band#column/c3");
  }

  @Test
  void tablesByTheHundredAreCounted() {
    List<String> all = IntStream.range(0, 173).mapToObj(n -> "table/fares.t" + n).toList();

    assertThat(DraftCommand.gone(all, List.of()))
        .hasSize(41)
        .last()
        .isEqualTo("and 133 more (all of them with --json)");
  }
}
