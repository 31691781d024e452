package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.Exchanges.Progress;

/** Names that change places, as a server's own numbers tell. */
class ExchangesTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName RATE = TableName.of("fares.rate");
  private static final Map<TableName, TableName> TABLES = Map.of(BAND, RATE, RATE, BAND);
  private static final Map<String, String> COLUMNS = Map.of("a", "b", "b", "c", "c", "a");

  private static Progress tables(Map<TableName, Long> before, Map<TableName, Long> now) {
    return Exchanges.byNumbers(t -> numbered(before.get(t)), t -> numbered(now.get(t)))
        .tables(TABLES);
  }

  private static Optional<Numbered> numbered(Long table) {
    return Optional.ofNullable(table).map(n -> new Numbered(n, Map.of()));
  }

  private static Progress columns(Numbered before, Numbered now) {
    return Exchanges.byNumbers(
            t -> t.equals(BAND) ? Optional.ofNullable(before) : Optional.empty(),
            t -> t.equals(RATE) ? Optional.ofNullable(now) : Optional.empty())
        .columns(BAND, RATE, COLUMNS);
  }

  @Test
  void tablesAreKnownByTheirNumbers() {
    Map<TableName, Long> before = Map.of(BAND, 7L, RATE, 8L);

    assertThat(tables(before, before)).isEqualTo(Progress.TO_DO);
    assertThat(tables(before, Map.of(BAND, 8L, RATE, 7L))).isEqualTo(Progress.DONE);
    assertThat(tables(before, Map.of(BAND, 8L, RATE, 9L))).isEqualTo(Progress.NOT_KNOWN);
    assertThat(tables(before, Map.of(BAND, 9L, RATE, 8L))).isEqualTo(Progress.NOT_KNOWN);
    assertThat(tables(before, Map.of(BAND, 7L))).isEqualTo(Progress.NOT_KNOWN);
  }

  /** What is missing on both sides is not the same one. */
  @Test
  void whatWasNotRememberedTellsNothing() {
    assertThat(tables(Map.of(), Map.of())).isEqualTo(Progress.NOT_KNOWN);
    assertThat(tables(Map.of(BAND, 7L), Map.of(BAND, 7L))).isEqualTo(Progress.NOT_KNOWN);
    assertThat(tables(Map.of(BAND, 7L), Map.of(RATE, 7L))).isEqualTo(Progress.NOT_KNOWN);
    assertThat(columns(new Numbered(7, Map.of("a", 1)), new Numbered(7, Map.of("a", 1))))
        .isEqualTo(Progress.NOT_KNOWN);
    assertThat(columns(null, new Numbered(7, Map.of()))).isEqualTo(Progress.NOT_KNOWN);
    assertThat(columns(new Numbered(7, Map.of()), null)).isEqualTo(Progress.NOT_KNOWN);
  }

  @Test
  void columnsAreKnownByTheirNumbersInTheSameTable() {
    Numbered before = new Numbered(7, Map.of("a", 1, "b", 2, "c", 3));

    assertThat(columns(before, before)).isEqualTo(Progress.TO_DO);
    assertThat(columns(before, new Numbered(7, Map.of("b", 1, "c", 2, "a", 3))))
        .isEqualTo(Progress.DONE);
    assertThat(columns(before, new Numbered(7, Map.of("b", 1, "a", 2, "c", 3))))
        .isEqualTo(Progress.NOT_KNOWN);
    // made anew, its columns have numbers of their own
    assertThat(columns(before, new Numbered(9, before.columns()))).isEqualTo(Progress.NOT_KNOWN);
  }
}
