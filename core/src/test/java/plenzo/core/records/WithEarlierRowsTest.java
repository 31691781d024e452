package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

/** What was there before a later version brought the same row belongs to the way back as well. */
class WithEarlierRowsTest {
  private static RowReader reader(String columns, Map<String, ? extends List<String>> rows) {
    List<String> names = List.of(columns.split(","));
    StringBuilder out = new StringBuilder(CanonicalCsv.text(names)).append('\n');
    out.append(CanonicalCsv.text(names.stream().map(n -> "text").toList())).append('\n');
    rows.forEach(
        (key, values) -> {
          List<String> all = new ArrayList<>(List.of(key));
          all.addAll(values);
          out.append(CanonicalCsv.text(all)).append('\n');
        });
    return new RowReader(
        new ByteArrayInputStream(out.toString().getBytes(StandardCharsets.UTF_8)), 1);
  }

  private static Map<String, String> read(RowReader rows, String column) {
    Map<String, String> out = new TreeMap<>();
    try (rows) {
      for (Row row = rows.next(); row != null; row = rows.next()) {
        @Nullable String value = row.get(row.header().position(column));
        assertThat(out.put(String.valueOf(row.get(0)), String.valueOf(value))).isNull();
      }
    }
    return out;
  }

  @Test
  void takesTheColumnsOfTheEarlierVersion() {
    Map<String, String> all =
        read(
            new WithEarlierRows(
                reader("code,amount", Map.of("A", List.of("1"))),
                reader("code,amount", Map.of("B", List.of("9"))),
                reader("code,note,amount", Map.of("B", List.of("by hand", "2"))),
                /* all= */ false),
            "amount");

    assertThat(all).isEqualTo(Map.of("A", "1", "B", "2"));
  }

  /** Against the same said with maps, on random sides. */
  @Test
  void addsWhatWasThereAndTheLaterVersionHasToo() {
    long seed = Long.getLong("fuzz.seed", System.nanoTime());
    Random random = new Random(seed);
    for (int n = 0; n < 300; n++) {
      boolean all = random.nextBoolean();
      Map<String, List<String>> rows = some(random, "v");
      Map<String, List<String>> later = some(random, "l");
      Map<String, List<String>> before = some(random, "b");
      Map<String, String> expected = new TreeMap<>();
      before.forEach(
          (key, v) -> {
            if (all || later.containsKey(key)) {
              expected.put(key, v.get(0));
            }
          });
      rows.forEach((key, v) -> expected.put(key, v.get(0)));

      Map<String, String> read =
          read(
              new WithEarlierRows(
                  reader("code,v", rows), reader("code,v", later), reader("code,v", before), all),
              "v");

      assertThat(read).as("seed " + seed).isEqualTo(expected);
    }
  }

  private static Map<String, List<String>> some(Random random, String value) {
    Map<String, List<String>> out = new TreeMap<>();
    for (int n = random.nextInt(8); n > 0; n--) {
      out.put("k" + random.nextInt(9), List.of(value + n));
    }
    return out;
  }
}
