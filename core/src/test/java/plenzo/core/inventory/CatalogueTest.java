package plenzo.core.inventory;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.inventory.Uncarried.Sort;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesDelta.TableDelta;

class CatalogueTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableName OTHER = TableName.of("fares.other");
  private static final Uncarried TRIGGER = new Uncarried(Sort.TRIGGER, "audit", BAND, "t1");
  private static final Uncarried SEQUENCE =
      new Uncarried(Sort.SEQUENCE, "fares.ticket", null, "s1");

  private static TableStructure structure(@Nullable String comment) {
    return new TableStructure(List.of(), List.of(), List.of(), comment);
  }

  private static final Catalogue BEFORE =
      Catalogue.of(
          Map.of(BAND, structure("old"), OTHER, structure("other")),
          List.of(),
          List.of(TRIGGER, SEQUENCE));

  private static TablesDelta delta(@Nullable TableStructure result) {
    return new TablesDelta(List.of(TableDelta.of(BAND, structure("old"), result, null)), List.of());
  }

  private static Catalogue now(TableStructure band, TableStructure other, Uncarried... uncarried) {
    return Catalogue.of(Map.of(BAND, band, OTHER, other), List.of(), List.of(uncarried));
  }

  @Test
  void foreseesWhatThePlanChangesAndNothingElse() {
    Catalogue after = BEFORE.after(delta(structure("new")), List.of());

    assertThat(after.differing(now(structure("new"), structure("other"), TRIGGER, SEQUENCE)))
        .isEmpty();
    assertThat(after.differing(now(structure("old"), structure("other"), TRIGGER, SEQUENCE)))
        .containsExactly("table fares.band is not as foreseen");
    assertThat(after.differing(now(structure("new"), structure("moved"), TRIGGER, SEQUENCE)))
        .containsExactly("table fares.other is not as foreseen");
  }

  @Test
  void namesWhatCameWentAndChangedOfWhatIsNotCarried() {
    Catalogue after = BEFORE.after(TablesDelta.NONE, List.of());
    Uncarried other = new Uncarried(Sort.TRIGGER, "audit", BAND, "t2");
    Uncarried view = new Uncarried(Sort.VIEW, "fares.dear", null, "v");

    assertThat(after.differing(now(structure("old"), structure("other"), other, view)))
        .containsExactly(
            "sequence fares.ticket is gone",
            "trigger audit of fares.band is not as foreseen",
            "view fares.dear is there and was not foreseen");
  }

  @Test
  void foreseesThatWhatWorksOnATableGoesWithIt() {
    Catalogue after = BEFORE.after(delta(null), List.of());

    assertThat(
            after.differing(
                Catalogue.of(Map.of(OTHER, structure("other")), List.of(), List.of(SEQUENCE))))
        .isEmpty();
  }

  @Test
  void comesBackFromItsText() {
    assertThat(Catalogue.read(BEFORE.canonical())).isEqualTo(BEFORE);
  }
}
