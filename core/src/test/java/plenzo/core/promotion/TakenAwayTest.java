package plenzo.core.promotion;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.PartDifference;

/** The loss that a person confirms: all that is there now and will not be, and nothing else. */
class TakenAwayTest {
  private static ComponentResult component(
      String key, Difference difference, long removed, PartDifference... parts) {
    return new ComponentResult(
        ComponentKey.of(key), difference, new Counts(1, 1, removed, 0, 3, 9), List.of(parts), "");
  }

  private static PartDifference part(PartDifference.Part part, String name, Difference difference) {
    return new PartDifference(part, name, difference, List.of(), null);
  }

  @Test
  void rowsAreCountedPartsAndComponentsNamed() {
    assertThat(
            TakenAway.of(
                List.of(
                    component("records/fares.concession", Difference.CHANGED, 1_204),
                    component("records/fares.band", Difference.REMOVED, 1),
                    component(
                        "table/fares.booking",
                        Difference.CHANGED,
                        1,
                        part(PartDifference.Part.COLUMN, "note", Difference.REMOVED),
                        part(PartDifference.Part.INDEX, "by_day", Difference.ADDED)),
                    component("table/fares.old", Difference.REMOVED, 1),
                    component("rule/fares.peak", Difference.REMOVED, 0))))
        .containsExactly(
            "1,204 rows of fares.concession",
            "1 row of fares.band",
            "column note of fares.booking",
            "table/fares.old",
            "rule/fares.peak");
  }

  @Test
  void whatComesChangesOrStaysIsNoLoss() {
    assertThat(
            TakenAway.of(
                List.of(
                    component("records/fares.concession", Difference.CHANGED, 0),
                    component("table/fares.new", Difference.ADDED, 0),
                    component("rule/fares.peak", Difference.KEPT, 0),
                    component("file/fares/a.txt", Difference.CHANGED, 0))))
        .isEmpty();
  }
}
