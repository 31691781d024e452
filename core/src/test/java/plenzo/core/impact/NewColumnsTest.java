package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.OwnedSequence;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** What the rows that are there get in a column that comes, as far as it can be told. */
class NewColumnsTest {
  private static final Column CODE = column("code", "text", null);

  private static Column column(String name, String type, @Nullable String value) {
    return new Column(name, type, false, value, null, null, null, null, null);
  }

  private static TableStructure table(Column... columns) {
    return new TableStructure(List.of(columns), List.of(), List.of(), null);
  }

  private static TablesDelta.TableDelta from(TableStructure was, Column... is) {
    return TablesDelta.TableDelta.of(TableName.of("fares.pier"), was, table(is), null);
  }

  private static String holds(Column comes) {
    return NewColumns.holds(from(table(CODE), CODE, comes), comes.name())
        .map(Conversion::expression)
        .orElse("its own");
  }

  @ParameterizedTest
  @CsvSource({
    "'''north''::text', '''north''::text'",
    ", NULL",
    "now(), now()",
    "'nextval(''fares.s''::regclass)', its own"
  })
  void itsDefaultOrNothing(@Nullable String value, String holds) {
    assertThat(holds(column("area", "text", value))).isEqualTo(holds);
  }

  @Test
  void numbersThatAreDrawnAreEachRowsOwn() {
    OwnedSequence serial =
        new OwnedSequence("s", "bigint", "1", "1", "1", "9223372036854775807", false);
    assertThat(holds(new Column("n", "bigint", true, null, "by default", null, null, null, null)))
        .isEqualTo("its own");
    assertThat(holds(new Column("n", "bigint", true, "1", null, null, serial, null, null)))
        .isEqualTo("its own");
  }

  /** As far as the column tells, a domain gives every row the default that it has itself. */
  @Test
  void aTypeOfSomebodysOwnMayHaveADefault() {
    assertThat(holds(column("price", "fares.amount", null))).isEqualTo("its own");
    assertThat(holds(column("price", "fares.amount", "7"))).isEqualTo("7");
  }

  @Test
  void whatIsComputedOfColumnsThatStay() {
    Column low = CODE.computed("lower(code)");
    Column computed =
        new Column("low", "text", false, null, null, null, null, null, low.generated());
    assertThat(holds(computed)).isEqualTo("lower(code)");

    Column wide = column("code", "character varying(9)", null);
    assertThat(NewColumns.holds(from(table(CODE), wide, computed), "low"))
        .as("of one that becomes another first")
        .isEmpty();
    Column other = new Column("low", "text", false, null, null, null, null, null, "lower(name)");
    Column name = column("name", "text", "'x'::text");
    assertThat(NewColumns.holds(from(table(CODE), CODE, name, other), "low"))
        .as("of one that comes too")
        .isEmpty();
  }

  @Test
  void whatIsThereOrComesWithItsTableIsNotAskedFor() {
    assertThat(NewColumns.holds(from(table(CODE), CODE), "code")).isEmpty();
    assertThat(NewColumns.holds(from(table(CODE), CODE), "none")).isEmpty();
    assertThat(
            NewColumns.holds(
                TablesDelta.TableDelta.of(TableName.of("fares.pier"), null, table(CODE), null),
                "code"))
        .isEmpty();
  }

  @Test
  void rowsWithNothingInOneOfThemNeitherPointNorAreAlike() {
    TablesDelta.TableDelta t =
        from(table(CODE), CODE, column("area", "text", null), column("zone", "text", "'z'"));

    assertThat(NewColumns.someEmpty(t, List.of("code", "area"))).isTrue();
    assertThat(NewColumns.someEmpty(t, List.of("code", "zone"))).isFalse();
  }
}
