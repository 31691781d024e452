package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.PartDifference;
import plenzo.core.table.TableStructure;
import plenzo.core.version.SemVer;
import plenzo.core.way.Obstacle;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;

/**
 * The earlier version brings back what a version dropped, and what it cannot hold is loss that is
 * counted, named and saved, and never closes the way. People's rows are in no version here.
 */
class FittingTest extends KitTest {
  private static final Plan.Way EARLIER = Plan.Way.EARLIER_VERSION;

  private static Column required(String name, String type, @Nullable String otherwise) {
    return new Column(name, type, true, otherwise, null, null, null, null);
  }

  private static Column otherwise(String name, String type, String otherwise) {
    return new Column(name, type, false, otherwise, null, null, null, null);
  }

  private static Map<String, @Nullable String> noted(String code, @Nullable String note) {
    Map<String, @Nullable String> out = row(code, "20.00");
    out.put("note", note);
    return out;
  }

  /** The table has a column "note"; only its structure is carried, and 1.0.0 is adopted. */
  private void adoptWith(Column note) {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, "nothing", note, false);
      for (String code : base.keys(BAND)) {
        base.row(BAND, noted(code, "x"));
      }
    }
    kit.adopt("table/" + BAND, RULE);
  }

  /** Brings 1.1.0, in which the column is another one, or gone. */
  private void bringWith(@Nullable Column note) {
    kit.development().column(BAND, "note", note == null ? column("level", "integer") : note, false);
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
  }

  private void goBack() {
    Promotion p = kit.back(EARLIER);
    assertThat(p.findings())
        .as("what stands in the way")
        .noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
    Run run = kit.run(p);
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(run.sentence()).as("nothing is left to look at").doesNotContain("to look at");
  }

  private List<String> saved() {
    List<String> out = new ArrayList<>();
    kit.engine()
        .rollbacks()
        .lost(kit.ines, "fares", EngineKit.SITE, EARLIER, Rollbacks.Wish.NONE, out::add);
    return out.subList(1, out.size());
  }

  private String loses() {
    return kit.way(EARLIER).lossSentence();
  }

  private @Nullable String note(String code) {
    return kit.production().value(BAND, code, "note");
  }

  @Test
  void bringsBackTheValuesOfAColumnThatAVersionDropped() {
    adoptWith(column("note", "text"));
    kit.production().row(BAND, noted("PEAK", "by hand"));
    String before = kit.production().state();
    bringWith(null);

    assertThat(loses()).isEqualTo("Nothing is lost.");
    assertThat(kit.way(EARLIER).findings())
        .contains(
            "note: 2 rows of fares.band get back what note held, from the backup of before it was dropped.");
    goBack();

    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void leavesRowsThatCameSinceWithoutAValue() {
    adoptWith(column("note", "text"));
    bringWith(null);
    kit.production().row(BAND, row("OWN", "1.00"));

    goBack();

    assertThat(note("OWN")).isNull();
    assertThat(note("PEAK")).isEqualTo("x");
  }

  /** now() would stand where nobody had written anything. */
  @Test
  void doesNotFillARowThatHadNoValueWithTheDefault() {
    adoptWith(otherwise("note", "text", "'new'::text"));
    kit.production().row(BAND, noted("PEAK", null));
    bringWith(null);

    goBack();

    assertThat(note("PEAK")).isNull();
  }

  @Test
  void bringsBackWhatWasDroppedInTheLastOfTwoRuns() {
    adoptWith(column("note", "text"));
    kit.hosts.at("development").put(RULE, EngineKit.rule("2"));
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
    kit.production().row(BAND, noted("PEAK", "later"));
    kit.development().column(BAND, "note", column("level", "integer"), false);
    kit.sealFrom("1.2.0", "1.1.0", "table/" + BAND, RULE);
    kit.bring("1.2.0");

    Promotion p =
        kit.engine()
            .rollbacks()
            .start(
                kit.ines,
                "fares",
                EngineKit.SITE,
                EARLIER,
                new Rollbacks.Wish(new plenzo.core.version.SemVer("1.0.0"), Map.of()),
                "two back",
                to("1.0.0"));
    Run run = kit.run(kit.promotion(p.number()));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(note("PEAK")).isEqualTo("later");
  }

  private String to(String version) {
    return Objects.requireNonNull(
        kit
            .engine()
            .rollbacks()
            .ways(
                kit.ines,
                "fares",
                EngineKit.SITE,
                new Rollbacks.Wish(new plenzo.core.version.SemVer(version), Map.of()))
            .stream()
            .filter(o -> o.way() == EARLIER)
            .findFirst()
            .orElseThrow()
            .fingerprint());
  }

  @Test
  void takesOutARowThatCannotBeWithoutTheColumn() {
    adoptWith(required("note", "text", null));
    bringWith(null);
    kit.production().row(BAND, row("OWN", "1.00"));

    assertThat(loses()).isEqualTo("1 row of fares.band that 1.0.0 cannot hold would be lost.");
    assertThat(saved()).anyMatch(l -> l.contains("OWN") && l.contains("amount"));
    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "PEAK");
    assertThat(note("DAY")).isEqualTo("x");
  }

  @Test
  void bringsBackTheEarlierValueOfOneThatDoesNotFit() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("PEAK", "far too long"));

    assertThat(loses())
        .isEqualTo("1 value of fares.band.note that 1.0.0 cannot hold would be lost.");
    assertThat(saved())
        .containsExactly("\"fares.band\",\"\"\"PEAK\"\"\",\"note\",\"far too long\"");
    goBack();

    assertThat(note("PEAK")).isEqualTo("x");
  }

  private static final String NOTE = "table/" + BAND + "#column/note";

  @Test
  void isAskedWhetherItShouldStay() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("PEAK", "far too long"));

    assertThat(kit.way(EARLIER).obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.at()).isEqualTo(NOTE);
              assertThat(o.count()).isEqualTo(1);
              assertThat(o.sentence())
                  .isEqualTo(
                      "1 value of fares.band.note does not fit character varying(4), which 1.0.0 has.");
              assertThat(o.offers())
                  .extracting(Obstacle.Offer::decision, Obstacle.Offer::loses)
                  .containsExactly(
                      tuple(Decision.KEEP, 0L),
                      tuple(Decision.TAKE_INCOMING, Obstacle.Offer.WITH_THE_WAY));
              assertThat(o.chosen()).as("done when nobody chooses").isEqualTo(TAKE);
            });
  }

  @Test
  void asksNothingWhereEveryValueFits() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));

    assertThat(kit.way(EARLIER).obstacles()).isEmpty();
  }

  private static final Decision TAKE = Decision.TAKE_INCOMING;

  /** The structure stays as the version had it that is left, and so does every row. */
  private void staysWhole(String at) {
    String before = kit.production().state();
    Map<String, Decision> leave = Map.of(at, Decision.KEEP);
    Rollbacks.Option open = kit.way(EARLIER, leave);
    assertThat(open.possible()).as(open.why()).isTrue();
    assertThat(open.obstacles())
        .as("it can be chosen otherwise")
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.chosen()).isEqualTo(Decision.KEEP);
              assertThat(o.offers()).hasSize(2);
            });

    Run run = kit.run(kit.back(EARLIER, leave));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(run.sentence()).doesNotContain("to look at");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
    assertThat(kit.record().exceptions()).as("left over").containsExactly(at);
    assertThat(kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE).look().structure())
        .as("what was left on purpose is no drift")
        .isZero();
    assertThat(open.lost()).isZero();
    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void leavesATypeThatHoldsWhatTheEarlierCannot() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long"));

    staysWhole(NOTE);

    assertThat(note("OWN")).isEqualTo("far too long");
  }

  @Test
  void leavesAColumnThatMayBeEmpty() {
    adoptWith(required("note", "text", null));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", null));

    staysWhole(NOTE);
  }

  @Test
  void leavesACheckAway() {
    bringWithout(SHORT);
    kit.production().row(BAND, noted("OWN", "long")).unmet(BAND, "OWN");

    staysWhole("table/" + BAND + "#constraint/short");
  }

  @Test
  void leavesEqualRowsEqual() {
    bringWithout(ONCE);
    kit.production().row(BAND, noted("ANEW", "n")).row(BAND, noted("OWN", "n"));

    staysWhole("table/" + BAND + "#constraint/once");
  }

  @Test
  void leavesAKeyAway() {
    withZones();
    bringWithout(ZONE);
    kit.production().row(BAND, noted("OWN", "nowhere"));

    staysWhole("table/" + BAND + "#constraint/zone");
  }

  /** A column that a version dropped would stay away, with everything that it held. */
  @Test
  void asksNothingAboutAColumnThatComesBack() {
    adoptWith(required("note", "text", null));
    bringWith(null);
    kit.production().row(BAND, row("OWN", "1.00"));

    assertThat(kit.way(EARLIER).obstacles()).isEmpty();
  }

  /** Without the backup of since every row would lack a value that it must have. */
  @Test
  void leavesAwayAColumnThatNothingFills() throws Exception {
    adoptWith(required("note", "text", null));
    bringWith(null);
    damageBackups();
    Rollbacks.Option closed = kit.way(EARLIER);
    assertThat(closed.possible()).isFalse();
    assertThat(closed.obstacles())
        .singleElement()
        .satisfies(
            o -> {
              assertThat(o.sentence())
                  .isEqualTo(
                      "2 rows of fares.band would have no value in note, which must have one.");
              assertThat(o.offers())
                  .extracting(Obstacle.Offer::decision)
                  .containsExactly(Decision.KEEP);
            });

    Map<String, Decision> leave = Map.of(NOTE, Decision.KEEP);
    Run run = kit.run(kit.back(EARLIER, leave));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(Objects.requireNonNull(kit.production().structure(BAND)).column("note")).isEmpty();
    assertThat(kit.record().exceptions()).containsExactly(NOTE);
  }

  private void damageBackups() throws IOException {
    try (Stream<Path> all = Files.walk(folder.resolve("data"))) {
      for (Path rows : all.filter(f -> f.toString().matches(".*backup.*/0\\.csv")).toList()) {
        Files.writeString(rows, Files.readString(rows).replace("\"x\"", "\"y\""));
      }
    }
  }

  @Test
  void takesItUpAgainWithTheNextVersion() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long"));
    staysWhole(NOTE);
    kit.development().column(BAND, "note", column("note", "character varying(40)"), false);
    kit.sealFrom("1.2.0", "1.1.0", "table/" + BAND, RULE);

    Promotion p = kit.prepare("1.2.0");

    assertThat(p.components())
        .filteredOn(c -> c.key().kind() == Kind.TABLE)
        .flatExtracting(Promotion.ComponentResult::parts)
        .extracting(PartDifference::path, PartDifference::difference)
        .as("what was left there is compared")
        .containsExactly(tuple("column/note", Difference.CONFLICT));
  }

  @Test
  void leavesNoValueWhereANewOneDoesNotFit() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long"));

    goBack();

    assertThat(kit.production().keys(BAND)).contains("OWN");
    assertThat(note("OWN")).isNull();
  }

  @Test
  void givesTheDefaultWhereAValueMustBe() {
    adoptWith(required("note", "character varying(4)", "'none'::character varying"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long")).row(BAND, noted("BARE", null));

    assertThat(loses())
        .isEqualTo("2 values of fares.band.note that 1.0.0 cannot hold would be lost.");
    goBack();

    assertThat(note("OWN")).isEqualTo("none");
    assertThat(note("BARE")).isEqualTo("none");
  }

  @Test
  void takesOutARowWhoseValueMustBeAndDoesNotFit() {
    adoptWith(required("note", "character varying(4)", null));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long")).row(BAND, noted("BARE", null));
    kit.production().row(BAND, noted("PEAK", null));

    assertThat(loses())
        .isEqualTo(
            "2 rows of fares.band that 1.0.0 cannot hold and 1 value of fares.band.note that 1.0.0 cannot hold would be lost.");
    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "PEAK");
    assertThat(note("PEAK")).isEqualTo("x");
  }

  private static TableStructure with(TableStructure s, Constraint... more) {
    List<Constraint> all = new ArrayList<>(s.constraints());
    all.addAll(List.of(more));
    return new TableStructure(s.columns(), all, s.indexes(), s.comment());
  }

  /** 1.0.0 has a constraint that 1.1.0 has not. */
  private void bringWithout(Constraint constraint) {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, "nothing", column("note", "text"), false);
      base.row(BAND, noted("PEAK", "p")).row(BAND, noted("DAY", "d"));
      base.structure(BAND, with(Objects.requireNonNull(base.structure(BAND)), constraint));
    }
    kit.adopt("table/" + BAND, RULE);
    TableStructure had = Objects.requireNonNull(kit.development().structure(BAND));
    kit.development()
        .structure(
            BAND,
            new TableStructure(
                had.columns(),
                had.constraints().stream().filter(c -> !c.equals(constraint)).toList(),
                had.indexes(),
                had.comment()));
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
  }

  private static final Constraint SHORT =
      new Constraint(
          "short",
          Constraint.Type.CHECK,
          "CHECK (length(note) < 3)",
          List.of("note"),
          null,
          List.of());
  private static final Constraint ONCE =
      new Constraint(
          "once", Constraint.Type.UNIQUE, "UNIQUE (note)", List.of("note"), null, List.of());
  private static final Constraint ZONE =
      new Constraint(
          "zone",
          Constraint.Type.FOREIGN,
          "FOREIGN KEY (note) REFERENCES fares.zone(code)",
          List.of("note"),
          TableName.of("fares.zone"),
          List.of("code"));

  /** Something that notes can point at. */
  private void withZones() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table("fares.zone", column("code", "text"))
          .row("fares.zone", new TreeMap<>(Map.of("code", "p")))
          .row("fares.zone", new TreeMap<>(Map.of("code", "d")));
    }
  }

  @Test
  void settlesRowsThatDoNotMeetACheck() {
    bringWithout(SHORT);
    kit.production().row(BAND, noted("OWN", "long")).row(BAND, noted("PEAK", "long"));
    kit.production().unmet(BAND, "OWN").unmet(BAND, "PEAK");

    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "PEAK");
    assertThat(note("PEAK")).isEqualTo("p");
  }

  @Test
  void leavesTheFirstOfEqualRows() {
    bringWithout(ONCE);
    kit.production().row(BAND, noted("ANEW", "n")).row(BAND, noted("OWN", "n"));

    assertThat(loses()).isEqualTo("1 row of fares.band that 1.0.0 cannot hold would be lost.");
    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("ANEW", "DAY", "PEAK");
  }

  @Test
  void letsARowPointAtNothingWhereItMay() {
    withZones();
    bringWithout(ZONE);
    kit.production().row(BAND, noted("OWN", "nowhere")).row(BAND, noted("PEAK", "nowhere"));

    assertThat(kit.way(EARLIER).lost()).isEqualTo(2);
    goBack();

    assertThat(note("OWN")).isNull();
    assertThat(note("PEAK")).isEqualTo("p");
  }

  @Test
  void bringsBackATableThatAVersionDroppedWithItsRows() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table("fares.zone", column("code", "text"), column("name", "text"));
    }
    kit.production().row("fares.zone", new TreeMap<>(Map.of("code", "N", "name", "North")));
    kit.adopt("table/fares.zone", "table/" + BAND, RULE);
    String before = kit.production().state();
    kit.development().drop("fares.zone");
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
    assertThat(kit.production().structure("fares.zone")).isNull();

    assertThat(loses()).isEqualTo("Nothing is lost.");
    assertThat(kit.way(EARLIER).findings())
        .contains("note: 1 row of fares.zone comes back from the backup of before it was dropped.");
    goBack();

    assertThat(kit.production().state()).isEqualTo(before);
  }

  @Test
  void saysWhenABackupOfSinceCannotBeRead() throws Exception {
    adoptWith(column("note", "text"));
    bringWith(null);
    damageBackups();

    Promotion p = kit.back(EARLIER);

    assertThat(kit.rules(p)).contains("RISK backup-unreadable");
  }

  /** What comes back is part of what a yes covers. */
  @Test
  void comesToAnotherFingerprintWhenOtherValuesComeBack() {
    adoptWith(column("note", "character varying(4)"));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("PEAK", "far too long"));
    String one = kit.way(EARLIER).fingerprint();
    kit.production().row(BAND, noted("PEAK", "another long one"));

    assertThat(kit.way(EARLIER).fingerprint()).isNotEqualTo(one);
  }

  @Test
  void leavesRowsOfTheVersionToIt() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, "nothing", column("note", "text"), false);
      base.row(BAND, noted("PEAK", "p")).row(BAND, noted("DAY", "d"));
    }
    kit.adopt();
    kit.production().row(BAND, noted("OWN", "mine"));
    String before = kit.production().state();
    kit.development().column(BAND, "note", column("level", "integer"), false);
    kit.seal("1.1.0");
    kit.bring("1.1.0");

    goBack();

    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** A table of people's rows that point at bands; a band that 1.0.0 cannot hold is among them. */
  private void bookedOn(Column band) {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table("fares.booking", column("id", "integer"), band, column("up", "integer"));
      pointing(base, "fares.booking", "band", BAND, "code");
    }
    adoptWith(required("note", "character varying(4)", null));
    bringWith(column("note", "text"));
    kit.production().row(BAND, noted("OWN", "far too long"));
    kit.production().row("fares.booking", booking("1", "PEAK", null));
    kit.production().row("fares.booking", booking("2", "OWN", null));
  }

  private static void pointing(
      ScriptedDatabase.Base base, String table, String column, String at, String key) {
    base.structure(
        table,
        with(
            Objects.requireNonNull(base.structure(table)),
            new Constraint(
                TableName.of(table).table() + "_" + column,
                Constraint.Type.FOREIGN,
                "FOREIGN KEY (" + column + ") REFERENCES " + at + "(" + key + ")",
                List.of(column),
                TableName.of(at),
                List.of(key))));
  }

  private static Map<String, @Nullable String> booking(
      String id, @Nullable String band, @Nullable String up) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("id", id);
    out.put("band", band);
    out.put("up", up);
    return out;
  }

  @Test
  void letsGoOfARowThatGoes() {
    bookedOn(column("band", "text"));

    assertThat(loses())
        .isEqualTo(
            "1 row of fares.band that 1.0.0 cannot hold and 1 value of fares.booking.band pointing at rows that go would be lost.");
    assertThat(saved()).contains("\"fares.booking\",\"\"\"2\"\"\",\"band\",\"OWN\"");
    goBack();

    assertThat(kit.production().value("fares.booking", "2", "band")).isNull();
    assertThat(kit.production().value("fares.booking", "1", "band")).isEqualTo("PEAK");
  }

  @Test
  void takesAlongWhatCannotLetGo() {
    bookedOn(required("band", "text", null));

    assertThat(loses())
        .isEqualTo(
            "1 row of fares.band that 1.0.0 cannot hold and 1 row of fares.booking pointing at rows that go would be lost.");
    assertThat(saved()).anyMatch(l -> l.contains("fares.booking") && l.contains("OWN"));
    goBack();

    assertThat(kit.production().keys("fares.booking")).containsExactly("1");
  }

  /** What points at what points at it, in the same table and in another. */
  @Test
  void takesAlongWhatHangsOnWhatHangsOnIt() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table("fares.seat", column("id", "integer"), required("booking", "integer", null));
    }
    bookedOn(required("band", "text", null));
    ScriptedDatabase.Base there = kit.production();
    pointing(there, "fares.booking", "up", "fares.booking", "id");
    pointing(there, "fares.seat", "booking", "fares.booking", "id");
    there.row("fares.booking", booking("3", "DAY", "2"));
    there.row("fares.seat", new TreeMap<>(Map.of("id", "7", "booking", "2")));
    there.row("fares.seat", new TreeMap<>(Map.of("id", "8", "booking", "3")));

    assertThat(kit.way(EARLIER).lost()).isEqualTo(4);
    goBack();

    assertThat(there.keys("fares.booking")).containsExactly("1", "3");
    assertThat(there.value("fares.booking", "3", "up")).isNull();
    assertThat(there.keys("fares.seat")).containsExactly("8");
  }

  /** 1.1.0 drops the column by which bands point at zones; then somebody removes zone "x". */
  private void dropsThePointer(Column note) {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.table("fares.zone", column("code", "text"));
      base.row("fares.zone", new TreeMap<>(Map.of("code", "x")));
      base.row("fares.zone", new TreeMap<>(Map.of("code", "z")));
      base.column(BAND, "nothing", note, false);
      base.row(BAND, noted("PEAK", "x")).row(BAND, noted("DAY", "z"));
      pointing(base, BAND, "note", "fares.zone", "code");
    }
    kit.adopt("table/" + BAND, RULE);
    TableStructure had = Objects.requireNonNull(kit.development().structure(BAND));
    kit.development()
        .structure(
            BAND,
            new TableStructure(
                had.columns().stream().filter(c -> !c.name().equals("note")).toList(),
                had.constraints().stream()
                    .filter(c -> c.type() != Constraint.Type.FOREIGN)
                    .toList(),
                had.indexes(),
                had.comment()));
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
    kit.production().gone("fares.zone", "x");
  }

  @Test
  void bringsBackNoValueThatPointsAtNothing() {
    dropsThePointer(column("note", "text"));

    assertThat(loses())
        .isEqualTo("1 value of fares.band.note that only the backup still has would be lost.");
    assertThat(saved()).containsExactly("\"fares.band\",\"\"\"PEAK\"\"\",\"note\",\"x\"");
    goBack();

    assertThat(note("PEAK")).isNull();
    assertThat(note("DAY")).isEqualTo("z");
  }

  @Test
  void takesOutARowThatWouldPointAtNothing() {
    dropsThePointer(required("note", "text", null));

    assertThat(loses()).isEqualTo("1 row of fares.band that 1.0.0 cannot hold would be lost.");
    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("DAY");
  }

  /**
   * The same number in another type is no change of people's, and a row that goes does not stay.
   */
  @Test
  void saysOfNoRowThatItStaysWhichGoes() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, "nothing", required("share", "integer", null), false);
      base.row(BAND, shared("PEAK", "10")).row(BAND, shared("DAY", "20"));
    }
    kit.adopt();
    kit.development().column(BAND, "share", required("share", "numeric(5,2)", null), true);
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
    kit.production().row(BAND, shared("PEAK", "10.00")).row(BAND, shared("DAY", "20.00"));
    kit.production().row(BAND, shared("HALF", "0.50"));

    assertThat(kit.way(EARLIER).findings())
        .contains(
            "note: 1 row of records/fares.band is only here, or was changed only here, and stays as it is, where the table can hold that.");
    goBack();

    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "PEAK");
  }

  private static Map<String, @Nullable String> shared(String code, String share) {
    Map<String, @Nullable String> out = row(code, "20.00");
    out.put("share", share);
    return out;
  }
}
