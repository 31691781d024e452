package plenzo.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.version.SemVer;

class WaysBackTest {
  private static final SemVer PRESENT = new SemVer("2.5.0");
  private static final List<TableName> KEYLESS =
      List.of(TableName.of("fares.log"), TableName.of("fares.trace"));

  @Test
  void areBothOpenAfterAVersion() {
    assertThat(WaysBack.afterVersion(PRESENT, List.of(), List.of()))
        .allMatch(Plan.WayBack::possible)
        .noneMatch(w -> w.sentence().contains("close this way"))
        .extracting(Plan.WayBack::way)
        .containsExactly(Plan.Way.EARLIER_VERSION, Plan.Way.BACKUP);
  }

  @Test
  void theBackupIsClosedByRowsWithoutAKeyAndSaysWhich() {
    List<Plan.WayBack> ways = WaysBack.afterVersion(PRESENT, KEYLESS, List.of());

    assertThat(ways.get(0).possible()).isTrue();
    assertThat(ways.get(0).sentence()).contains("fares.log, fares.trace that it cannot hold");
    assertThat(ways.get(1).possible()).isFalse();
    assertThat(ways.get(1).sentence())
        .isEqualTo(
            "Cannot be used: rows of fares.log, fares.trace have no key by which they are told"
                + " apart");
  }

  @Test
  void onlyTheBackupLeadsBackFromARollback() {
    assertThat(WaysBack.afterRollback(List.of(), List.of()))
        .singleElement()
        .satisfies(w -> assertThat(w.way()).isEqualTo(Plan.Way.BACKUP))
        .satisfies(w -> assertThat(w.possible()).isTrue());
    assertThat(WaysBack.afterRollback(KEYLESS, List.of())).noneMatch(Plan.WayBack::possible);
  }

  @Test
  void whatIsBuiltOnSomethingThatGoesOnTheWayClosesAllWays() {
    List<String> held = List.of("operator fares.=== is built on the composite type fares.place");

    assertThat(WaysBack.afterVersion(PRESENT, List.of(), held))
        .noneMatch(Plan.WayBack::possible)
        .extracting(Plan.WayBack::sentence)
        .containsOnly(
            "Cannot be used until it is dropped at the site: operator fares.=== is built on the composite type fares.place, which goes on this way before it is made again");
    assertThat(WaysBack.afterRollback(List.of(), held))
        .singleElement()
        .matches(w -> w.way() == Plan.Way.BACKUP && !w.possible());
  }

  @Test
  void noneLosesAnythingUnasked() {
    assertThat(WaysBack.afterVersion(PRESENT, List.of(), List.of()))
        .allMatch(w -> w.ceiling() == 0);
  }
}
