package plenzo.engine.sealing;

import static java.nio.charset.StandardCharsets.UTF_8;
import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Files;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.run.RunState;
import plenzo.core.table.Renaming;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.store.DiskFiles;

/** Two columns, or two tables, that get each other's name: values and rows go with theirs. */
class ExchangedNamesTest extends KitTest {
  private static final String BAND = EngineKit.BAND;
  private static final String ZONE = "fares.zone";
  private static final List<String> TABLES = List.of("table/" + BAND, "table/" + ZONE);

  @BeforeEach
  void world() {
    for (ScriptedDatabase.Base base : List.of(kit.development(), kit.production())) {
      for (String table : List.of(BAND, ZONE)) {
        base.table(
            table, column("code", "text"), column("low", "numeric"), column("high", "numeric"));
      }
    }
    kit.adopt(TABLES.toArray(String[]::new));
    kit.production().row(BAND, values("DAY", "1", "2"));
    kit.production().row(ZONE, values("OUTER", "3", "4"));
  }

  private static TreeMap<String, String> values(String code, String low, String high) {
    return new TreeMap<>(Map.of("code", code, "low", low, "high", high));
  }

  private static void tables(ScriptedDatabase.Base base) {
    TableName band = TableName.of(BAND);
    TableName zone = TableName.of(ZONE);
    base.rename(new Renaming(Map.of(band, zone, zone, band), Map.of()));
  }

  private void seal(String number) {
    kit.sealFrom(number, null, TABLES.toArray(String[]::new));
  }

  private static List<String> stopped(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(f -> f.rule() + " " + f.place())
        .toList();
  }

  /** What the service keeps in files. */
  private Files remembered() {
    return new DiskFiles(folder.resolve("data/files"));
  }

  private String band(String column) {
    return kit.production().value(BAND, "DAY", column);
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VALUES", mode = EnumSource.Mode.EXCLUDE)
  void columnsTakeTheirValuesAlongThereAndBack(Plan.Way way) {
    kit.development().exchange(BAND, "low", "high");
    Draft draft = kit.engine().drafts().get(kit.ines, kit.draft(null, "table/" + BAND));
    assertThat(draft.findings())
        .filteredOn(f -> f.severity() != Finding.Severity.NOTE)
        .as("both are told by their numbers")
        .isEmpty();
    seal("1.1.0");
    String before = kit.production().state();

    Promotion p = kit.prepare("1.1.0");
    assertThat(p.requirePlan().statements())
        .contains("high of fares.band becomes low", "low of fares.band becomes high");
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);

    assertThat(band("high")).isEqualTo("1");
    assertThat(band("low")).isEqualTo("2");
    assertThat(kit.record().drift()).isZero();
    assertThat(kit.run(kit.back(way)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.bring("1.1.0").state()).as("once more").isEqualTo(RunState.DONE);
    assertThat(band("high")).isEqualTo("1");
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VALUES", mode = EnumSource.Mode.EXCLUDE)
  void tablesTakeTheirRowsAlongThereAndBack(Plan.Way way) {
    tables(kit.development());
    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    String before = kit.production().state();

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(ZONE, "DAY", "low")).isEqualTo("1");
    assertThat(kit.production().value(BAND, "OUTER", "high")).isEqualTo("3");
    assertThat(kit.run(kit.back(way)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** Somebody did it at the site: done twice, it would be undone. */
  @Test
  void whatSomebodyExchangedAtTheSiteIsNotExchangedAgain() {
    kit.development().exchange(BAND, "low", "high");
    tables(kit.development());
    seal("1.1.0");
    kit.production().exchange(BAND, "low", "high");
    tables(kit.production());
    String there = kit.production().state();

    Promotion p = kit.prepare("1.1.0");
    assertThat(stopped(p)).isEmpty();
    assertThat(p.requirePlan().statements()).noneMatch(s -> s.contains("becomes"));
    kit.run(p);

    assertThat(kit.production().state()).isEqualTo(there);
  }

  /** Half of it, or another table under the name: nobody can tell what is what. */
  @Test
  void whatCannotBeToldStopsThePlan() {
    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    String table = "table/" + BAND;
    kit.production()
        .table(BAND, column("code", "text"), column("low", "numeric"), column("high", "numeric"));

    assertThat(stopped(kit.prepare("1.1.0")))
        .containsExactlyInAnyOrder(
            "name-taken " + table + "#column/high", "name-taken " + table + "#column/low");
  }

  /** As where older records were put in their place. */
  @Test
  void whatWasRememberedWithAVersionThatNobodyKnowsTellsNothing() throws IOException {
    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    String name = "numbers/fares/" + EngineKit.SITE;
    String text;
    try (InputStream in = remembered().open(name, 0)) {
      text = new String(in.readAllBytes(), UTF_8).replace("1.0.0", "9.9.9");
    }
    remembered().write(name, to -> to.write(text.getBytes(UTF_8)));

    assertThat(stopped(kit.prepare("1.1.0"))).hasSize(2);
  }

  /** A person looks, and says what the site holds: that is remembered. */
  @Test
  void whatWasNotRememberedIsOnceTheSiteIsMatched() {
    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    remembered().remove("numbers");
    assertThat(stopped(kit.prepare("1.1.0"))).hasSize(2);

    kit.engine().adoption().match(kit.ines, "fares", EngineKit.SITE, new SemVer("1.0.0"));
    kit.settleDown();

    assertThat(stopped(kit.prepare("1.1.0"))).isEmpty();
    kit.bring("1.1.0");
    assertThat(band("high")).isEqualTo("1");
  }

  /**
   * Of a site that was recorded before anything was remembered, a look that finds it equal does.
   */
  @Test
  void whatWasNotRememberedIsOnceTheSiteIsSeenEqual() {
    remembered().remove("numbers");
    kit.production().without(ZONE, "high");
    kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE);
    assertThat(remembered().exists("numbers")).as("it is not as recorded").isFalse();

    kit.production().column(ZONE, "-", column("high", "numeric"), false);
    kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE);

    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    assertThat(stopped(kit.prepare("1.1.0"))).isEmpty();
  }

  /** Each version renames one; together they exchange. */
  @Test
  void overSkippedVersionsTheyAreExchangedAtOnce() {
    List<String> steps = new ArrayList<>();
    steps.add(BAND + " fares.rate");
    steps.add(ZONE + " " + BAND);
    steps.add("fares.rate " + ZONE);
    int n = 1;
    for (String step : steps) {
      String[] names = step.split(" ");
      kit.development().rename(names[0], names[1]);
      kit.sealFrom("1." + n++ + ".0", null, "table/" + names[1]);
    }

    assertThat(kit.bring("1.3.0").state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(ZONE, "DAY", "low")).isEqualTo("1");
    assertThat(kit.production().value(BAND, "OUTER", "low")).isEqualTo("3");
    // by the numbers of 1.3.0, asked by the names of another version
    kit.run(kit.back(Plan.Way.EARLIER_VERSION, "1.0.0"));
    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
    assertThat(kit.bring("1.3.0").state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(ZONE, "DAY", "low")).isEqualTo("1");
  }

  /** Exchanged in one version and back in the next, nothing is to do. */
  @Test
  void exchangedTwiceTheyAreAsTheyWere() {
    kit.development().exchange(BAND, "low", "high");
    seal("1.1.0");
    kit.development().exchange(BAND, "low", "high");
    kit.development().column(BAND, "-", column("note", "text"), false);
    seal("1.2.0");

    Promotion p = kit.prepare("1.2.0");
    assertThat(p.requirePlan().statements()).noneMatch(s -> s.contains("becomes"));
    kit.run(p);

    assertThat(band("low")).isEqualTo("1");
  }

  @Test
  void killedRightAfterTheSwitchItIsReadBackAsDone() {
    kit.development().exchange(BAND, "low", "high");
    tables(kit.development());
    seal("1.1.0");
    kit.production().script.killAt(At.SWITCHED);

    long run = kit.bringUntilKilled("1.1.0");
    kit = kit.restart();
    kit.recover();
    kit.settleDown();

    assertThat(kit.run(run).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(ZONE, "DAY", "high")).isEqualTo("1");
    assertThat(kit.run(kit.back(Plan.Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
    assertThat(band("low")).isEqualTo("1");
  }

  /** Carried out on a copy there and back, twice: the copy is told apart from the site. */
  @Test
  void isRehearsedBothWays() {
    kit.development().exchange(BAND, "low", "high");
    tables(kit.development());
    seal("1.1.0");
    String before = kit.production().state();
    Promotion p = kit.prepare("1.1.0");

    Rehearsal r = kit.rehearse(p);

    assertThat(r.result()).as(r.sentence()).isEqualTo(Rehearsal.Result.PROVEN);
    assertThat(kit.production().copies.calls(At.SWITCH))
        .as("tried, then twice there and back")
        .isEqualTo(5);
    assertThat(kit.production().state()).isEqualTo(before);
  }
}
