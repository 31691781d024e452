package plenzo.core.item;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.json.Json;

/** Differences inside files and definitions. */
class ItemDifferenceTest {
  private static List<String> said(List<AttributeDifference> all) {
    return all.stream().map(a -> a.name() + ": " + a.present() + " -> " + a.incoming()).toList();
  }

  @Test
  void namesMembersByTheirPath() {
    Json a = Json.parse("{\"x\":{\"y\":1,\"z\":[true,\"a\"]},\"same\":1,\"gone\":\"g\"}");
    Json b = Json.parse("{\"x\":{\"y\":2,\"z\":[true,\"b\",\"c\"]},\"same\":1}");

    assertThat(said(ItemDifference.members(a, b)))
        .containsExactly("gone: g -> null", "x/y: 1 -> 2", "x/z/1: a -> b", "x/z/2: null -> c");
    assertThat(ItemDifference.members(a, a)).isEmpty();
  }

  @Test
  void tellsNamedItemsApartSoThatAnInsertionIsOneDifference() {
    Json a = Json.parse("{\"fields\":[{\"name\":\"band\"},{\"name\":\"night\"}]}");
    Json b =
        Json.parse("{\"fields\":[{\"name\":\"band\"},{\"name\":\"peak\"},{\"name\":\"night\"}]}");

    assertThat(said(ItemDifference.members(a, b)))
        .containsExactly("fields/peak/name: null -> peak");
  }

  @Test
  void namesRunsOfLines() {
    assertThat(said(ItemDifference.lines("a\nb\nc\nd\n", "a\nB\nc\nd\ne\n")))
        .containsExactly("line 2: b -> B", "after line 4: null -> e");
    assertThat(said(ItemDifference.lines("a\nb\nc", "c")))
        .containsExactly("line 1 to 2: a\nb -> null");
  }

  /** What is not in a run is common to both, in order: taking the runs out leaves the same text. */
  @Test
  void leavesTheCommonLines() {
    Random random = new Random(7);
    for (int round = 0; round < 300; round++) {
      String a = text(random);
      String b = text(random);
      List<AttributeDifference> runs = ItemDifference.lines(a, b);
      long takenA =
          runs.stream().filter(r -> !r.presentAbsent()).mapToLong(r -> lines(r.present())).sum();
      long takenB =
          runs.stream().filter(r -> !r.incomingAbsent()).mapToLong(r -> lines(r.incoming())).sum();
      assertThat(lines(a) - takenA).as(a + " | " + b).isEqualTo(lines(b) - takenB);
      assertThat(runs.isEmpty()).isEqualTo(a.equals(b));
    }
  }

  @Test
  void ofATextThatComesOrGoesAllLinesAreTold() {
    assertThat(ItemDifference.whole(null, "SELECT 1\nFROM t\n"))
        .singleElement()
        .satisfies(
            a -> {
              assertThat(a.name()).isEqualTo("line 1 to 2");
              assertThat(a.presentAbsent()).isTrue();
              assertThat(a.incoming()).isEqualTo("SELECT 1\nFROM t");
            });
    assertThat(ItemDifference.whole("SELECT 1", null))
        .singleElement()
        .satisfies(
            a -> {
              assertThat(a.name()).isEqualTo("line 1");
              assertThat(a.incomingAbsent()).isTrue();
              assertThat(a.present()).isEqualTo("SELECT 1");
            });
    assertThat(ItemDifference.whole(null, "")).isEmpty();
  }

  private static long lines(@org.jspecify.annotations.Nullable String text) {
    return text == null ? 0 : text.split("\n", -1).length;
  }

  private static String text(Random random) {
    List<String> out = new ArrayList<>();
    for (int i = 0; i < 1 + random.nextInt(8); i++) {
      out.add(String.valueOf((char) ('a' + random.nextInt(3))));
    }
    return String.join("\n", out);
  }

  @Test
  void isBounded() {
    StringBuilder a = new StringBuilder();
    StringBuilder b = new StringBuilder();
    for (int i = 0; i < 500; i++) {
      a.append("same\n").append("a").append(i).append('\n');
      b.append("same\n").append("b").append(i).append('\n');
    }
    List<AttributeDifference> runs = ItemDifference.lines(a.toString(), b.toString());
    assertThat(runs).hasSize(201);
    assertThat(runs.get(200).name()).isEqualTo("and 300 more");
  }
}
