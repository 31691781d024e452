package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Column;
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
        new ImpactCase.Told(Renaming.NONE, t -> false, t -> false, Map.of(ROWS, policy));
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
    Renaming wanted = new Renaming(Map.of(BAND, TableName.of("fares.rate")), Map.of());
    return found(
        List.of(),
        TablesDelta.NONE,
        Grants.NONE,
        new ImpactCase.Told(wanted, there::contains, comes::contains, Map.of()));
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
