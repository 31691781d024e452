package plenzo.core.comparison;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which items of two lists are the same, in their order. */
class MatchingTest {
  private static List<String> items(String text) {
    return text.isEmpty() ? List.of() : List.of(text.split(""));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "~~ | ~~ | ~~",
        "abc | abc | 0 1 2",
        "abc | ~~ | -1 -1 -1",
        // the ends, and what was changed between them
        "abc | axc | 0 -1 2",
        // what was added in front moves all
        "abc | xxabc | 2 3 4",
        // what was taken away
        "abcd | ad | 0 -1 -1 1",
        // one of several that are equal
        "aab | ab | 0 -1 1",
        // exchanged ones match once
        "ab | ba | -1 0",
      })
  void findsWhatStayed(String a, String b, String expected) {
    List<String> found = new ArrayList<>();
    for (int at : Matching.of(items(a), items(b))) {
      found.add(String.valueOf(at));
    }
    assertThat(String.join(" ", found)).isEqualTo(expected);
  }

  /** Held against a slow search for the longest, on lists that seeds make. */
  @Test
  void isNeverShorterThanThereIs() {
    for (long seed = 0; seed < 300; seed++) {
      Random random = new Random(seed);
      List<Integer> a = some(random);
      List<Integer> b = some(random);
      int[] matched = Matching.of(a, b);

      int last = -1;
      int count = 0;
      for (int i = 0; i < matched.length; i++) {
        if (matched[i] >= 0) {
          assertThat(matched[i]).as("seed %d ascends", seed).isGreaterThan(last);
          assertThat(b.get(matched[i])).as("seed %d", seed).isEqualTo(a.get(i));
          last = matched[i];
          count++;
        }
      }
      assertThat(count).as("seed %d: %s %s", seed, a, b).isEqualTo(longest(a, b, 0, 0));
    }
  }

  private static List<Integer> some(Random random) {
    List<Integer> out = new ArrayList<>();
    for (int n = random.nextInt(8); n > 0; n--) {
      out.add(random.nextInt(4));
    }
    return out;
  }

  private static int longest(List<Integer> a, List<Integer> b, int i, int j) {
    if (i == a.size() || j == b.size()) {
      return 0;
    }
    int skipped = Math.max(longest(a, b, i + 1, j), longest(a, b, i, j + 1));
    return a.get(i).equals(b.get(j)) ? Math.max(skipped, 1 + longest(a, b, i + 1, j + 1)) : skipped;
  }

  /** More pairs than are held against each other: what both begin and end with still matches. */
  @Test
  void matchesTheEndsOfListsThatAreTooLong() {
    List<String> a = new ArrayList<>(Collections.nCopies(2500, "a"));
    List<String> b = new ArrayList<>(Collections.nCopies(2500, "b"));
    for (List<String> list : List.of(a, b)) {
      list.set(0, "first");
      list.set(2499, "last");
    }

    int[] matched = Matching.of(a, b);

    assertThat(matched[0]).isZero();
    assertThat(matched[2499]).isEqualTo(2499);
    assertThat(matched[1]).isEqualTo(-1);
  }
}
