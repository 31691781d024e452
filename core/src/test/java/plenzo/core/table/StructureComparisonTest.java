package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;

class StructureComparisonTest {
  private static Column column(String name, String type, boolean notNull) {
    return new Column(name, type, notNull, null, null, null, null, null);
  }

  private static TableStructure table(Column... columns) {
    return new TableStructure(List.of(columns), List.of(), List.of(), null);
  }

  private static final TableStructure BASE =
      table(column("code", "text", true), column("old", "text", false));

  @Test
  void keepsAColumnThatIsOnlyThereAndNeverDropsWhatIsAbsent() {
    TableStructure present =
        table(
            column("code", "text", true),
            column("old", "text", false),
            column("local", "text", false));
    TableStructure incoming =
        table(column("code", "text", true), column("fresh", "integer", false));

    StructureComparison c = StructureComparison.of(BASE, present, incoming, Set.of(), Map.of());

    assertThat(c.result()).isNotNull();
    assertThat(c.result().columns())
        .extracting(Column::name)
        .containsExactly("code", "fresh", "local", "old");
    assertThat(c.parts())
        .extracting(p -> p.name() + " " + p.difference())
        .containsExactly("fresh ADDED", "local KEPT", "old KEPT");
  }

  @Test
  void whatComesStandsBehindWhatIsThereAsItStoodWhereItComesFrom() {
    TableStructure present =
        table(column("z", "text", false), column("a", "text", false)).ordered(List.of("z", "a"));
    TableStructure incoming =
        table(
                column("a", "text", false),
                column("fresh", "text", false),
                column("early", "text", false),
                column("z", "text", false))
            .ordered(List.of("a", "fresh", "early", "z"));

    TableStructure result =
        StructureComparison.of(TableStructure.EMPTY, present, incoming, Set.of(), Map.of())
            .result();

    assertThat(result.inOrder())
        .extracting(Column::name)
        .containsExactly("z", "a", "fresh", "early");
    assertThat(StructureChange.between(new TableName("fares", "band"), present, result))
        .extracting(StructureChange::name)
        .containsExactly("fresh", "early");
  }

  @Test
  void tellsThePartsThatAreTheSame() {
    TableStructure incoming =
        new TableStructure(
            List.of(column("code", "text", true), column("old", "varchar(9)", false)),
            List.of(),
            List.of(),
            "Bands");
    TableStructure present =
        new TableStructure(
            List.of(column("code", "text", true), column("old", "text", false)),
            List.of(),
            List.of(),
            "Bands");
    StructureComparison c = StructureComparison.of(BASE, present, incoming, Set.of(), Map.of());

    List<PartDifference> same = StructureComparison.same(incoming, c.parts());

    assertThat(same).extracting(PartDifference::path).containsExactly("column/code", "comment/");
    assertThat(same.get(0).attributes())
        .as("what a part has, and nothing that it has not")
        .extracting(a -> a.name() + " " + a.present())
        .containsExactly("type text", "not null yes");
    StructureComparison gone = StructureComparison.of(BASE, null, incoming, Set.of(), Map.of());
    assertThat(StructureComparison.same(incoming, gone.parts()))
        .as("of a table that comes whole nothing is the same")
        .isEmpty();
  }

  /** Putting back: what differs becomes as it is recorded, but for what is to stay. */
  @Test
  void whatIsThereIsTheBaseOfWhatIsPutBackButForWhatStays() {
    TableStructure there =
        table(
            column("code", "varchar(5)", true),
            column("kept", "varchar(5)", false),
            column("local", "text", false));
    TableStructure recorded =
        table(
            column("code", "text", true),
            column("gone", "text", false),
            column("kept", "text", false),
            column("missed", "text", false));
    Set<String> stays = Set.of("column/kept", "column/missed", "column/local");

    StructureComparison c =
        StructureComparison.of(
            StructureComparison.asBase(there, recorded, stays::contains),
            there,
            recorded,
            Set.of(),
            Map.of());

    assertThat(c.parts())
        .extracting(p -> p.name() + " " + p.difference())
        .containsExactly("code CHANGED", "gone ADDED", "kept KEPT", "local KEPT", "missed KEPT");
    assertThat(c.result())
        .isEqualTo(
            table(
                column("code", "text", true),
                column("gone", "text", false),
                column("kept", "varchar(5)", false),
                column("local", "text", false)));
    StructureComparison away =
        StructureComparison.of(
            StructureComparison.asBase(there, recorded, part -> true),
            there,
            recorded,
            Set.of("column/local"),
            Map.of());
    assertThat(away.result().column("local")).as("it goes where it is named").isEmpty();
    assertThat(away.difference()).isEqualTo(Difference.CHANGED);
  }

  @Test
  void aTableThatIsGoneComesBackUnlessThatStays() {
    assertThat(StructureComparison.asBase(null, BASE, part -> false)).isNull();
    assertThat(StructureComparison.asBase(null, BASE, part -> true)).isEqualTo(BASE);
  }

  @Test
  void dropsOnlyWhatTheVersionRemoves() {
    StructureComparison c =
        StructureComparison.of(
            BASE, BASE, table(column("code", "text", true)), Set.of("column/old"), Map.of());

    assertThat(c.result()).isEqualTo(table(column("code", "text", true)));
  }

  @Test
  void keepsWhatIsThereUntilAConflictIsDecided() {
    TableStructure present =
        table(column("code", "text", true), column("old", "varchar(5)", false));
    TableStructure incoming = table(column("code", "text", true), column("old", "integer", false));

    StructureComparison open = StructureComparison.of(BASE, present, incoming, Set.of(), Map.of());
    StructureComparison decided =
        StructureComparison.of(
            BASE, present, incoming, Set.of(), Map.of("column/old", Decision.TAKE_INCOMING));

    assertThat(open.difference()).isEqualTo(Difference.CONFLICT);
    assertThat(open.result()).isEqualTo(present);
    assertThat(decided.result()).isEqualTo(incoming);
  }

  @Test
  void addsNotNullOnlyAfterTheRows() {
    List<StructureChange> changes =
        StructureChange.between(
            new TableName("s", "t"),
            table(column("code", "text", true)),
            table(column("code", "text", true), column("n", "integer", true)));

    assertThat(changes)
        .extracting(c -> c.act() + " " + c.act().phase())
        .containsExactly("ADD_COLUMN BEFORE_ROWS", "SET_NOT_NULL AFTER_ROWS");
  }

  @Test
  void readsWhatItWroteAndIgnoresTheOrderOfColumns() {
    TableStructure a = table(column("b", "text", true), column("a", "text", false));
    TableStructure b = table(column("a", "text", false), column("b", "text", true));

    assertThat(TableStructure.of(a.canonical())).isEqualTo(a);
    assertThat(a.canonical()).isEqualTo(b.canonical());
  }
}
