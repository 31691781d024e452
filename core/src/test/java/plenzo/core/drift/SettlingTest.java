package plenzo.core.drift;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.component.ComponentKey;
import plenzo.core.json.Json;

/** What is put back, what is left, and how what differs is named and kept. */
class SettlingTest {
  private static final ComponentKey ROWS = ComponentKey.of("records/fares.band");
  private static final String ROW = "records/fares.band#row/\"PEAK\"";

  @Test
  void allThatIsRecordedIsPutBackAndNothingThatIsOnlyThereGoes() {
    assertThat(PutBack.ALL.puts(ROW)).isTrue();
    assertThat(PutBack.ALL.takesAway(ROW)).isFalse();
  }

  @Test
  void whatIsNamedAloneIsPutBack() {
    PutBack one = PutBack.of(Set.of(ROW), Set.of());

    assertThat(one.puts(ROW)).isTrue();
    assertThat(one.puts("records/fares.band#row/\"DAY\"")).isFalse();
    assertThat(one.puts("records/fares.band")).isFalse();
  }

  @Test
  void aComponentMeansAllOfItsPartsAndNoneOfAnotherThatBeginsLikeIt() {
    PutBack all = PutBack.of(Set.of("records/fares.band"), Set.of());

    assertThat(all.puts(ROW)).isTrue();
    assertThat(all.puts("records/fares.band")).isTrue();
    assertThat(all.puts("records/fares.bands#row/\"A\"")).isFalse();
  }

  @Test
  void whoNamesOnlyWhatGoesPutsNothingElseBack() {
    PutBack away = PutBack.of(Set.of(), Set.of(ROW));

    assertThat(away.takesAway(ROW)).isTrue();
    assertThat(away.puts("records/fares.band#row/\"DAY\"")).isFalse();
  }

  @Test
  void whatIsLeftIsLeftUntilItsDayIsOver() {
    Left left = new Left(ROW, "agreed", "tove", Instant.EPOCH, LocalDate.of(2027, 3, 31));

    assertThat(left.holds(Instant.parse("2027-03-31T23:59:59Z"))).isTrue();
    assertThat(left.holds(Instant.parse("2027-04-01T00:00:00Z"))).isFalse();
    assertThat(left.covers(ROW)).isTrue();
    assertThat(left.covers("records/fares.band#row/\"PEAK2\"")).isFalse();
  }

  @Test
  void aWholeComponentIsNamedByItself() {
    assertThat(new Differing(ROWS, "table/", Differing.How.GONE, List.of()).place())
        .isEqualTo("records/fares.band");
    assertThat(new Differing(ROWS, "row/\"PEAK\"", Differing.How.GONE, List.of()).place())
        .isEqualTo(ROW);
  }

  @Test
  void isKeptAsALineAndReadAgain() {
    Differing one =
        new Differing(
            ROWS,
            "row/\"PEAK\\n\"",
            Differing.How.CHANGED,
            List.of(
                AttributeDifference.of("amount", "9.00", null, false, false),
                AttributeDifference.of("note", null, "x", true, false)));

    String line = one.toJson().canonical();

    assertThat(line).doesNotContain("\n");
    assertThat(Differing.of(Json.parse(line))).isEqualTo(one);
  }

  @Test
  void sidesSayHowItDiffers() {
    assertThat(Differing.How.of(true, true)).isEqualTo(Differing.How.CHANGED);
    assertThat(Differing.How.of(false, true)).isEqualTo(Differing.How.GONE);
    assertThat(Differing.How.of(true, false)).isEqualTo(Differing.How.ONLY_THERE);
    assertThat(Differing.How.of("only-there")).isEqualTo(Differing.How.ONLY_THERE);
    assertThatThrownBy(() -> Differing.How.of("lost"))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("one of: changed, gone, only-there");
  }
}
