package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NeededSequencesTest {
  private static TableStructure table(@Nullable String expression, @Nullable OwnedSequence owned) {
    return new TableStructure(
        List.of(new Column("n", "bigint", false, expression, null, null, owned, null)),
        List.of(),
        List.of(),
        null);
  }

  private static OwnedSequence owned(String name) {
    return new OwnedSequence(name, "bigint", "1", "1", "1", "9", false);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      value = {
        "nextval('fares.s'::regclass) | fares.s",
        "nextval(('s'::text)::regclass) | s",
        "nextval('it''s'::regclass) | it's",
      })
  void areFoundInDefaults(String expression, String name) {
    assertThat(NeededSequences.of(table(expression, null)).byColumn()).containsEntry("n", name);
  }

  @Test
  void areNoneWhereTheColumnOwnsItOrNothingIsDrawn() {
    assertThat(NeededSequences.of(table("nextval('fares.s'::regclass)", owned("s"))).byColumn())
        .isEmpty();
    assertThat(NeededSequences.of(table("'nextval'::text", null)).byColumn()).isEmpty();
    assertThat(NeededSequences.of(table(null, null)).byColumn()).isEmpty();
  }

  @Test
  void areMissingUnlessTheyStandThereOrAColumnOwnsThem() {
    NeededSequences needed = NeededSequences.of(table("nextval('fares.s'::regclass)", null));
    TableStructure other = table(null, null);

    assertThat(needed.missing(List.of(other), List.of("fares.t"))).containsEntry("n", "fares.s");
    assertThat(needed.missing(List.of(other), List.of("fares.s"))).isEmpty();
    assertThat(needed.missing(List.of(other), List.of("other.s")))
        .as("a name with a schema is of that schema")
        .isNotEmpty();
    assertThat(needed.missing(List.of(table(null, owned("s"))), List.of())).isEmpty();
  }

  @Test
  void aNameWithoutSchemaIsFoundInAny() {
    NeededSequences needed = NeededSequences.of(table("nextval(('s'::text)::regclass)", null));

    assertThat(needed.missing(List.of(), List.of("fares.s"))).isEmpty();
    assertThat(needed.missing(List.of(), List.of("fares.as"))).isNotEmpty();
  }
}
