package plenzo.core.carrying;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.Removal;

class CarryOverTest {
  private static final TableName BAND = TableName.of("fares.band");
  private final List<String> asked = new ArrayList<>();

  private static Column column(String name, String type) {
    return new Column(name, type, false, null, null, null, null, null);
  }

  private static TableStructure table(Column... columns) {
    return new TableStructure(List.of(columns), List.of(), List.of(), null)
        .ordered(Arrays.stream(columns).map(Column::name).toList());
  }

  private List<String> lines(
      @Nullable TableStructure is,
      @Nullable TableStructure next,
      Map<String, String> renamed,
      @Nullable Set<Removal> removals) {
    TablesDelta delta =
        new TablesDelta(
            List.of(TablesDelta.TableDelta.of(BAND, is, next, null)),
            List.of(),
            List.of(),
            Renaming.ofColumns(Map.of(BAND, renamed)));
    CarryOver found =
        CarryOver.of(
            delta,
            removals,
            (t, columns) -> {
              asked.add(t + " " + columns);
              return new CarryOver.Counted(
                  9, columns.stream().map(c -> (long) c.length()).toList());
            });
    assertThat(CarryOver.read(found.canonical())).isEqualTo(found);
    return found.lines().stream()
        .map(
            l ->
                l.column()
                    + ">"
                    + l.becomes()
                    + " "
                    + l.fate().word()
                    + " "
                    + l.filled()
                    + "/"
                    + l.rows()
                    + " "
                    + l.reason())
        .toList();
  }

  @Test
  void saysOfEachColumnWhatBecomesOfItsValues() {
    assertThat(
            lines(
                table(column("code", "text"), column("price", "integer"), column("old", "text")),
                table(
                    column("code", "text"),
                    column("price", "bigint"),
                    column("half", "bigint").computed("price / 2"),
                    new Column("zone", "text", false, "'N'", null, null, null, null),
                    column("note", "text")),
                Map.of("amount", "price"),
                Set.of(new Removal(ComponentKey.of("table/fares.band"), "column/old"))))
        .containsExactly(
            "code>code carried 4/9 ",
            "amount>price converted 5/9 integer becomes bigint, under its new name",
            "old> not carried 3/9 the version removes it",
            ">half new 0/9 computed from price / 2",
            ">zone new 0/9 each row gets 'N'",
            ">note new 0/9 empty");
    assertThat(asked).containsExactly("fares.band [code, price, old]");
  }

  @Test
  void saysWhatNobodySaidAndWhatAnEarlierVersionLacks() {
    TableStructure is = table(column("code", "text"), column("old", "text"));
    TableStructure next = table(column("code", "text"));

    assertThat(lines(is, next, Map.of(), Set.of()).get(1)).endsWith("no version says that it goes");
    assertThat(lines(is, next, Map.of(), null).get(1))
        .endsWith("the earlier version does not have it");
    assertThat(lines(is, null, Map.of(), null).get(0))
        .isEqualTo("code> not carried 4/9 the earlier version does not have the table");
    assertThat(
            lines(is, null, Map.of(), Set.of(new Removal(ComponentKey.of("table/fares.band"), "")))
                .get(0))
        .endsWith("the version removes the table");
  }

  @Test
  void aRenameAloneIsSaidAndATableThatStaysIsNotAsked() {
    TableStructure same = table(column("code", "text"));
    assertThat(lines(same, same, Map.of("key", "code"), Set.of()))
        .containsExactly("key>code carried 4/9 under its new name");

    asked.clear();
    assertThat(lines(same, same, Map.of(), Set.of())).isEmpty();
    assertThat(lines(null, same, Map.of(), Set.of())).isEmpty();
    assertThat(asked).isEmpty();
  }

  @Test
  void whatIsComputedIsNotLost() {
    Column half = column("half", "bigint");
    assertThat(lines(table(half.computed("a")), table(half.computed("b")), Map.of(), Set.of()))
        .containsExactly("half>half computed 4/9 computed from b");
    assertThat(lines(table(half), table(half.computed("b")), Map.of(), Set.of()))
        .containsExactly("half>half not carried 4/9 computed from b");
  }

  @Test
  void whatIsWorkedOutIsSaidWithItsExpression() {
    TableStructure was = table(column("name", "text"), column("price", "numeric"));
    TableStructure is =
        table(column("first", "text"), column("last", "text"), column("price", "integer"));
    TablesDelta.TableDelta t =
        TablesDelta.TableDelta.of(BAND, was, is, null)
            .converting(
                Map.of(
                    "first", Conversion.of("split_part(name, ' ', 1)", was),
                    "last", Conversion.of("split_part(name, ' ', 2)", was),
                    "price", Conversion.of("price * 100", was)));

    CarryOver found =
        CarryOver.of(
            new TablesDelta(List.of(t), List.of()),
            Set.of(),
            (table, columns) -> new CarryOver.Counted(2, List.of(2L, 2L)));

    assertThat(found.lines())
        .extracting(l -> l.column() + ">" + l.becomes() + " " + l.fate().word() + ": " + l.reason())
        .containsExactly(
            "name> not carried: no version says that it goes; first, last are worked out from it",
            "price>price converted: numeric becomes integer, worked out by price * 100",
            ">first new: worked out by split_part(name, ' ', 1)",
            ">last new: worked out by split_part(name, ' ', 2)");
  }
}
