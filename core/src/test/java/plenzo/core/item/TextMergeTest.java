package plenzo.core.item;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Decision;

/** A text that both sides moved is taken line by line from whoever moved it. */
class TextMergeTest {
  private static final String BASE = "Dover\nCalais\nRoscoff\nCork\n";

  private static TextMerge merge(String present, String incoming) {
    return TextMerge.of(BASE, present, incoming).orElseThrow();
  }

  @Test
  void takesTheLinesThatEitherSideMoved() {
    assertThat(
            merge("Dover\nCalais Port\nRoscoff\nCork\n", "Dover\nCalais\nRoscoff\nCork\nBrest\n")
                .both(Map.of()))
        .contains("Dover\nCalais Port\nRoscoff\nCork\nBrest\n");
  }

  @Test
  void keepsTheEndOfTheText() {
    assertThat(
            merge("Dover\nCalais\nRoscoff\nCork", "Hull\nCalais\nRoscoff\nCork\n").both(Map.of()))
        .as("one side took the last line break away")
        .contains("Hull\nCalais\nRoscoff\nCork");
  }

  @Test
  void asksOfLinesThatBothMoved() {
    TextMerge m = merge("Dover\nA\nRoscoff\nX\n", "Dover\nB\nRoscoff\nCork\n");
    assertThat(m.both(Map.of())).isEmpty();
    assertThat(m.both(Map.of("line 1", Decision.KEEP))).as("of other lines").isEmpty();

    assertThat(m.both(Map.of("line 2", Decision.KEEP))).contains("Dover\nA\nRoscoff\nX\n");
    assertThat(m.both(Map.of("line 2", Decision.TAKE_INCOMING))).contains("Dover\nB\nRoscoff\nX\n");
  }

  @Test
  void showsWhatBothHadBefore() {
    List<AttributeDifference> all =
        merge("Dover\nA\nRoscoff\nCork\n", "Dover\nB\nRoscoff\nCork\nBrest\n").differences();

    assertThat(all).extracting(AttributeDifference::name).containsExactly("line 2", "after line 4");
    AttributeDifference moved = all.get(0);
    assertThat(moved.present()).isEqualTo("A");
    assertThat(moved.incoming()).isEqualTo("B");
    assertThat(moved.base()).isEqualTo(AttributeDifference.Side.of("Calais"));
    assertThat(all.get(1).base()).isEqualTo(AttributeDifference.Side.ABSENT);
    assertThat(all.get(1).presentAbsent()).isTrue();
  }

  @Test
  void isNotMadeOfTextsWithTooManyLines() {
    assertThat(TextMerge.of("\n".repeat(5001), "a", "b")).isEmpty();
    assertThat(TextMerge.of("\n".repeat(4999), "a", "b")).isPresent();
  }
}
