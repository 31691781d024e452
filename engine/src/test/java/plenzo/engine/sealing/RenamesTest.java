package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Column;
import plenzo.core.table.PartDifference;
import plenzo.core.version.Draft;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.setup.Adoption;

/** A renamed column is not taken for one that goes and one that comes, with its values lost. */
class RenamesTest extends KitTest {
  private static final ComponentKey TABLE = ComponentKey.of("table/" + BAND);

  private Draft checked() {
    return kit.checked(TABLE.toString());
  }

  private static List<String> renamed(Draft draft) {
    return draft.renames().stream()
        .filter(LikelyRename::isOne)
        .map(r -> r.was() + " " + r.is())
        .toList();
  }

  private static List<String> rules(Draft draft) {
    return draft.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::rule)
        .toList();
  }

  @Test
  void isSeenAfterAdoptionAlsoWhenItIsCheckedTwice() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    Draft draft = checked();

    assertThat(renamed(draft)).containsExactly("amount fare");
    assertThat(renamed(kit.engine().drafts().check(kit.ines, draft.id())))
        .containsExactly("amount fare");
    assertThat(rules(draft)).isEmpty();
    assertThat(draft.findings())
        .extracting(Finding::sentence)
        .contains("amount is fare by now: its values go with it.");
    assertThat(draft.gone()).isEmpty();
  }

  @Test
  void isSeenAfterMatching() {
    kit.adopt();
    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          kept.sites().remove("fares@production/main");
          return null;
        });
    kit.engine().adoption().match(kit.ines, "fares", EngineKit.SITE, new SemVer("1.0.0"));
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    assertThat(renamed(checked())).containsExactly("amount fare");
  }

  /** What was renamed since the last version is not forgotten because another site is recorded. */
  @Test
  void isSeenAfterMatchingLater() {
    kit.adopt();
    SiteKey north = kit.site("north");
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    kit.matchAt(north);
    assertThat(renamed(checked())).containsExactly("amount fare");
    kit.matchAt(north);
    kit.matchAt(EngineKit.SITE);

    assertThat(renamed(checked())).containsExactly("amount fare");
  }

  /** Renamed before anything was remembered: no number tells it, so a person is asked. */
  @Test
  void isAskedWhereTheSourceHadMovedOnBefore() {
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.adopt();
    assertThat(rules(checked())).containsExactly("likely-renamed");

    kit.matchAt(kit.site("north"));

    assertThat(rules(checked())).containsExactly("likely-renamed");
  }

  @Test
  void rowsByOtherNamesAreTheSame() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    assertThat(kit.checked(TABLE.toString(), "records/" + BAND).picks())
        .extracting(Draft.Pick::changes)
        .containsExactlyInAnyOrder("amount is fare", "same rows as in 1.0.0");
  }

  /** What came to no version is remembered of none. */
  @Test
  void isSeenAfterANumberWasTaken() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    assertThatThrownBy(() -> kit.sealFrom("1.1.0", "1.0.0")).hasMessageContaining("already");

    assertThat(renamed(checked())).containsExactly("amount fare");
  }

  /** A source that falls silent once it was read keeps no version from being sealed. */
  @Test
  void isSeenWhereTheSourceFellSilentAfterSealing() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    String draft = kit.draft(null, TABLE.toString(), "records/" + BAND);
    kit.development().script.once(At.LOOK, () -> {}).loseAt(At.LOOK);
    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft,
            new Drafts.Statement(new SemVer("1.1.0"), "Fare", "", null, List.of()));

    kit.development().column(BAND, "fare", column("price", "numeric(6,2)"), true);
    assertThat(renamed(checked())).containsExactly("fare price");
  }

  /** A fix is drafted from the version that production has, while the source is ahead. */
  @Test
  void isSeenInADraftFromAnEarlierVersion() {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("DAY", "11.00"));
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.seal("1.1.0");
    kit.development().column(BAND, "fare", column("price", "numeric(6,2)"), true);
    kit.seal("1.2.0");

    assertThat(renamed(kit.checkedFrom("1.0.0", TABLE.toString()))).containsExactly("amount price");
    assertThat(renamed(kit.checkedFrom("1.1.0", TABLE.toString()))).containsExactly("fare price");
    kit.sealFrom("1.0.1", "1.0.0");
    assertThat(kit.bring("1.0.1").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(BAND, "DAY", "price")).isEqualTo("11.00");
  }

  /** A column that was there beside them tells nothing of the others. */
  @Test
  void isSeenWhereTheSourceHadMoreBefore() {
    kit.development().column(BAND, "-", column("note", "text"), false);
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    assertThat(renamed(checked())).containsExactly("amount fare");
  }

  @Test
  void isSeenAfterSealing() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "integer"), false);
    kit.seal("1.1.0");
    kit.development().column(BAND, "fare", column("price", "integer"), true);

    assertThat(renamed(checked())).containsExactly("fare price");
  }

  @Test
  void isAskedWhereTheSourceWasNotLookedAtAndTheAnswerStands() {
    kit.development().script.fallSilent();
    kit.adopt();
    kit.development().script.wake();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    Draft draft = checked();
    assertThat(rules(draft)).containsExactly("likely-renamed");
    assertThat(draft.findings().get(0).sentence()).contains("its values would be lost");
    assertThatThrownBy(
            () -> kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "code", "fare"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("is not asked");

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "amount", "fare");

    assertThat(rules(kit.engine().drafts().check(kit.ines, draft.id()))).isEmpty();
  }

  /** A table that was made anew has another number: what its columns were called tells nothing. */
  @Test
  void isAskedWhereTheTableWasMadeAnew() {
    kit.adopt();
    kit.development()
        .table(
            BAND, column("code", "text"), column("fare", "numeric(6,2)"), column("note", "text"));

    assertThat(rules(checked())).contains("likely-renamed");
  }

  @Test
  void isNotAskedWhereTheServerTellsThemApartOrTheTypesDo() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), false);
    assertThat(rules(checked())).isEmpty();

    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          return null;
        });
    kit.development().column(BAND, "fare", column("fare", "integer"), false);
    assertThat(rules(checked())).isEmpty();
  }

  /**
   * Values that were written at the site go with it, both ways, and also over a skipped version.
   */
  @Test
  void isCarriedWithItsValuesAndGoesBackWithThem() {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("DAY", "11.00"));
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.seal("1.1.0");
    kit.development().column(BAND, "-", column("note", "text"), false);
    kit.seal("1.2.0");

    Promotion p = kit.prepare("1.2.0");
    assertThat(p.requirePlan().statements().get(0)).isEqualTo("amount of fares.band becomes fare");
    assertThat(p.components())
        .filteredOn(c -> c.key().equals(TABLE))
        .flatExtracting(c -> c.parts().stream().map(PartDifference::path).toList())
        .containsExactly("column/fare", "column/note");
    kit.takeIncoming(p, "records/" + BAND);
    Run run = kit.run(kit.promotion(p.number()));

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "fare")).isEqualTo("20.00");
    kit.production().row(BAND, row("LATE", "5.00"));
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("5.00");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().structure(BAND).column("fare")).isEmpty();
  }

  private static Map<String, @Nullable String> row(String code, String fare) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("code", code);
    out.put("fare", fare);
    out.put("note", null);
    return out;
  }

  /** Rows of the version before stand in it by the old name: they are read anew. */
  private static List<String> blocked(Draft draft) {
    return draft.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(f -> f.rule() + " " + f.sentence())
        .toList();
  }

  /** What took its name is new, whatever its type is; or a person says that they are two. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "numeric(6,2) | EARLIER_VERSION",
        "numeric(6,2) | BACKUP",
        "text | EARLIER_VERSION",
        "text | BACKUP"
      })
  void whoseNameAnotherTookGoesOnUnderItsOwn(String type, Plan.Way way) {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development().column(BAND, "amount", column("old", "numeric(6,2)"), true);
    kit.development().again(BAND, column("amount", type));
    Draft draft = checked();
    assertThat(blocked(draft)).isEmpty();
    assertThat(renamed(draft)).containsExactly("amount old");
    kit.seal("1.1.0");

    Version sealed = kit.engine().versions().get(kit.ines, "fares", new SemVer("1.1.0"));
    assertThat(sealed.entry(TABLE).orElseThrow().renamed()).isEqualTo(Map.of("amount", "old"));
    assertThat(kit.prepare("1.1.0").components())
        .filteredOn(c -> c.key().equals(TABLE))
        .flatExtracting(c -> c.parts().stream().map(PartDifference::path).toList())
        .containsExactly("column/old", "column/amount");
    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(BAND, "LATE", "old")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "LATE", "amount")).isNull();
    assertThat(kit.run(kit.back(way)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  private void unknownAtTheSource() {
    kit.development().script.fallSilent();
    kit.adopt();
    kit.development().script.wake();
  }

  private String refused(Draft draft, ComponentKey table, String was, String is) {
    return catchThrowableOfType(
            Problem.class,
            () -> kit.engine().drafts().renamed(kit.ines, draft.id(), table, was, is))
        .getMessage();
  }

  /** No number tells, and nobody asks where no column is gone: a person knows. */
  @Test
  void whoseNameAnotherTookIsOneAsAPersonSaysUnasked() {
    unknownAtTheSource();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development().column(BAND, "amount", column("old", "numeric(6,2)"), true);
    kit.development().again(BAND, column("amount", "text"));
    Draft draft = checked();
    assertThat(renamed(draft)).isEmpty();

    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, "amount", "old");

    Draft again = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(renamed(again)).containsExactly("amount old");
    assertThat(blocked(again))
        .containsExactly(
            "missing Rows of records/fares.band stand in the version by names that columns do not have any more.");
    kit.engine()
        .drafts()
        .add(
            kit.ines,
            draft.id(),
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of("records/" + BAND), null, true)));
    assertThat(blocked(kit.engine().drafts().check(kit.ines, draft.id()))).isEmpty();
    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft.id(),
            new Drafts.Statement(new SemVer("1.1.0"), "Old", "", null, List.of()));
    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "LATE", "old")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "LATE", "amount")).isNull();
    assertThat(kit.run(kit.back(Plan.Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void ofTheKeyAsAPersonSaysIsThatOfItsRows() {
    unknownAtTheSource();
    kit.development()
        .column(BAND, "code", new Column("name", "text", true, null, null, null, null, null), true);
    kit.development()
        .again(BAND, new Column("code", "integer", false, null, null, null, null, null));
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    kit.engine()
        .drafts()
        .add(kit.ines, draft.id(), DEVELOPMENT, List.of(new Adoption.Pick(TABLE, null, true)));

    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, "code", "name");

    kit.engine()
        .drafts()
        .add(
            kit.ines,
            draft.id(),
            DEVELOPMENT,
            List.of(new Adoption.Pick(ComponentKey.of("records/" + BAND), null, true)));
    Draft again = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(blocked(again)).isEmpty();
    assertThat(again.picks())
        .filteredOn(p -> p.key().toString().equals("records/" + BAND))
        .extracting(Draft.Pick::options)
        .allMatch(o -> String.valueOf(o).contains("\"name\""));
  }

  @Test
  void isRefusedOfWhatCannotBeOne() {
    unknownAtTheSource();
    kit.development().column(BAND, "", column("note", "text"), false);
    Draft draft = checked();

    assertThat(refused(draft, TABLE, "colour", "note"))
        .isEqualTo("1.0.0 has no column colour of fares.band.");
    assertThat(refused(draft, TABLE, "amount", "colour"))
        .isEqualTo("fares.band has no column colour at development/main.");
    assertThat(refused(draft, ComponentKey.of("table/fares.other"), "a", "b"))
        .isEqualTo(
            "table/fares.other is no table that is picked in " + draft.id() + ": take it first.");
    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, "amount", "note");
    assertThat(refused(draft, TABLE, "code", "note"))
        .isEqualTo("code or note of table/fares.band is one with another column already.");
  }

  @Test
  void isRefusedWhereTheNumbersOfTheSourceSayOtherwise() {
    kit.adopt();
    kit.development().column(BAND, "", column("note", "text"), false);
    Draft draft = checked();

    assertThat(refused(draft, TABLE, "amount", "note"))
        .isEqualTo(
            "amount of fares.band is the same as in 1.0.0, as the numbers of development/main tell.");
    assertThat(refused(draft, TABLE, "amount", "code"))
        .isEqualTo("code is another column of 1.0.0.");
  }

  /** What the version itself brought is not lost, by whatever names it is told then. */
  @Test
  void losesNothingOfWhatTheVersionBroughtBeside() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("old", "numeric(6,2)"), true);
    kit.development().again(BAND, column("amount", "text"));
    kit.development().row(BAND, anew("DAY", "10.00", "by day"));
    kit.seal("1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.production().value(BAND, "DAY", "amount")).isEqualTo("by day");

    assertThat(kit.back(Plan.Way.EARLIER_VERSION).findings())
        .extracting(Finding::rule)
        .doesNotContain("rows-lost");

    kit.production().row(BAND, anew("DAY", "10.00", "by night"));
    assertThat(kit.back(Plan.Way.EARLIER_VERSION).findings())
        .filteredOn(f -> f.rule().equals("rows-lost"))
        .extracting(Finding::sentence)
        .containsExactly("1 value of fares.band.amount (newer one) would be lost.");
  }

  private static Map<String, @Nullable String> anew(String code, String old, String amount) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("code", code);
    out.put("old", old);
    out.put("amount", amount);
    return out;
  }

  /** Rows are told apart by the column that they were told by, under its name of now. */
  @Test
  void ofAKeyIsKeptWhereAnotherTookItsName() {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development()
        .column(BAND, "code", new Column("name", "text", true, null, null, null, null, null), true);
    kit.development()
        .again(BAND, new Column("code", "integer", false, null, null, null, null, null));
    assertThat(blocked(checked())).isEmpty();
    kit.seal("1.1.0");

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "LATE", "name")).isEqualTo("LATE");
    assertThat(kit.production().value(BAND, "LATE", "code")).isNull();
    assertThat(kit.run(kit.back(Plan.Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void whoseNameAnotherTookIsTwoAsAPersonSays() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("old", "numeric(6,2)"), true);
    kit.development().again(BAND, column("amount", "numeric(6,2)"));
    Draft draft = checked();

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "amount", "old");

    Draft again = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(rules(again)).isEmpty();
    assertThat(renamed(again)).isEmpty();
  }

  /** One takes the name that the other gives up, both ways. */
  @Test
  void takesTheNameThatAnotherGivesUp() {
    kit.development().column(BAND, "", column("next", "text"), false);
    kit.production().column(BAND, "", column("next", "text"), false);
    kit.adopt();
    kit.production().row(BAND, three("LATE", "11.00", "soon"));
    kit.development().column(BAND, "amount", column("old", "numeric(6,2)"), true);
    kit.development().column(BAND, "next", column("amount", "text"), true);
    Draft draft = checked();
    assertThat(rules(draft)).isEmpty();
    assertThat(renamed(draft)).containsExactlyInAnyOrder("amount old", "next amount");
    kit.seal("1.1.0");

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(BAND, "LATE", "old")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("soon");
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "LATE", "next")).isEqualTo("soon");
  }

  private static Map<String, @Nullable String> three(String code, String amount, String next) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("code", code);
    out.put("amount", amount);
    out.put("next", next);
    return out;
  }

  @Test
  void bringsTheRowsThatAreToldByIt() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    assertThat(checked().picks())
        .extracting(p -> p.key() + ": " + p.reason())
        .containsExactlyInAnyOrder(
            TABLE + ": chosen", "records/" + BAND + ": its rows stand in the columns of " + TABLE);
  }

  @Test
  void tellsWhatBecomesOfItsValues() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.seal("1.1.0");
    Promotion p = kit.prepare("1.1.0");

    assertThat(kit.engine().promotions().carriedOver(kit.ines, p.number()).lines())
        .extracting(
            l ->
                l.column() + ">" + l.becomes() + " " + l.fate() + " " + l.filled() + "/" + l.rows())
        .containsExactlyInAnyOrder("amount>fare CARRIED 2/2", "code>code CARRIED 2/2");
  }

  @Test
  void goesBackByTheBackupToo() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.seal("1.1.0");
    String before = kit.production().state();
    kit.bring("1.1.0");
    assertThat(kit.production().value(BAND, "DAY", "fare")).isEqualTo("10.00");

    kit.run(kit.back(Plan.Way.BACKUP));

    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void isNothingToDoWhereSomebodyRenamedItAtTheSite() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    kit.seal("1.1.0");
    kit.production().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    Promotion p = kit.prepare("1.1.0");

    assertThat(p.requirePlan().statements()).isEmpty();
  }

  @Test
  void aPersonSaysThatItIsOne() {
    kit.development().script.fallSilent();
    kit.adopt();
    kit.development().script.wake();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    Draft draft = checked();

    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, "amount", "fare");
    Draft again = kit.engine().drafts().check(kit.ines, draft.id());

    assertThat(rules(again)).isEmpty();
    assertThat(renamed(again)).containsExactly("amount fare");
    assertThat(again.gone()).isEmpty();
  }

  @Test
  void aPersonSaysThatTheyAreTwoWhateverTheServerTells() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    Draft draft = checked();

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "amount", "fare");
    Draft again = kit.engine().drafts().check(kit.ines, draft.id());

    assertThat(renamed(again)).isEmpty();
    assertThat(again.gone())
        .extracting(Object::toString)
        .containsExactly("table/fares.band#column/amount");
    assertThat(rules(kit.engine().drafts().check(kit.ines, draft.id()))).isEmpty();
  }

  /** A run that stops in between leaves the column as it was called. */
  @Test
  void whatMovedLeavesTheOldName() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);
    Map<String, @Nullable String> peak = row("PEAK", "25.00");
    peak.remove("note");
    kit.development().row(BAND, peak);
    kit.seal("1.1.0");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            plenzo.engine.kit.Script.At.SWITCH,
            () -> kit.production().row(BAND, EngineKit.row("PEAK", "21.00")));

    assertThat(kit.run(p).state()).isEqualTo(RunState.STOPPED);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("21.00");
  }
}
