package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is set of a table, in one form. */
class SettingTest {
  /** The server prints columns in their order in the table, which two sites may have otherwise. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE STATISTICS fares.s ON zone, kind FROM fares.band | CREATE STATISTICS fares.s ON kind, zone FROM fares.band",
        "CREATE STATISTICS fares.s (ndistinct) ON z, \"a b\", (lower(z)), (y) FROM fares.band | CREATE STATISTICS fares.s (ndistinct) ON \"a b\", z, (lower(z)), (y) FROM fares.band",
        "CREATE STATISTICS fares.s ON (upper(z)) FROM fares.band | CREATE STATISTICS fares.s ON (upper(z)) FROM fares.band",
      })
  void statisticsHaveTheirColumnsByName(String printed, String kept) {
    assertThat(new Setting("statistics/fares.s", printed).value()).isEqualTo(kept);
    assertThat(new Setting("rule/s", printed).value()).isEqualTo(printed);
  }
}
