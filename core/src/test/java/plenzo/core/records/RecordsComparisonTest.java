package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;

class RecordsComparisonTest {
  private static final List<String> COLUMNS = List.of("code", "amount");

  private static RowReader reader(Map<String, @Nullable String> rows) {
    StringBuilder text =
        new StringBuilder(CanonicalCsv.text(COLUMNS))
            .append('\n')
            .append(CanonicalCsv.text(List.of("text", "text")))
            .append('\n');
    rows.entrySet().stream()
        .sorted((a, b) -> KeyType.TEXT.compare(a.getKey(), b.getKey()))
        .forEach(
            e ->
                text.append(CanonicalCsv.text(java.util.Arrays.asList(e.getKey(), e.getValue())))
                    .append('\n'));
    return new RowReader(
        new ByteArrayInputStream(text.toString().getBytes(StandardCharsets.UTF_8)), 1);
  }

  private static Map<String, Difference> classes(
      Map<String, @Nullable String> base,
      Map<String, @Nullable String> present,
      Map<String, @Nullable String> incoming,
      Set<String> removals) {
    Map<String, Difference> out = new TreeMap<>();
    RecordsComparison.merge(
        reader(base),
        reader(present),
        reader(incoming),
        removals,
        d -> out.put(d.any().key().get(0), d.difference()));
    return out;
  }

  @Test
  void decidesEachRowByItsThreeSides() {
    Map<String, @Nullable String> base =
        Map.of(
            "same",
            "1",
            "changed",
            "1",
            "drifted",
            "1",
            "both",
            "1",
            "goes",
            "1",
            "stays",
            "1",
            "goesButMoved",
            "1",
            "deletedThere",
            "1");
    Map<String, @Nullable String> present =
        Map.of(
            "same",
            "1",
            "changed",
            "1",
            "drifted",
            "9",
            "both",
            "9",
            "goes",
            "1",
            "stays",
            "1",
            "goesButMoved",
            "9",
            "onlyThere",
            "1",
            "twice",
            "9");
    Map<String, @Nullable String> incoming =
        Map.of(
            "same",
            "1",
            "changed",
            "2",
            "drifted",
            "1",
            "both",
            "2",
            "new",
            "1",
            "twice",
            "2",
            "deletedThere",
            "1");

    Map<String, Difference> found =
        classes(base, present, incoming, Set.of("\"goes\"", "\"goesButMoved\""));

    assertThat(found)
        .containsOnly(
            Map.entry("changed", Difference.CHANGED),
            Map.entry("drifted", Difference.KEPT),
            Map.entry("both", Difference.CONFLICT),
            Map.entry("goes", Difference.REMOVED),
            Map.entry("stays", Difference.KEPT),
            Map.entry("goesButMoved", Difference.CONFLICT),
            Map.entry("onlyThere", Difference.KEPT),
            Map.entry("new", Difference.ADDED),
            Map.entry("twice", Difference.CONFLICT),
            Map.entry("deletedThere", Difference.KEPT));
  }

  @Test
  void tellsNullFromEmpty() {
    Map<String, @Nullable String> withNull = new TreeMap<>();
    withNull.put("a", null);

    assertThat(classes(withNull, withNull, Map.of("a", ""), Set.of()))
        .containsEntry("a", Difference.CHANGED);
    assertThat(classes(withNull, withNull, withNull, Set.of())).isEmpty();
  }

  /** apply(diff(a, b)) = b, for random sides; the seed is printed. */
  @Test
  void givesTheIncomingSideWhenItsDifferencesAreApplied() {
    long seed = System.nanoTime();
    System.out.println("seed " + seed);
    Random random = new Random(seed);
    for (int round = 0; round < 300; round++) {
      Map<String, @Nullable String> present = random(random);
      Map<String, @Nullable String> incoming = random(random);
      Map<String, @Nullable String> result = new TreeMap<>(present);

      Counts counts =
          RecordsComparison.merge(
              null,
              reader(present),
              reader(incoming),
              (b, row) -> true,
              RecordsComparison.Base.PRESENT,
              d -> {
                if (d.incoming() == null) {
                  result.remove(d.any().key().get(0));
                } else {
                  result.put(d.any().key().get(0), d.incoming().get(1));
                }
              });

      assertThat(result).isEqualTo(new TreeMap<>(incoming));
      assertThat(counts.conflict()).isZero();
    }
  }

  private static Map<String, @Nullable String> random(Random random) {
    String[] alphabet = {"a", "B", "ä", "z\"", "x,y", "l\nf", "😀", "\uFB33", "", "\\."};
    Map<String, @Nullable String> out = new TreeMap<>();
    for (int i = random.nextInt(12); i > 0; i--) {
      String value = alphabet[random.nextInt(alphabet.length)];
      out.put(
          alphabet[random.nextInt(alphabet.length)] + random.nextInt(3),
          random.nextInt(4) == 0 ? null : value);
    }
    return out;
  }

  @Test
  void refusesRowsThatDoNotAscend() {
    byte[] text = "\"code\"\n\"integer\"\n\"2\"\n\"10\"\n\"3\"\n".getBytes(StandardCharsets.UTF_8);
    RowReader rows = new RowReader(new ByteArrayInputStream(text), 1);
    List<String> read = new ArrayList<>();

    assertThatThrownBy(
            () -> {
              for (Row row = rows.next(); row != null; row = rows.next()) {
                read.add(row.keyLine());
              }
            })
        .hasMessageContaining("do not ascend");
    assertThat(read).containsExactly("\"2\"", "\"10\"");
  }

  @Test
  void refusesAFileThatWasCutOff() {
    RowReader rows =
        new RowReader(
            new ByteArrayInputStream("\"code\"\n\"text\"\n\"a".getBytes(StandardCharsets.UTF_8)),
            1);

    assertThatThrownBy(rows::next).hasMessageContaining("does not end");
  }
}
