package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.Renaming;

/** Names that cannot be given. */
class NamesTakenTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName RATE = TableName.of("fares.rate");
  private static final Renaming WANTED = new Renaming(Map.of(BAND, RATE), Map.of());

  private static List<String> rules(Set<TableName> there, Set<TableName> comes) {
    return NamesTaken.of(WANTED, there::contains, comes::contains).stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.place())
        .toList();
  }

  @Test
  void areThoseOfTablesThatAreThere() {
    assertThat(rules(Set.of(BAND, RATE), Set.of(RATE)))
        .containsExactly("BLOCKER name-taken table/fares.rate");
    assertThat(rules(Set.of(BAND), Set.of(RATE))).isEmpty();
    assertThat(rules(Set.of(RATE), Set.of(RATE))).isEmpty();
  }

  @Test
  void areThoseThatAnotherTakesInTheSameRun() {
    assertThat(rules(Set.of(BAND), Set.of(RATE, BAND)))
        .containsExactly("BLOCKER name-reused table/fares.band");
    assertThat(rules(Set.of(RATE), Set.of(RATE, BAND))).isEmpty();
  }
}
