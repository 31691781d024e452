package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** By what an index tells rows apart, from its definition as a server prints it. */
class IndexKeysTest {
  private static Index index(String behind) {
    return new Index("i", true, "CREATE UNIQUE INDEX i ON fares.band USING " + behind);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '@',
      quoteCharacter = '`',
      value = {
        "btree (code)@code",
        "btree (lower(code))@lower(code)",
        "btree (fares.rank(code), zone DESC NULLS LAST)@fares.rank(code);zone",
        "btree (\"Odd, Name\", ((a || ', '::text) || b))@\"Odd, Name\";((a || ', '::text) || b)",
        "btree (COALESCE(zone, '()'::text))@COALESCE(zone, '()'::text)",
        "btree (((data ->> 'a'::text)))@((data ->> 'a'::text))",
      })
  void keysStandAsTheyCanBeAskedFor(String definition, String keys) {
    assertThat(IndexKeys.of(index(definition)).orElseThrow().keys())
        .isEqualTo(List.of(keys.split(";")));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "btree (code text_pattern_ops)",
        "btree (code COLLATE \"C\")",
        "btree (lower(code) COLLATE \"C\" DESC)",
        "gin (code gin_trgm_ops)",
        "hash (code)",
      })
  void whatFindsOtherValuesEqualIsNotAskedFor(String definition) {
    assertThat(IndexKeys.of(index(definition))).isEmpty();
  }

  @Test
  void oneOverWholeColumnsOfAllRowsHasColumns() {
    assertThat(IndexKeys.of(index("btree (code, \"Odd \"\"Name\")")).orElseThrow().columns())
        .contains(List.of("code", "Odd \"Name"));
    assertThat(IndexKeys.of(index("btree (lower(code))")).orElseThrow().columns()).isEmpty();
    assertThat(IndexKeys.of(index("btree (code) WHERE (zone > 0)")).orElseThrow().columns())
        .isEmpty();
  }

  @Test
  void aConditionAndWhatCountsAsEqualAreRead() {
    IndexKeys some =
        IndexKeys.of(index("btree (code) INCLUDE (zone) WHERE (zone > 0)")).orElseThrow();
    assertThat(some.where()).isEqualTo("(zone > 0)");
    assertThat(some.nullsAreEqual()).isFalse();
    assertThat(IndexKeys.of(index("btree (code) NULLS NOT DISTINCT")).orElseThrow())
        .isEqualTo(new IndexKeys(List.of("code"), null, true));
  }
}
