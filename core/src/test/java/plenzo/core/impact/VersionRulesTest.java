package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Column;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Exchanges.Progress;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Grants;
import plenzo.core.target.Grants.Grant;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/** What a version tells of names and rows, and who may use what it brings. */
class VersionRulesTest {
  private static final ComponentKey ROWS = ComponentKey.of("records/fares.band");
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableStructure TABLE =
      new TableStructure(
          List.of(new Column("code", "text", true, null, null, null, null, null)),
          List.of(),
          List.of(),
          null);

  private static List<String> found(
      List<ComponentResult> components, TablesDelta delta, Grants grants, ImpactCase.Told told) {
    ImpactCase c =
        new ImpactCase(
            components,
            Map.of(),
            delta,
            Map.of(),
            Map.of(),
            List.of(),
            (component, difference, limit, row) -> {},
            new ImpactCase.Asking() {
              @Override
              public Question.Answer answer(Question question) {
                throw new IllegalStateException("Nothing is counted");
              }

              @Override
              public Grants grants(String schema) {
                return grants;
              }

              @Override
              public String maker() {
                return "site_change";
              }
            },
            told);
    return Rules.run(VersionRules.ALL, c).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .toList();
  }

  private static List<String> said(RowsPolicy policy, Counts counts) {
    ImpactCase.Told told =
        new ImpactCase.Told(
            Renaming.NONE,
            t -> Optional.empty(),
            Exchanges.all(Progress.NOT_KNOWN),
            t -> Optional.empty(),
            Map.of(ROWS, policy));
    return found(
        List.of(new ComponentResult(ROWS, Difference.CHANGED, counts, List.of(), "")),
        TablesDelta.NONE,
        Grants.NONE,
        told);
  }

  @Test
  void whatAPolicyDoesToRowsOfTheSite() {
    assertThat(said(RowsPolicy.MIRROR, new Counts(1, 0, 1, 0, 0, 5)))
        .containsExactly(
            "RISK mirror-removes records/fares.band is a mirror: 1 row that only the site has goes.");
    assertThat(said(RowsPolicy.ADD_ONLY, new Counts(1, 0, 0, 0, 1, 5)))
        .containsExactly(
            "NOTE rows-stay records/fares.band is add only: 1 row that the site has otherwise, or alone, stays as it is.");
    assertThat(said(RowsPolicy.MIRROR, new Counts(1, 2, 0, 0, 0, 5))).isEmpty();
    assertThat(said(RowsPolicy.ADD_ONLY, new Counts(1, 0, 0, 0, 0, 5))).isEmpty();
    assertThat(said(RowsPolicy.ADD_AND_CHANGE, new Counts(1, 2, 3, 0, 4, 5))).isEmpty();
  }

  private static List<String> names(Set<TableName> there, Set<TableName> comes) {
    return names(new Renaming(Map.of(BAND, TableName.of("fares.rate")), Map.of()), there, comes);
  }

  private static List<String> names(Renaming wanted, Set<TableName> there, Set<TableName> comes) {
    return told(
        wanted,
        t -> there.contains(t) ? Optional.of(TABLE) : Optional.empty(),
        t -> comes.contains(t) ? Optional.of(TABLE) : Optional.empty());
  }

  private static List<String> told(
      Renaming wanted,
      Function<TableName, Optional<TableStructure>> there,
      Function<TableName, Optional<TableStructure>> comes) {
    return told(wanted, there, Progress.NOT_KNOWN, comes);
  }

  private static List<String> told(
      Renaming wanted,
      Function<TableName, Optional<TableStructure>> there,
      Progress exchanged,
      Function<TableName, Optional<TableStructure>> comes) {
    return found(
        List.of(),
        TablesDelta.NONE,
        Grants.NONE,
        new ImpactCase.Told(wanted, there, Exchanges.all(exchanged), comes, Map.of()));
  }

  /** A column of one table that is called so, beside others. */
  private static Function<TableName, Optional<TableStructure>> having(String... columns) {
    return t ->
        Optional.of(
            new TableStructure(
                Stream.of(columns)
                    .map(c -> new Column(c, "text", true, null, null, null, null, null))
                    .toList(),
                List.of(),
                List.of(),
                null));
  }

  @Test
  void aColumnsNameIsFreeOrTheRunIsStopped() {
    Renaming wanted = Renaming.ofColumns(Map.of(BAND, Map.of("price", "amount")));

    assertThat(told(wanted, having("price"), having("amount"))).isEmpty();
    assertThat(told(wanted, having("amount"), having("amount"))).isEmpty();
    assertThat(told(wanted, having("price", "amount"), having("amount")))
        .containsExactly(
            "BLOCKER name-taken price of fares.band is to be called amount, and both are at the site.");
    assertThat(told(wanted, having("price"), having("amount", "price")))
        .containsExactly(
            "BLOCKER name-reused price of fares.band is to be called amount, and another column then takes its name: one run cannot do both.");
  }

  /** What is new gives way to what had its name; where that is gone, nothing is taken for it. */
  @Test
  void whatIsNewUnderANameThatWasGivenUpGivesWay() {
    Renaming forth =
        Renaming.ofColumns(Map.of(BAND, Map.of("price", "amount")))
            .taking(t -> true, (t, c) -> true);
    Renaming back = forth.inverse();

    assertThat(told(forth, having("price"), having("amount", "price"))).isEmpty();
    assertThat(told(back, having("amount", "price"), having("price"))).isEmpty();
    assertThat(told(back, having("price"), having("price")))
        .containsExactly(
            "BLOCKER name-reused price of fares.band is another column than the one to have that name, which was called amount in between and is not at the site.");
  }

  /**
   * What goes gives its name to another that is there; where that is not, nothing is taken for it.
   */
  @Test
  void whatGoesGivesItsNameToWhatIsThere() {
    Renaming forth =
        Renaming.ofColumns(Map.of(BAND, Map.of("fee", "price"))).leaving(t -> true, (t, c) -> true);
    Renaming back = forth.inverse();
    Function<TableName, Optional<TableStructure>> price = having("price");

    assertThat(told(forth, having("fee", "price"), price)).isEmpty();
    assertThat(told(back, price, having("fee", "price"))).isEmpty();
    assertThat(told(forth, price, price))
        .containsExactly(
            "BLOCKER name-reused fee of fares.band is to be called price and is not at the site: the price that is there would be taken for it.");
    assertThat(told(forth, price, Progress.DONE, price)).as("somebody did it there").isEmpty();
    assertThat(told(forth, having("fee"), price)).as("the other is gone already").isEmpty();
    Renaming tables = new Renaming(Map.of(TableName.of("fares.rate"), BAND), Map.of());
    assertThat(names(tables.leaving(t -> true, (t, c) -> false), Set.of(BAND), Set.of(BAND)))
        .containsExactly(
            "BLOCKER name-reused fares.rate is to be called fares.band and is not at the site: the fares.band that is there would be taken for it.");
  }

  /** Decided to be kept, it would stand there by a name of ours. */
  @Test
  void whatGivesItsNameAwayCannotStay() {
    Renaming forth =
        Renaming.ofColumns(Map.of(BAND, Map.of("fee", "price"))).leaving(t -> true, (t, c) -> true);
    TableStructure both = having("price", "price (older one)").apply(BAND).orElseThrow();
    TableStructure one = having("price").apply(BAND).orElseThrow();

    assertThat(kept(forth, both))
        .containsExactly(
            "BLOCKER name-reused price of fares.band cannot stay: another takes its name.");
    assertThat(kept(forth, one)).isEmpty();
  }

  private static List<String> kept(Renaming renaming, TableStructure result) {
    TablesDelta delta =
        new TablesDelta(
            List.of(TablesDelta.TableDelta.of(BAND, TABLE, result, null)),
            List.of(),
            List.of(),
            renaming);
    return found(List.of(), delta, Grants.NONE, ImpactCase.Told.NOTHING);
  }

  @Test
  void aNameThatAnotherGivesUpIsFree() {
    TableName rate = TableName.of("fares.rate");
    TableName zone = TableName.of("fares.zone");
    Renaming chain = new Renaming(Map.of(BAND, rate, zone, BAND), Map.of());

    assertThat(names(chain, Set.of(BAND, zone), Set.of(BAND, rate))).isEmpty();
    assertThat(names(chain, Set.of(BAND, rate), Set.of(BAND, rate))).isEmpty();
    assertThat(names(chain, Set.of(BAND), Set.of(BAND, rate)))
        .containsExactly(
            "BLOCKER name-reused fares.band is to be called fares.rate, and another table then takes its name: one run cannot do both.");
  }

  /** What is there does not tell whether names changed places: that must be known. */
  @Test
  void namesThatChangePlacesAreKnownOrTheRunIsStopped() {
    TableName rate = TableName.of("fares.rate");
    Renaming tables = new Renaming(Map.of(BAND, rate, rate, BAND), Map.of());
    Renaming columns = Renaming.ofColumns(Map.of(BAND, Map.of("a", "b", "b", "a")));
    Function<TableName, Optional<TableStructure>> all = having("a", "b");

    assertThat(told(tables, all, all))
        .containsExactlyInAnyOrder(
            "BLOCKER name-taken fares.band and fares.rate change places, and nothing that was remembered of the site tells whether they did.",
            "BLOCKER name-taken fares.rate and fares.band change places, and nothing that was remembered of the site tells whether they did.");
    assertThat(told(columns, all, all))
        .contains(
            "BLOCKER name-taken a of fares.band and b change places, and nothing that was remembered of the site tells whether they did.");
    for (Progress known : List.of(Progress.TO_DO, Progress.DONE)) {
      assertThat(told(tables, all, known, all)).isEmpty();
      assertThat(told(columns, all, known, all)).isEmpty();
    }
  }

  @Test
  void aNameIsFreeOrTheRunIsStopped() {
    TableName rate = TableName.of("fares.rate");

    assertThat(names(Set.of(BAND, rate), Set.of(rate)))
        .containsExactly(
            "BLOCKER name-taken fares.band is to be called fares.rate, and both are at the site.");
    assertThat(names(Set.of(BAND), Set.of(rate, BAND)))
        .containsExactly(
            "BLOCKER name-reused fares.band is to be called fares.rate, and another table then takes its name: one run cannot do both.");
    assertThat(names(Set.of(BAND), Set.of(rate))).isEmpty();
    assertThat(Stream.of("name-taken", "name-reused", "mirror-removes").filter(Rules::mayLower))
        .isEmpty();
  }

  private static List<String> granted(long tables, Grant... all) {
    TablesDelta delta =
        new TablesDelta(
            List.of(TablesDelta.TableDelta.of(new TableName("fares", "Night"), null, TABLE, null)),
            List.of());
    return found(List.of(), delta, new Grants(tables, List.of(all)), ImpactCase.Told.NOTHING);
  }

  @Test
  void whoMayUseMostTablesAndNotTheNewOneIsNamed() {
    assertThat(
            granted(
                4,
                new Grant("desk", "SELECT", 4, Set.of("somebody")),
                new Grant("desk", "INSERT", 3, Set.of()),
                new Grant("desk", "DELETE", 2, Set.of()),
                new Grant("reports", "SELECT", 4, Set.of("site_change"))))
        .containsExactly(
            "RISK not-granted desk may INSERT, SELECT most tables of fares, and not fares.Night, which is new: the version carries no such grant.");
    assertThat(granted(1, new Grant("desk", "SELECT", 1, Set.of()))).isEmpty();
    assertThat(granted(3)).isEmpty();
  }
}
