package plenzo.core.comparison;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.comparison.ThreeLists.Stretch;

/** What either side moved of a list stands together where they moved different stretches. */
class ThreeListsTest {
  private static List<String> items(String text) {
    return text.isEmpty() ? List.of() : List.of(text.split(""));
  }

  private static String both(String base, String present, String incoming) {
    return ThreeLists.both(
            ThreeLists.of(items(base), items(present), items(incoming)), clash -> null)
        .map(all -> String.join("", all))
        .orElse("none");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "abcde | aXcde | abcdY | aXcdY",
        "abcde | abcde | aXYZe | aXYZe",
        "abcde | ade | abcdeF | adeF",
        "abc | Xabc | abcY | XabcY",
        // both moved it alike
        "abc | aXc | aXc | aXc",
        "abcd | aXcd | aXcY | aXcY",
        "~~ | ~~ | ab | ab",
        // both moved one stretch
        "abc | aXc | aYc | none",
        "abc | ac | aYc | none",
        "abc | aXbc | aYbc | none",
        // and beside it another one
        "abcde | aXcdZ | aYcde | none",
      })
  void takesWhatEitherSideMoved(String base, String present, String incoming, String expected) {
    assertThat(both(base, present, incoming)).isEqualTo(expected);
  }

  @Test
  void asksOnlyForWhatBothMoved() {
    List<Stretch<String>> stretches = ThreeLists.of(items("abcde"), items("aXcdZ"), items("aYcde"));

    assertThat(ThreeLists.both(stretches, Stretch::incoming)).contains(items("aYcdZ"));
    assertThat(ThreeLists.both(stretches, Stretch::present)).contains(items("aXcdZ"));
    assertThat(stretches.stream().filter(Stretch::clashes).toList())
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.from()).isEqualTo(1);
              assertThat(s.base()).containsExactly("b");
            });
  }

  /** Rules that hold of any three lists: seeds make them. */
  @Test
  void losesNothingOfAnySide() {
    for (long seed = 0; seed < 500; seed++) {
      Random random = new Random(seed);
      List<Integer> base = some(random, List.of());
      List<Integer> present = some(random, base);
      List<Integer> incoming = some(random, base);
      List<Stretch<Integer>> stretches = ThreeLists.of(base, present, incoming);

      assertThat(all(stretches, Stretch::base)).as("seed %d", seed).isEqualTo(base);
      assertThat(all(stretches, Stretch::present)).as("seed %d", seed).isEqualTo(present);
      assertThat(all(stretches, Stretch::incoming)).as("seed %d", seed).isEqualTo(incoming);
      assertThat(ThreeLists.both(ThreeLists.of(base, present, base), s -> null))
          .as("seed %d: one side alone moved", seed)
          .contains(present);
      assertThat(ThreeLists.both(ThreeLists.of(base, present, present), s -> null))
          .as("seed %d: both moved alike", seed)
          .contains(present);
      assertThat(ThreeLists.both(stretches, s -> null))
          .as("seed %d: the sides exchanged", seed)
          .isEqualTo(ThreeLists.both(ThreeLists.of(base, incoming, present), s -> null));
    }
  }

  private static <T> List<T> all(
      List<Stretch<T>> stretches, java.util.function.Function<Stretch<T>, List<T>> side) {
    return stretches.stream().flatMap(s -> side.apply(s).stream()).collect(Collectors.toList());
  }

  private static List<Integer> some(Random random, List<Integer> from) {
    List<Integer> out = new ArrayList<>(from);
    for (int n = random.nextInt(6); n > 0; n--) {
      int at = random.nextInt(out.size() + 1);
      if (at < out.size() && random.nextBoolean()) {
        out.remove(at);
      } else {
        out.add(at, random.nextInt(5));
      }
    }
    return out;
  }
}
