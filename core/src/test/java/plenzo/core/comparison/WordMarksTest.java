package plenzo.core.comparison;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

class WordMarksTest {
  private static String marked(List<WordMarks.Run> runs) {
    return runs.stream()
        .map(r -> r.differs() ? "[" + r.text() + "]" : r.text())
        .collect(Collectors.joining());
  }

  @Test
  void marksTheWordsThatDifferAndNoOthers() {
    WordMarks m =
        WordMarks.between("Pets travel on deck.", "Pets travel on the car deck.").orElseThrow();

    assertThat(marked(m.present())).isEqualTo("Pets travel on deck.");
    assertThat(marked(m.incoming())).isEqualTo("Pets travel on [the car ]deck.");
  }

  @Test
  void marksNothingWhereAllDiffersNothingDiffersOrTheTextIsLong() {
    assertThat(WordMarks.between("1.15", "2.30")).isEmpty();
    assertThat(WordMarks.between("same", "same")).isEmpty();
    assertThat(WordMarks.between("a ".repeat(300), "a ".repeat(299) + "b")).isEmpty();
  }

  @Test
  void takesANumberAsOneWord() {
    assertThat(WordMarks.between("1.10", "1.15")).isEmpty();
    WordMarks m =
        WordMarks.between("at most 1,200.50 in all", "at most 1,300.50 in all").orElseThrow();
    assertThat(marked(m.incoming())).isEqualTo("at most [1,300.50] in all");
  }

  /** Runs give back both texts, and what is not marked is the same on both sides. */
  @Test
  void losesNothingOfRandomTexts() {
    for (long seed = 1; seed <= 500; seed++) {
      Random random = new Random(seed);
      String a = text(random);
      String b = text(random);
      WordMarks m = WordMarks.between(a, b).orElse(null);
      if (m == null) {
        continue;
      }
      assertThat(all(m.present())).as("seed " + seed).isEqualTo(a);
      assertThat(all(m.incoming())).as("seed " + seed).isEqualTo(b);
      assertThat(same(m.present())).as("seed " + seed).isEqualTo(same(m.incoming()));
    }
  }

  private static String text(Random random) {
    return random
        .ints(random.nextInt(12), 0, 5)
        .mapToObj(n -> List.of("sea", "Gull ", "7", "-", "\n\ud83d\udea2").get(n))
        .collect(Collectors.joining());
  }

  private static String all(List<WordMarks.Run> runs) {
    return runs.stream().map(WordMarks.Run::text).collect(Collectors.joining());
  }

  private static String same(List<WordMarks.Run> runs) {
    return runs.stream()
        .filter(r -> !r.differs())
        .map(WordMarks.Run::text)
        .collect(Collectors.joining());
  }
}
