package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.inventory.Uncarried;
import plenzo.core.inventory.Uncarried.Sort;
import plenzo.core.promotion.Promotion;
import plenzo.core.table.Column;
import plenzo.core.version.Draft;
import plenzo.core.version.VersionHead;
import plenzo.engine.kit.KitTest;
import plenzo.engine.setup.Adoption;

/** What is not carried is named wherever people decide. */
class UncarriedTest extends KitTest {
  private static final TableName TABLE = TableName.of(BAND);

  private static Uncarried sequence(String name) {
    return new Uncarried(Sort.SEQUENCE, name, null, "d");
  }

  /** A column whose default draws from a sequence by a text that is looked up late. */
  private void drawing() {
    Column next =
        new Column(
            "number", "bigint", false, "nextval(('x'::text)::regclass)", null, null, null, null);
    kit.development().column(BAND, "nothing", next, false);
  }

  private List<Finding> of(Promotion p, String rule) {
    return p.findings().stream().filter(f -> f.rule().equals(rule)).toList();
  }

  @Test
  void aSequenceThatADefaultDrawsFromMustBeThere() {
    kit.adopt();
    drawing();
    kit.seal("1.1.0");

    Promotion p = kit.prepare("1.1.0");

    assertThat(of(p, "sequence-missing"))
        .singleElement()
        .satisfies(f -> assertThat(f.severity()).isEqualTo(Finding.Severity.BLOCKER))
        .satisfies(f -> assertThat(f.place()).isEqualTo("table/fares.band#column/number"));
  }

  @Test
  void oneThatIsThereIsOnlyNamed() {
    kit.adopt();
    kit.production().uncarried(sequence("fares.x"));
    drawing();
    kit.seal("1.1.0");

    Promotion p = kit.prepare("1.1.0");

    assertThat(of(p, "sequence-missing")).isEmpty();
    assertThat(of(p, "not-carried"))
        .singleElement()
        .satisfies(f -> assertThat(f.severity()).isEqualTo(Finding.Severity.NOTE))
        .satisfies(f -> assertThat(f.sentence()).contains("sequence fares.x"));
  }

  @Test
  void aPolicyOnATouchedTableIsARiskAndOnAnotherANote() {
    kit.adopt();
    kit.production().uncarried(new Uncarried(Sort.POLICY, "own", TableName.of("fares.x"), "d"));
    kit.sealPeak("1.1.0", "25.00");
    assertThat(of(kit.prepare("1.1.0"), "row-policy")).isEmpty();

    kit.production().uncarried(new Uncarried(Sort.POLICY, "own", TABLE, "d"));
    kit.sealPeak("1.2.0", "26.00");
    assertThat(of(kit.prepare("1.2.0"), "row-policy"))
        .singleElement()
        .satisfies(f -> assertThat(f.severity()).isEqualTo(Finding.Severity.RISK));
  }

  @Test
  void theCheckOfADraftNamesWhatTheSourceHolds() {
    kit.adopt();
    kit.development()
        .uncarried(sequence("fares.y"))
        .uncarried(new Uncarried(Sort.TRIGGER, "audit", TABLE, "d"));
    drawing();
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    kit.engine()
        .drafts()
        .add(
            kit.ines,
            draft.id(),
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of("table/" + BAND), null, true)));

    List<Finding> found = kit.engine().drafts().check(kit.ines, draft.id()).findings();

    assertThat(found)
        .filteredOn(f -> f.rule().equals("not-carried"))
        .extracting(f -> f.severity() + " " + f.place())
        .containsExactlyInAnyOrder(
            "RISK table/fares.band#trigger/audit",
            "RISK table/fares.band#column/number",
            "NOTE draft");
    assertThat(found).anySatisfy(f -> assertThat(f.sentence()).contains("sequence fares.y"));
  }

  @Test
  void howMuchOfItsSchemaAVersionHasStandsOnItWhenAdoptedAndWhenSealed() {
    kit.production().uncarried(sequence("fares.x"));
    kit.adopt();
    kit.development().uncarried(new Uncarried(Sort.VIEW, "fares.dear", null, "d"));
    kit.sealPeak("1.1.0", "25.00");

    assertThat(coverage("1.0.0"))
        .isEqualTo("1 of 2 things in the schema fares; not: sequence fares.x");
    assertThat(coverage("1.1.0"))
        .isEqualTo("1 of 2 things in the schema fares; not: view fares.dear");
  }

  private String coverage(String number) {
    VersionHead head = kit.read(kept -> kept.versions().head("fares@" + number)).orElseThrow();
    return head.coverage().get(0);
  }

  @Test
  void candidatesNameIt() {
    kit.production().uncarried(sequence("fares.x"));

    assertThat(kit.engine().adoption().candidates(kit.ines, "fares", SITE).uncarried())
        .containsExactly(sequence("fares.x"));
  }
}
