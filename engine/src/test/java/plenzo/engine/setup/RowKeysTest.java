package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;

class RowKeysTest {
  private static final Column ROUTE = column("route", "text", true);
  private static final Column PRICE = column("price", "numeric(6,2)", true);
  private static final Column NUMBER =
      new Column("id", "bigint", true, null, "ALWAYS", null, null, null);

  private static Column column(String name, String type, boolean notNull) {
    return new Column(name, type, notNull, null, null, null, null, null);
  }

  private static Constraint key(Constraint.Type type, String... columns) {
    return new Constraint("k", type, "", List.of(columns), null, List.of());
  }

  private static TableStructure table(List<Column> columns, Constraint... keys) {
    return new TableStructure(columns, List.of(keys), List.of(), null);
  }

  private static String proposed(TableStructure table) {
    List<String> key = RowKeys.proposed(table);
    return key + " " + RowKeys.problem(table, key) + RowKeys.remark(table, key);
  }

  @Test
  void aKeyThatMeansSomethingIsBetterThanOneThatIsMade() {
    TableStructure both =
        table(
            List.of(NUMBER, ROUTE),
            key(Constraint.Type.PRIMARY, "id"),
            key(Constraint.Type.UNIQUE, "route"));

    assertThat(proposed(both)).isEqualTo("[route] ");
    assertThat(proposed(table(List.of(NUMBER, ROUTE), key(Constraint.Type.PRIMARY, "id"))))
        .startsWith("[id] the key id is made by each database");
    assertThat(
            proposed(
                table(
                    List.of(NUMBER, ROUTE, column("said", "text", false)),
                    key(Constraint.Type.UNIQUE, "id"))))
        .as("the only one that it keeps")
        .startsWith("[id] the key id is made by each database");
    assertThat(proposed(table(List.of(PRICE, ROUTE), key(Constraint.Type.PRIMARY, "route"))))
        .isEqualTo("[route] ");
  }

  @Test
  void withoutAKeyAllColumnsTellRowsApartWhereTheyCan() {
    assertThat(proposed(table(List.of(ROUTE, PRICE))))
        .isEqualTo(
            "[price, route] it has no key: rows are told apart by all columns, so a changed row is one that goes and one that comes");
    assertThat(proposed(table(List.of(ROUTE, column("said", "text", false)))))
        .startsWith("[route, said] it has no key: rows are told apart by all columns");
    assertThat(proposed(table(List.of(ROUTE, column("said", "jsonb", true)))))
        .startsWith("[route, said] it has no key: rows are told apart by all columns");
    assertThat(proposed(table(List.of()))).isEqualTo("[] it has no primary or unique key");
  }

  @Test
  void aKeyIsFilledWhereTheTableHasOneOfItsOwn() {
    Column said = column("said", "text", false);
    TableStructure some = table(List.of(ROUTE, said), key(Constraint.Type.PRIMARY, "route"));

    assertThat(RowKeys.problem(some, List.of("said"))).isEqualTo("the key column said may be null");
    assertThat(RowKeys.problem(table(List.of(ROUTE, said)), List.of("route", "said"))).isEmpty();
    assertThat(RowKeys.problem(some, List.of("route", "gone"))).isEqualTo("it has no column gone");
  }

  @Test
  void columnsStandInTheOrderOfTheTableWhereThatIsKnown() {
    TableStructure laid =
        new TableStructure(List.of(ROUTE, PRICE), List.of(), List.of(), null)
            .ordered(List.of("route", "price"));

    assertThat(RowKeys.proposed(laid)).containsExactly("route", "price");
  }

  @Test
  void aBackupTakesAnyKeyThatTheTableKeeps() {
    assertThat(RowKeys.own(table(List.of(ROUTE, PRICE), key(Constraint.Type.UNIQUE, "route"))))
        .containsExactly("route");
    assertThat(
            RowKeys.own(
                table(
                    List.of(NUMBER, ROUTE),
                    key(Constraint.Type.UNIQUE, "route"),
                    key(Constraint.Type.PRIMARY, "id"))))
        .containsExactly("id");
    assertThat(RowKeys.own(table(List.of(ROUTE, PRICE)))).isEmpty();
    assertThat(
            RowKeys.own(
                table(List.of(column("said", "text", false)), key(Constraint.Type.UNIQUE, "said"))))
        .as("it may be null in many rows")
        .isEmpty();
  }

  @Test
  void aColumnThatIsComputedTellsNothing() {
    Column gross =
        new Column("gross", "numeric(6,2)", true, null, null, null, null, null, "price * 1.2");

    assertThat(proposed(table(List.of(ROUTE, PRICE, gross)))).startsWith("[price, route] it has");
    assertThat(RowKeys.problem(table(List.of(ROUTE, gross)), List.of("gross")))
        .isEqualTo("the key column gross is computed");
  }

  @Test
  void wholeRowsAreThoseOfNoKey() {
    List<String> all = List.of("route", "price");

    assertThat(RowKeys.isWholeRow(table(List.of(ROUTE, PRICE)), all)).isTrue();
    assertThat(RowKeys.isWholeRow(table(List.of(ROUTE, PRICE)), List.of("route"))).isFalse();
    assertThat(
            RowKeys.isWholeRow(
                table(List.of(ROUTE, PRICE), key(Constraint.Type.PRIMARY, "route", "price")), all))
        .isFalse();
    assertThat(
            RowKeys.isWholeRow(
                table(List.of(ROUTE, PRICE), key(Constraint.Type.UNIQUE, "route")), all))
        .isFalse();
  }

  @ParameterizedTest
  @CsvSource({
    "text, text, true",
    "integer, bigint, true",
    "bigint, smallint, true",
    "character varying(6), character varying(100), true",
    "character varying, text, true",
    "character(3), text, false",
    "'numeric(6,2)', 'numeric(8,2)', false",
    "date, text, false",
    "integer, text, false",
    "integer[], bigint[], false"
  })
  void aColumnTellsRowsApartAsBeforeWhereItsValuesPrintTheSame(
      String was, String is, boolean same) {
    Optional<Column> before = Optional.of(column("said", was, false));

    assertThat(RowKeys.tellsTheSame(before, Optional.of(column("said", is, false))))
        .isEqualTo(same);
    assertThat(RowKeys.tellsTheSame(before, Optional.empty())).isFalse();
    assertThat(
            RowKeys.tellsTheSame(
                before, Optional.of(column("said", was, false).computed("upper(code)"))))
        .isFalse();
  }
}
