package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.Column;
import plenzo.core.table.ColumnPlaces;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** What no statement changes is said, of tables that are there and stay. */
class PlacesRulesTest {
  private static final TableName VESSEL = TableName.of("fares.vessel");
  private static final TableName FERRY = TableName.of("fares.ferry");
  private static final String ORDER = "NOTE columns-otherwise ";
  private static final String DECLARED = "NOTE declared-otherwise ";

  private static TableStructure table(@Nullable Set<String> handed, String... columns) {
    return new TableStructure(
            Arrays.stream(columns)
                .map(c -> new Column(c, "text", false, null, null, null, null, null))
                .toList(),
            List.of(),
            List.of(),
            null)
        .placed(new ColumnPlaces(List.of(columns), handed));
  }

  private static TableStructure ferry(@Nullable Set<String> handed, String... columns) {
    return table(handed, columns).inheriting(List.of(VESSEL));
  }

  /**
   * @param was the ferry at the site, beside a vessel with a code and a name
   */
  private static List<String> found(
      @Nullable TableStructure was, TableStructure comes, @Nullable TableStructure result) {
    Map<TableName, TableStructure> there = new java.util.HashMap<>();
    there.put(VESSEL, table(null, "code", "name"));
    if (was != null) {
      there.put(FERRY, was);
    }
    TablesDelta delta =
        new TablesDelta(
            result == null
                ? List.of()
                : List.of(TablesDelta.TableDelta.of(FERRY, was, result, null)),
            List.of());
    ImpactCase c =
        new ImpactCase(
            List.of(
                new ComponentResult(
                    ComponentKey.of("table/fares.ferry"),
                    Difference.SAME,
                    Counts.NONE,
                    List.of(),
                    "")),
            Map.of(),
            delta,
            there,
            Map.of(),
            List.of(),
            (component, difference, limit, row) -> {},
            question -> {
              throw new IllegalStateException("Nothing is asked");
            },
            new ImpactCase.Told(
                Renaming.NONE,
                t -> Optional.empty(),
                Exchanges.all(Exchanges.Progress.NOT_KNOWN),
                t -> t.equals(FERRY) ? Optional.of(comes) : Optional.empty(),
                Map.of()));
    return Rules.run(PlacesRules.ALL, c).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .toList();
  }

  @Test
  void anotherOrderIsSaidBesideEqual() {
    assertThat(found(table(null, "code", "cars"), table(null, "cars", "code"), null))
        .containsExactly(
            ORDER
                + "The columns of fares.ferry stand in another order here than in what comes: code, cars instead of cars, code. No statement changes that: it stays.");
    assertThat(found(table(null, "code", "cars"), table(null, "code", "cars"), null)).isEmpty();
  }

  @Test
  void whatComesBehindTheOthersStandsThere() {
    TableStructure was = table(null, "code", "cars");

    assertThat(found(was, table(null, "code", "deck", "cars"), table(null, "code", "cars", "deck")))
        .containsExactly(
            ORDER
                + "The columns of fares.ferry stand in another order here than in what comes: code, cars, deck instead of code, deck, cars. No statement changes that: it stays.");
    assertThat(found(was, table(null, "code", "deck"), table(null, "code", "deck")))
        .as("one that goes stands nowhere")
        .isEmpty();
  }

  @Test
  void aTableThatComesStandsAsTheVersionHasIt() {
    TableStructure comes = ferry(Set.of(), "cars", "code", "name");

    assertThat(found(null, comes, ferry(Set.of(), "code", "name", "cars"))).isEmpty();
  }

  @Test
  void whatATableDeclaresOfWhatItInheritsIsSaid() {
    assertThat(
            found(
                ferry(Set.of("code", "name"), "code", "name"),
                ferry(Set.of(), "code", "name"),
                null))
        .containsExactly(
            DECLARED
                + "In what comes fares.ferry declares the inherited columns code and name itself too; here it has them by inheriting alone. No statement changes that: it stays.");
    assertThat(
            found(
                ferry(Set.of("name"), "code", "name"),
                ferry(Set.of("code", "name"), "code", "name"),
                null))
        .containsExactly(
            DECLARED
                + "Here fares.ferry declares the inherited column code itself too; in what comes it has it by inheriting alone. No statement changes that: it stays.");
  }

  @Test
  void whatIsInheritedFromNothingOrNotKnownIsNotSaid() {
    assertThat(
            found(
                ferry(Set.of("code", "name"), "code", "name", "cars"),
                ferry(Set.of("code", "name"), "code", "name", "cars"),
                null))
        .as("its own column is declared, of course")
        .isEmpty();
    assertThat(
            found(ferry(null, "code", "name"), ferry(Set.of("code", "name"), "code", "name"), null))
        .isEmpty();
    assertThat(found(ferry(Set.of(), "code", "name"), ferry(null, "code", "name"), null)).isEmpty();
  }

  /** The server hands it down before the table could declare it. */
  @Test
  void whatComesToBothIsHandedDown() {
    TableStructure was = ferry(Set.of("code"), "code");
    TableStructure comes = ferry(Set.of("code"), "code", "name");

    assertThat(found(was, comes, ferry(Set.of("code"), "code", "name")))
        .containsExactly(
            DECLARED
                + "In what comes fares.ferry declares the inherited column name itself too; here it has it by inheriting alone. No statement changes that: it stays.");
  }

  @Test
  void ofManyColumnsThoseAreNamedWhereTheOrdersPart() {
    String[] here = new String[40];
    java.util.Arrays.setAll(here, n -> "c" + n);
    String[] there = here.clone();
    there[20] = "c21";
    there[21] = "c20";

    assertThat(found(table(null, here), table(null, there), null))
        .containsExactly(
            ORDER
                + "The columns of fares.ferry stand in another order here than in what comes: …, c20, c21, c22, c23, c24, c25, c26, c27, c28, c29, c30, c31, … instead of …, c21, c20, c22, c23, c24, c25, c26, c27, c28, c29, c30, c31, …. No statement changes that: it stays.");
  }
}
