package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.List;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.run.RunState;
import plenzo.core.version.Draft;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;

/** Something goes, and another takes its name in the same version, with its values or rows. */
class NamesOfTheGoneTest extends KitTest {
  private static final String BAND = EngineKit.BAND;
  private static final String NEXT = "fares.next";
  private static final String PRICE = "column/price (older one)";

  @BeforeEach
  void world() {
    for (ScriptedDatabase.Base base : List.of(kit.development(), kit.production())) {
      base.table(
          BAND, column("code", "text"), column("price", "numeric"), column("fee", "numeric"));
      base.table(NEXT, column("code", "text"), column("rate", "numeric"));
    }
    kit.adopt("table/" + BAND, "table/" + NEXT);
    kit.production().row(BAND, of("code", "DAY", "price", "1", "fee", "2"));
    kit.production().row(NEXT, of("code", "NEW", "rate", "3"));
  }

  private static TreeMap<String, String> of(String... values) {
    TreeMap<String, String> out = new TreeMap<>();
    for (int n = 0; n < values.length; n += 2) {
      out.put(values[n], values[n + 1]);
    }
    return out;
  }

  /** The price goes, and the fee is called so from then on. */
  private void takesThePrice() {
    kit.development().without(BAND, "price");
    kit.development().column(BAND, "fee", column("price", "numeric"), true);
  }

  /** The table goes, and the next one is called so from then on. */
  private void takesTheTable() {
    kit.development().drop(BAND);
    kit.development().rename(NEXT, BAND);
  }

  private Draft checked() {
    return kit.checked("table/" + BAND);
  }

  private static List<String> stopped(List<Finding> findings) {
    return findings.stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(f -> f.rule() + " " + f.sentence())
        .toList();
  }

  private void seal(String number) {
    kit.sealFrom(number, null, "table/" + BAND);
  }

  private String band(String key, String column) {
    return kit.production().value(BAND, key, column);
  }

  @Test
  void aPersonAgreesThatWhatIsGoneGoes() {
    takesThePrice();

    Draft draft = checked();

    assertThat(stopped(draft.findings()))
        .containsExactly(
            "name-reused price of fares.band is gone, and fee took its name: what it holds goes from the stages too.");
    assertThat(draft.gone()).containsExactly(new Removal(ComponentKey.of("table/" + BAND), PRICE));
    kit.engine().drafts().removals(kit.ines, draft.id(), draft.gone());
    Draft agreed = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(stopped(agreed.findings())).isEmpty();
    assertThat(agreed.findings())
        .extracting(Finding::sentence)
        .contains("fee is price by now: its values go with it.");
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VALUES", mode = EnumSource.Mode.EXCLUDE)
  void aColumnTakesItsValuesAlongAndWhatWentComesBack(Plan.Way way) {
    takesThePrice();
    seal("1.1.0");
    String before = kit.production().state();

    Promotion p = kit.prepare("1.1.0");
    assertThat(stopped(p.findings())).isEmpty();
    assertThat(p.requirePlan().statements())
        .contains("fee of fares.band becomes price")
        .anyMatch(s -> s.contains("price (older one), and goes"));
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);

    assertThat(band("DAY", "price")).isEqualTo("2");
    assertThat(kit.production().structure(BAND).columns()).hasSize(2);
    assertThat(kit.record().drift()).isZero();
    assertThat(kit.run(kit.back(way)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VALUES", mode = EnumSource.Mode.EXCLUDE)
  void aTableTakesItsRowsAlongAndWhatWentComesBack(Plan.Way way) {
    takesTheTable();
    assertThat(stopped(checked().findings()))
        .containsExactly(
            "name-reused fares.band is gone, and fares.next took its name: what it holds goes from the stages too.");
    seal("1.1.0");
    String before = kit.production().state();

    Promotion p = kit.prepare("1.1.0");
    assertThat(stopped(p.findings())).isEmpty();
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);

    assertThat(band("NEW", "rate")).isEqualTo("3");
    assertThat(kit.production().keys(BAND)).containsExactly("NEW");
    assertThat(kit.production().structure(NEXT)).isNull();
    assertThat(kit.record().drift()).isZero();
    assertThat(kit.run(kit.back(way)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** One version drops it, the next gives its name away: at a site it is one step. */
  @Test
  void overSkippedVersionsItIsOneStep() {
    kit.development().without(BAND, "price");
    seal("1.1.0");
    kit.development().column(BAND, "fee", column("price", "numeric"), true);
    seal("1.2.0");
    kit.development().column(BAND, "-", column("note", "text"), false);
    seal("1.3.0");

    assertThat(kit.bring("1.3.0").state()).isEqualTo(RunState.DONE);

    assertThat(band("DAY", "price")).isEqualTo("2");
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(band("DAY", "price")).isEqualTo("1");
    assertThat(band("DAY", "fee")).isEqualTo("2");
  }

  /** The name is given on: over both versions what had it first goes under it. */
  @Test
  void whatWentGoesAlsoWhereItsNameWasGivenOn() {
    takesThePrice();
    seal("1.1.0");
    kit.development().column(BAND, "price", column("cost", "numeric"), true);
    seal("1.2.0");
    String before = kit.production().state();

    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);

    assertThat(band("DAY", "cost")).isEqualTo("2");
    assertThat(kit.production().structure(BAND).columns()).hasSize(2);
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void whatWentWithItsTableGoesAlsoWhereItsNameWasGivenOn() {
    takesTheTable();
    seal("1.1.0");
    kit.development().rename(BAND, "fares.last");
    kit.sealFrom("1.2.0", null, "table/fares.last");

    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value("fares.last", "NEW", "rate")).isEqualTo("3");
    assertThat(kit.production().structure(BAND)).isNull();
  }

  /** Neither is there to be told from the other. */
  @Test
  void whatTookTheNameIsThereOrThePlanIsStopped() {
    takesThePrice();
    seal("1.1.0");
    kit.production().without(BAND, "fee");

    assertThat(stopped(kit.prepare("1.1.0").findings())).anyMatch(f -> f.startsWith("name-reused"));
  }

  @Test
  void isRehearsedBothWays() {
    takesThePrice();
    seal("1.1.0");
    String before = kit.production().state();
    Promotion p = kit.prepare("1.1.0");

    Rehearsal r = kit.rehearse(p);

    assertThat(r.result()).as(r.sentence()).isEqualTo(Rehearsal.Result.PROVEN);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** No number tells: a person does, and then the same. */
  @Test
  void aPersonSaysWhoTookTheName() {
    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          return null;
        });
    takesThePrice();
    Draft draft = checked();

    kit.engine()
        .drafts()
        .renamed(kit.ines, draft.id(), ComponentKey.of("table/" + BAND), "fee", "price");

    Draft again = kit.engine().drafts().check(kit.ines, draft.id());
    kit.engine().drafts().removals(kit.ines, draft.id(), again.gone());
    assertThat(stopped(kit.engine().drafts().check(kit.ines, draft.id()).findings())).isEmpty();
    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft.id(),
            new Drafts.Statement(new SemVer("1.1.0"), "Price", "", null, List.of()));
    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
    assertThat(band("DAY", "price")).isEqualTo("2");
  }
}
