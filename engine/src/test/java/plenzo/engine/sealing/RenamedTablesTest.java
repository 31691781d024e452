package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.Column;
import plenzo.core.table.PartDifference;
import plenzo.core.table.Renaming;
import plenzo.core.version.Draft;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.kit.ScriptedDatabase;

/** A renamed table is not taken for one that goes and one that comes, with its rows lost. */
class RenamedTablesTest extends KitTest {
  private static final String RATE = "fares.rate";
  private static final ComponentKey TABLE = ComponentKey.of("table/" + RATE);
  private static final String OLD = "table/" + BAND;

  private static List<String> blockers(Draft draft) {
    return draft.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::rule)
        .toList();
  }

  private Version sealed(String number) {
    return sealed(kit.checked(TABLE.toString()), number);
  }

  private Version sealed(Draft draft, String number) {
    return kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft.id(),
            new Drafts.Statement(new SemVer(number), "Rates", "", null, List.of()));
  }

  private List<String> keys(Version version) {
    return version.entries().stream().map(e -> e.key().toString()).toList();
  }

  private String uid(String version, String key) {
    return kit.engine()
        .versions()
        .get(kit.ines, "fares", new SemVer(version))
        .entry(ComponentKey.of(key))
        .orElseThrow()
        .uid();
  }

  @Test
  void isSeenByTheServersNumber() {
    kit.adopt();
    kit.development().rename(BAND, RATE);

    Draft draft = kit.checked(TABLE.toString());

    assertThat(draft.picks())
        .extracting(p -> p.key() + ": " + p.changes())
        .containsExactly(TABLE + ": called fares.band before");
    assertThat(draft.findings())
        .extracting(Finding::sentence)
        .contains("fares.band is fares.rate by now: its rows go with it.");
    assertThat(blockers(draft)).isEmpty();
    assertThat(draft.gone()).isEmpty();
  }

  @Test
  void isOneComponentWithItsRowsFromVersionToVersion() {
    kit.adopt();
    kit.development().rename(BAND, RATE);

    Version next = sealed("1.1.0");

    assertThat(keys(next))
        .containsExactlyInAnyOrder(TABLE.toString(), "records/" + RATE, EngineKit.RULE);
    assertThat(uid("1.1.0", TABLE.toString())).isEqualTo(uid("1.0.0", OLD));
    assertThat(uid("1.1.0", "records/" + RATE)).isEqualTo(uid("1.0.0", "records/" + BAND));
    assertThat(
            kit.engine()
                .versions()
                .compare(kit.ines, "fares", new SemVer("1.0.0"), new SemVer("1.1.0")))
        .flatExtracting(c -> c.parts().stream().map(p -> c.key() + "#" + p.path()).toList())
        .containsExactly(TABLE + "#table/");
  }

  @Test
  void candidatesSayWhatItWasCalled() {
    kit.adopt();
    kit.development().rename(BAND, RATE);

    assertThat(
            kit.engine()
                .sources()
                .against(kit.ines, "fares", DEVELOPMENT, new SemVer("1.0.0"))
                .components())
        .extracting(c -> c.key() + " " + c.state() + " " + c.changes())
        .contains(TABLE + " changed called fares.band before", "records/" + RATE + " same ")
        .noneMatch(line -> line.contains(BAND + " gone"));
  }

  /** Rows that were written at the site go with it, both ways, also over a skipped version. */
  @Test
  void isCarriedWithItsRowsAndGoesBackWithThem() {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    kit.development().column(RATE, "amount", column("fare", "numeric(6,2)"), true);
    sealed("1.2.0");

    Promotion p = kit.prepare("1.2.0");
    assertThat(p.requirePlan().statements())
        .startsWith("fares.band becomes fares.rate", "amount of fares.rate becomes fare");
    assertThat(p.components())
        .filteredOn(c -> c.key().equals(TABLE))
        .flatExtracting(c -> c.parts().stream().map(PartDifference::path).toList())
        .containsExactly("table/", "column/fare");
    Run run = kit.run(kit.promotion(p.number()));

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(RATE, "LATE", "fare")).isEqualTo("11.00");
    assertThat(kit.production().structure(BAND)).isNull();
    kit.production().row(RATE, row("NIGHT", "5.00"));
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().structure(RATE)).isNull();
    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "NIGHT", "amount")).isEqualTo("5.00");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  private static Map<String, @Nullable String> row(String code, String fare) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("code", code);
    out.put("fare", fare);
    return out;
  }

  /** The column by which its records are told apart may have another name too. */
  @Test
  void theKeyOfItsRecordsFollows() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    kit.development()
        .column(RATE, "code", new Column("name", "text", true, null, null, null, null, null), true);
    kit.development()
        .structure(
            RATE,
            Renaming.ofColumns(Map.of(TableName.of(RATE), Map.of("code", "name")))
                .of(TableName.of(RATE), kit.development().structure(RATE)));
    kit.development().row(RATE, named("PEAK", "22.00"));
    Draft draft = kit.checked(TABLE.toString());
    assertThat(blockers(draft)).isEmpty();
    assertThat(draft.picks())
        .extracting(p -> p.key() + ": " + p.changes())
        .contains(
            TABLE + ": called fares.band before; code is name",
            "records/" + RATE + ": 1 row changed");
    sealed(draft, "1.1.0");

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(RATE, "PEAK", "amount")).isEqualTo("22.00");
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().value(BAND, "PEAK", "code")).isEqualTo("PEAK");
  }

  private static Map<String, @Nullable String> named(String name, String amount) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("name", name);
    out.put("amount", amount);
    return out;
  }

  @Test
  void goesBackByTheBackupToo() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    String before = kit.production().state();
    kit.bring("1.1.0");
    assertThat(kit.production().value(RATE, "DAY", "amount")).isEqualTo("10.00");

    kit.run(kit.back(Plan.Way.BACKUP));

    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** Killed, the site has the one name or the other, and the records say which. */
  @ParameterizedTest
  @EnumSource(names = {"PREPARE", "SWITCH", "SWITCHED", "FINISH"})
  void hasOneNameAfterAKill(At at) {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    kit.production().script.killAt(at);
    long run = kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    boolean there = at == At.SWITCHED || at == At.FINISH;
    assertThat(kit.run(run).state()).isEqualTo(there ? RunState.DONE : RunState.STOPPED);
    assertThat(kit.record().present()).isEqualTo(new SemVer(there ? "1.1.0" : "1.0.0"));
    assertThat(kit.production().structure(there ? BAND : RATE)).isNull();
    assertThat(kit.production().value(there ? RATE : BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  @Test
  void tellsWhatBecomesOfItsValues() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    Promotion p = kit.prepare("1.1.0");

    assertThat(kit.engine().promotions().carriedOver(kit.ines, p.number()).lines())
        .extracting(l -> l.table() + " " + l.column() + " " + l.fate() + ", " + l.reason())
        .containsExactlyInAnyOrder(
            "fares.rate amount CARRIED, from fares.band",
            "fares.rate code CARRIED, from fares.band");
  }

  @Test
  void isNothingToDoWhereSomebodyRenamedItAtTheSite() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    kit.production().rename(BAND, RATE);

    assertThat(kit.prepare("1.1.0").requirePlan().statements()).isEmpty();
  }

  @Test
  void isStoppedWhereAnotherTableHasTheName() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    kit.production().table(RATE, column("code", "text"));

    assertThat(kit.prepare("1.1.0").findings())
        .filteredOn(f -> f.severity() == Finding.Severity.BLOCKER)
        .extracting(Finding::sentence)
        .contains("fares.band is to be called fares.rate, and both are at the site.");
  }

  private void forgotten() {
    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          return null;
        });
  }

  @Test
  void isAskedWhereNoNumberTellsAndAPersonSaysThatItIsOne() {
    kit.adopt();
    forgotten();
    kit.development().rename(BAND, RATE);

    Draft draft = kit.checked(TABLE.toString());
    assertThat(blockers(draft)).containsExactly("likely-renamed");
    assertThat(draft.findings().get(0).sentence())
        .isEqualTo(
            "table/fares.band is gone and table/fares.rate with the same columns is new: if it was renamed, its rows would be lost.");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .renamed(kit.ines, draft.id(), TABLE, "table/fares.zone", TABLE.toString()))
        .hasMessage("1.0.0 has no table/fares.zone.");

    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, OLD, TABLE.toString());
    Draft again = kit.engine().drafts().check(kit.ines, draft.id());

    assertThat(blockers(again)).isEmpty();
    assertThat(again.renames()).filteredOn(LikelyRename::isOne).hasSize(1);
    assertThat(again.gone()).isEmpty();
    sealed(draft, "1.1.0");
    assertThat(uid("1.1.0", TABLE.toString())).isEqualTo(uid("1.0.0", OLD));
  }

  @Test
  void aPersonSaysThatTheyAreTwoWhateverTheServerTells() {
    kit.adopt();
    kit.development().rename(BAND, RATE);
    Draft draft = kit.checked(TABLE.toString());

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, OLD, TABLE.toString());
    Draft again = kit.engine().drafts().check(kit.ines, draft.id());

    assertThat(again.gone()).extracting(Object::toString).contains(OLD, "records/" + BAND);
    assertThat(again.picks()).extracting(Draft.Pick::changes).containsExactly("new");
    Version two = sealed(draft, "1.1.0");
    assertThat(uid("1.1.0", TABLE.toString())).isNotEqualTo(uid("1.0.0", OLD));
    assertThat(keys(two)).contains(OLD, TABLE.toString());
  }

  @Test
  void isNotAskedOfATableWithOtherColumns() {
    kit.adopt();
    forgotten();
    kit.development().rename(BAND, RATE);
    kit.development().column(RATE, "amount", column("fare", "numeric(6,2)"), false);

    assertThat(blockers(kit.checked(TABLE.toString()))).isEmpty();
  }

  @Test
  void aPickByTheOldNameSaysTheNewOne() {
    kit.adopt();
    Draft draft = kit.checked(OLD);
    kit.development().rename(BAND, RATE);

    Draft again = kit.engine().drafts().check(kit.ines, draft.id());

    assertThat(blockers(again)).contains("looks-renamed");
    assertThat(again.findings().stream().filter(f -> f.rule().equals("looks-renamed")).toList())
        .extracting(Finding::advice)
        .first()
        .asString()
        .contains("plenzo draft add " + draft.id() + " table/fares.rate");
  }

  private static SchemaObject object(String key, Sort sort, String body, String needs) {
    return new SchemaObject(
        ComponentKey.of(key),
        sort,
        List.of(),
        new TreeMap<>(),
        body,
        null,
        List.of(new Needed(ComponentKey.of(needs), List.of())),
        List.of());
  }

  /** What works on it goes with it as it is; what names it in its own words comes along. */
  @Test
  void takesAlongWhatWorksOnItAndWhatNamesIt() {
    SchemaObject trigger =
        object(
            "trigger/fares.band.stamp",
            Sort.TRIGGER,
            "CREATE TRIGGER stamp BEFORE UPDATE ON fares.band FOR EACH ROW",
            OLD);
    SchemaObject view = object("view/fares.tariff", Sort.VIEW, "SELECT 1 FROM fares.band", OLD);
    for (var place : List.of(kit.development(), kit.production())) {
      place.object(trigger).object(view);
    }
    kit.adopt(OLD, "records/" + BAND, "trigger/fares.band.stamp", "view/fares.tariff");
    kit.development().rename(BAND, RATE);
    kit.development()
        .object(
            object(
                "view/fares.tariff", Sort.VIEW, "SELECT 1 FROM fares.rate band", TABLE.toString()));

    Draft draft = kit.checked(TABLE.toString());
    assertThat(draft.picks())
        .extracting(p -> p.key() + ": " + p.reason())
        .containsExactlyInAnyOrder(
            TABLE + ": chosen", "view/fares.tariff: names fares.band, which is fares.rate by now");
    sealed(draft, "1.1.0");
    String before = kit.production().state();
    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().object("trigger/fares.band.stamp")).isNull();
    assertThat(kit.production().object("trigger/fares.rate.stamp").body())
        .isEqualTo("CREATE TRIGGER stamp BEFORE UPDATE ON fares.rate FOR EACH ROW");
    assertThat(kit.production().object("view/fares.tariff").body()).contains("fares.rate band");
    kit.run(kit.back(Plan.Way.BACKUP));
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.production().object("trigger/fares.band.stamp")).isEqualTo(trigger);
  }

  /** A table that a version brought and a later one renamed goes where neither is any more. */
  @Test
  void whatCameUnderTheOldNameGoesUnderTheNewOne() {
    kit.adopt();
    String before = kit.production().state();
    kit.development()
        .table("fares.day", new Column("day", "integer", true, null, null, null, null, null))
        .row("fares.day", new TreeMap<>(Map.of("day", "1")));
    sealed(kit.checked("table/fares.day", "records/fares.day"), "1.1.0");
    kit.bring("1.1.0");
    kit.development().rename("fares.day", RATE);
    sealed("1.2.0");
    kit.bring("1.2.0");
    assertThat(kit.production().value(RATE, "1", "day")).isEqualTo("1");

    Run run = kit.run(kit.back(Plan.Way.EARLIER_VERSION, "1.0.0"));

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** What a version took away under the old name goes where a site comes from before it. */
  @Test
  void aRemovalOfASkippedVersionFollows() {
    kit.development().column(BAND, "-", column("note", "text"), false);
    kit.production().column(BAND, "-", column("note", "text"), false);
    kit.adopt();
    kit.development().without(BAND, "note");
    Draft draft = kit.checked(OLD);
    kit.engine().drafts().removals(kit.ines, draft.id(), draft.gone());
    sealed(draft, "1.1.0");
    kit.development().rename(BAND, RATE);
    sealed("1.2.0");

    kit.bring("1.2.0");

    assertThat(kit.production().structure(RATE).column("note")).isEmpty();
  }

  /** What the run wrote is told by its names, in rows of its table and by its columns. */
  @Test
  void whatTheVersionWroteIsNoLossUnderOtherNames() {
    kit.adopt(OLD, "records/" + BAND);
    kit.development().rename(BAND, RATE);
    kit.development().column(RATE, "amount", column("fare", "numeric(6,2)"), true);
    kit.development().row(RATE, new TreeMap<>(Map.of("code", "PEAK", "fare", "25.00")));
    sealed(kit.checked(TABLE.toString(), "records/" + RATE), "1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.production().value(RATE, "PEAK", "fare")).isEqualTo("25.00");

    assertThat(kit.way(Plan.Way.BACKUP).lost()).isZero();
    assertThat(kit.way(Plan.Way.EARLIER_VERSION).lost()).isZero();

    kit.production().row(RATE, new TreeMap<>(Map.of("code", "PEAK", "fare", "26.00")));
    assertThat(kit.way(Plan.Way.BACKUP).lost()).isEqualTo(1);
  }

  private static final String ZONE = "fares.zone";

  private void zones() {
    for (ScriptedDatabase.Base base : List.of(kit.development(), kit.production())) {
      base.table(ZONE, column("code", "text"));
      base.row(ZONE, new TreeMap<>(Map.of("code", "OUTER")));
    }
    kit.adopt(OLD, "records/" + BAND, "table/" + ZONE);
  }

  @Test
  void twoThatExchangedTheirNamesAreTwoAsAPersonSays() {
    zones();
    kit.development()
        .rename(
            new Renaming(
                Map.of(
                    TableName.of(BAND), TableName.of(ZONE), TableName.of(ZONE), TableName.of(BAND)),
                Map.of()));
    String zone = "table/" + ZONE;
    Draft draft = kit.checked(OLD, zone);
    assertThat(draft.findings())
        .extracting(Finding::sentence)
        .contains("fares.band is fares.zone by now: its rows go with it.");

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), ComponentKey.of(zone), OLD, zone);
    assertThat(kit.engine().drafts().check(kit.ines, draft.id()).findings())
        .extracting(Finding::sentence)
        .contains(
            "fares.band is gone, and fares.zone took its name: what it holds goes from the stages too.",
            "fares.zone is fares.band by now: its rows go with it.");
    kit.engine().drafts().twoColumns(kit.ines, draft.id(), ComponentKey.of(OLD), zone, OLD);
    assertThat(kit.engine().drafts().check(kit.ines, draft.id()).findings())
        .filteredOn(f -> f.rule().equals("name-reused"))
        .extracting(Finding::sentence)
        .isEmpty();
  }

  @Test
  void twoThatExchangedTheirNamesAreTakenBoth() {
    zones();
    kit.development()
        .rename(
            new Renaming(
                Map.of(
                    TableName.of(BAND), TableName.of(ZONE), TableName.of(ZONE), TableName.of(BAND)),
                Map.of()));

    assertThat(kit.checked(OLD).findings())
        .extracting(Finding::sentence)
        .contains("fares.band is fares.zone by now, and what is called fares.band was fares.zone.");
  }

  /** One takes the name that the other gives up: with their rows, there and back. */
  @Test
  void takesTheNameThatAnotherGivesUp() {
    zones();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    kit.development().rename(BAND, RATE);
    kit.development().rename(ZONE, BAND);
    assertThat(kit.checked(OLD).findings())
        .extracting(Finding::sentence)
        .contains("fares.band is fares.rate by now, and what is called fares.band was fares.zone.");
    Draft draft = kit.checked(OLD, TABLE.toString());
    assertThat(blockers(draft)).isEmpty();
    sealed(draft, "1.1.0");

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(RATE, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "OUTER", "code")).isEqualTo("OUTER");
    assertThat(kit.production().structure(ZONE)).isNull();
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(BAND, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(ZONE, "OUTER", "code")).isEqualTo("OUTER");
    assertThat(kit.production().structure(RATE)).isNull();
  }

  /** The same over a skipped version, of which each gave one name. */
  @Test
  void takesTheNameThatASkippedVersionGaveUp() {
    zones();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    kit.development().rename(ZONE, BAND);
    sealed(kit.checked(OLD), "1.2.0");

    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(RATE, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().value(BAND, "OUTER", "code")).isEqualTo("OUTER");
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().value(ZONE, "OUTER", "code")).isEqualTo("OUTER");
  }

  private void anotherTakesItsName() {
    kit.development()
        .table(BAND, new Column("day", "integer", true, null, null, null, null, null))
        .row(BAND, new TreeMap<>(Map.of("day", "1")));
  }

  private void isThereUnderBothNames() {
    assertThat(kit.production().value(RATE, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.production().value(RATE, "LATE", "amount")).isEqualTo("11.00");
    assertThat(kit.production().value(BAND, "1", "day")).isEqualTo("1");
  }

  /** It goes under its new name, and what took the old one is new: both in one version. */
  @ParameterizedTest
  @EnumSource(
      value = Plan.Way.class,
      names = {"EARLIER_VERSION", "BACKUP"})
  void itsNameIsTakenByAnotherOfTheSameVersion(Plan.Way way) {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development().rename(BAND, RATE);
    anotherTakesItsName();
    assertThat(kit.checked(OLD).findings())
        .extracting(Finding::sentence)
        .contains("fares.band is fares.rate by now, and another table took its name.");
    Draft both = kit.checked(OLD, TABLE.toString(), "records/" + BAND);
    assertThat(blockers(both)).isEmpty();
    assertThat(both.findings())
        .filteredOn(f -> f.rule().equals("renamed"))
        .extracting(Finding::sentence)
        .containsExactly("fares.band is fares.rate by now: its rows go with it.");
    sealed(both, "1.1.0");

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
    isThereUnderBothNames();
    Promotion back = kit.back(way);
    assertThat(kit.run(back).state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** What a run did not create stays, whatever took its name since. */
  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void whatWasThereBeforeItWasCarriedStays(boolean atOnce) {
    for (ScriptedDatabase.Base base : List.of(kit.development(), kit.production())) {
      base.table(ZONE, column("code", "text"));
    }
    kit.adopt("table/" + ZONE);
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    sealed(kit.checked(OLD, "records/" + BAND), "1.1.0");
    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
    kit.development().rename(BAND, RATE);
    anotherTakesItsName();
    sealed(kit.checked(OLD, TABLE.toString(), "records/" + BAND), "1.2.0");
    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);
    isThereUnderBothNames();

    if (atOnce) {
      kit.run(kit.back(Plan.Way.EARLIER_VERSION, "1.0.0"));
    } else {
      kit.run(kit.back(Plan.Way.EARLIER_VERSION));
      kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    }

    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void itsNameIsTakenByAnotherAsAPersonSaysUnasked() {
    kit.development().script.fallSilent();
    kit.adopt();
    kit.development().script.wake();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development().rename(BAND, RATE);
    anotherTakesItsName();
    Draft draft = kit.checked(OLD, TABLE.toString(), "records/" + RATE);

    kit.engine().drafts().renamed(kit.ines, draft.id(), TABLE, OLD, TABLE.toString());

    Draft again = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(again.renames()).filteredOn(LikelyRename::isOne).hasSize(1);
    assertThat(blockers(again)).isEmpty();
    assertThat(keys(sealed(again, "1.1.0")))
        .contains("table/" + BAND, "table/" + RATE, "records/" + RATE)
        .doesNotContain("records/" + BAND);
    Run run = kit.bring("1.1.0");
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(RATE, "LATE", "amount")).isEqualTo("11.00");
    Run back = kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void isRefusedOfWhatIsAnotherTable() {
    zones();
    kit.development().table("fares.more", column("code", "text"));
    Draft draft = kit.checked("table/fares.more", OLD);

    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .renamed(
                        kit.ines,
                        draft.id(),
                        ComponentKey.of("table/fares.more"),
                        OLD,
                        "table/fares.more"))
        .hasMessage(
            "table/fares.band is the same as in 1.0.0, as the numbers of development/main tell.");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .renamed(kit.ines, draft.id(), ComponentKey.of(OLD), "table/" + ZONE, OLD))
        .hasMessage("table/fares.band is another table of 1.0.0.");
  }

  @Test
  void itsNameIsTakenByAnotherOfALaterVersion() {
    kit.adopt();
    kit.production().row(BAND, EngineKit.row("LATE", "11.00"));
    String before = kit.production().state();
    kit.development().rename(BAND, RATE);
    sealed("1.1.0");
    anotherTakesItsName();
    sealed(kit.checked(OLD, "records/" + BAND), "1.2.0");

    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);

    isThereUnderBothNames();
    assertThat(kit.run(kit.back(Plan.Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }
}
