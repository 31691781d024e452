package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.table.Column;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.returning.Rollbacks;

/** Columns that are split, joined or get another type by what a person stated of them. */
class ConversionsTest extends KitTest {
  private static final String DESK = "fares.desk";
  private static final ComponentKey TABLE = ComponentKey.of("table/" + DESK);

  @BeforeEach
  void desks() {
    for (ScriptedDatabase.Base place : List.of(kit.development(), kit.production())) {
      place.table(
          DESK,
          new Column("code", "text", true, null, null, null, null, null),
          column("name", "text"));
    }
    kit.production()
        .row(DESK, desk("A", "name", "Edda Marrow"))
        .row(DESK, desk("B", "name", "Bram Oake"))
        .row(DESK, desk("C", "name", null));
  }

  private static Map<String, @Nullable String> desk(
      String code, @Nullable String... namesAndValues) {
    Map<String, @Nullable String> out = new LinkedHashMap<>();
    out.put("code", code);
    for (int n = 0; n < namesAndValues.length; n += 2) {
      out.put(String.valueOf(namesAndValues[n]), namesAndValues[n + 1]);
    }
    return out;
  }

  /** In development the name is split. */
  private void split() {
    ScriptedDatabase.Base development = kit.development();
    development.column(DESK, "name", column("first", "text"), false);
    development.column(DESK, "none", column("last", "text"), false);
  }

  private void state(String draft, String column, @Nullable String expression, boolean back) {
    kit.engine().drafts().convert(kit.ines, draft, TABLE, column, expression, back);
  }

  private Draft splitDraft(boolean back) {
    split();
    String id = kit.draft(null, TABLE.toString());
    state(id, "first", "split_part(name, ' ', 1)", false);
    state(id, "last", "split_part(name, ' ', 2)", false);
    if (back) {
      state(id, "name", "first || ' ' || last", true);
    }
    return checked(id);
  }

  private Draft checked(String id) {
    List<plenzo.core.version.Removal> gone = kit.engine().drafts().check(kit.ines, id).gone();
    kit.engine().drafts().removals(kit.ines, id, gone);
    return kit.engine().drafts().check(kit.ines, id);
  }

  private Version seal(Draft draft, String number) {
    return kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft.id(),
            new Drafts.Statement(new SemVer(number), "Desks", "", null, List.of()));
  }

  private static List<String> rules(Draft draft) {
    return draft.findings().stream()
        .filter(f -> f.rule().contains("conversion") || f.rule().contains("worked"))
        .map(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .toList();
  }

  private String values(String code) {
    return Arrays.asList(
            kit.production().value(DESK, code, "first"), kit.production().value(DESK, code, "last"))
        .toString();
  }

  @Test
  void areShownWhereTheyAreStatedAndBelongToTheVersion() {
    kit.adopt(TABLE.toString());

    Draft draft = splitDraft(true);

    assertThat(draft.problems()).as("a worked out column is no likely rename").isEmpty();
    assertThat(rules(draft)).isEmpty();
    assertThat(draft.picks().get(0).changes())
        .endsWith(
            "; first is worked out by split_part(name, ' ', 1); last is worked out by split_part(name, ' ', 2); name is worked back by first || ' ' || last");
    Version version = seal(draft, "1.1.0");
    assertThat(version.entry(TABLE).orElseThrow().which())
        .isEqualTo(
            "first by split_part(name, ' ', 1); last by split_part(name, ' ', 2); back: name by first || ' ' || last");
    assertThat(version.entry(TABLE).orElseThrow().conversionsBack().get("name").reads())
        .containsOnlyKeys("first", "last");
  }

  @Test
  void areTakenBack() {
    kit.adopt(TABLE.toString());
    Draft draft = splitDraft(true);

    state(draft.id(), "first", null, false);
    state(draft.id(), "last", "upper(name)", false);

    assertThat(kit.engine().drafts().get(kit.ines, draft.id()).conversions())
        .extracting(c -> c.column() + " " + c.expression() + " " + c.back())
        .containsExactly("name first || ' ' || last true", "last upper(name) false");
    assertThatThrownBy(() -> state(draft.id(), "first", null, false)).hasMessageContaining("first");
    assertThatThrownBy(() -> state(draft.id(), "first", "name; DROP TABLE x", false))
        .hasMessage("The expression cannot be used: it cannot hold ;.");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .convert(
                        kit.ines, draft.id(), ComponentKey.of("table/fares.zone"), "a", "b", false))
        .hasMessage(
            "table/fares.zone is no table that is picked in " + draft.id() + ": take it first.");
  }

  @Test
  void ofWhatStaysAsItIsAreInTheWay() {
    kit.adopt(TABLE.toString());
    Draft draft = splitDraft(false);
    state(draft.id(), "code", "upper(code)", false);
    state(draft.id(), "nowhere", "'x'", false);
    state(draft.id(), "nowhere", "'x'", true);

    assertThat(rules(kit.engine().drafts().check(kit.ines, draft.id())))
        .containsExactlyInAnyOrder(
            "BLOCKER conversion-idle It is stated what code of table/fares.desk is worked out from, and nothing is: it is text in 1.0.0 and at the source.",
            "BLOCKER conversion-idle It is stated what nowhere of table/fares.desk is worked out from, and nothing is: there is no such column at the source.",
            "BLOCKER conversion-idle It is stated what nowhere of table/fares.desk is worked out from on the way back, and nothing is: there is no such column in 1.0.0.",
            "NOTE not-worked-back Going back, rows written since have nothing in name.");
  }

  @Test
  void ofATableThatIsNewOrNotPickedAnyMoreAreInTheWay() {
    kit.adopt("table/" + BAND);
    String id = kit.draft(null, TABLE.toString(), "table/" + BAND);
    state(id, "name", "upper(name)", false);

    assertThat(rules(kit.engine().drafts().check(kit.ines, id)))
        .containsExactly(
            "BLOCKER conversion-idle It is stated what name of table/fares.desk is worked out from, and nothing is: the table is new, and has no rows anywhere.");
    kit.engine().drafts().drop(kit.ines, id, TABLE);
    assertThat(rules(kit.engine().drafts().check(kit.ines, id)))
        .containsExactly(
            "BLOCKER conversion-idle It is stated what name of table/fares.desk is worked out from, and nothing is: table/fares.desk is not picked.");
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void workOutEachRowAndGoBack(Plan.Way way) {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);

    assertThat(values("A")).isEqualTo("[Edda, Marrow]");
    assertThat(values("C")).isEqualTo("[null, null]");
    assertThat(kit.production().value(DESK, "A", "name")).isNull();
    kit.production()
        .row(DESK, desk("B", "first", "Bram", "last", "Elm"))
        .row(DESK, desk("D", "first", "Ines", "last", "Falk"));
    Rollbacks.Option back = kit.way(way);
    if (way == Plan.Way.EARLIER_VERSION) {
      assertThat(back.lost()).as("all of it is worked back").isZero();
    }
    kit.run(kit.back(way));
    boolean earlier = way == Plan.Way.EARLIER_VERSION;
    assertThat(kit.production().value(DESK, "A", "name")).isEqualTo("Edda Marrow");
    assertThat(kit.production().value(DESK, "B", "name"))
        .isEqualTo(earlier ? "Bram Elm" : "Bram Oake");
    assertThat(kit.production().value(DESK, "C", "name")).isNull();
    assertThat(kit.production().value(DESK, "D", "name")).isEqualTo(earlier ? "Ines Falk" : null);
  }

  /**
   * Without a word on it, what is worked out of a row that nobody changed is no loss; the rest is.
   */
  @Test
  void withoutAWayBackTheLossIsWhatPeopleWroteSince() {
    kit.adopt(TABLE.toString());
    Draft draft = splitDraft(false);
    assertThat(rules(draft))
        .containsExactly(
            "NOTE not-worked-back Going back, rows written since have nothing in name.");
    seal(draft, "1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.way(Plan.Way.EARLIER_VERSION).lossSentence()).isEqualTo("Nothing is lost.");
    kit.production()
        .row(DESK, desk("B", "first", "Bram", "last", "Elm"))
        .row(DESK, desk("D", "first", "Ines", "last", "Falk"));

    assertThat(kit.way(Plan.Way.EARLIER_VERSION).losses())
        .extracting(i -> i.count() + " " + i.place())
        .containsExactlyInAnyOrder("1 fares.desk.first", "2 fares.desk.last");
  }

  /** What a backup puts back is no loss where nobody wrote since what was worked out of it. */
  @Test
  void theLossOfABackupIsWhatPeopleWroteSinceToo() {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.way(Plan.Way.BACKUP).lossSentence()).isEqualTo("Nothing is lost.");
    kit.production()
        .row(DESK, desk("B", "first", "Bram", "last", "Elm"))
        .row(DESK, desk("D", "first", "Ines", "last", "Falk"));

    assertThat(kit.way(Plan.Way.BACKUP).losses())
        .extracting(i -> i.count() + " " + i.place())
        .containsExactlyInAnyOrder("1 fares.desk", "1 fares.desk.first", "2 fares.desk.last");
  }

  /** A conversion stands for a site that skips its version. */
  @Test
  void areCarriedOverSkippedVersions() {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");
    kit.development().column(DESK, "last", column("family", "text"), true);
    kit.seal("1.2.0", TABLE.toString());

    Promotion p = kit.prepare("1.2.0");
    assertThat(p.components())
        .flatExtracting(
            c ->
                c.parts().stream()
                    .flatMap(x -> x.attributes().stream().map(a -> x.name() + ": " + a))
                    .toList())
        .asString()
        .contains("split_part(name, ' ', 2)");
    assertThat(kit.run(kit.promotion(p.number())).state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(DESK, "A", "family")).isEqualTo("Marrow");
    kit.production().row(DESK, desk("D", "first", "Ines", "family", "Falk"));
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    assertThat(kit.production().value(DESK, "D", "name")).isEqualTo("Ines Falk");
    assertThat(kit.production().value(DESK, "A", "name")).isEqualTo("Edda Marrow");
  }

  /** What works on what another version made is not guessed where that was skipped. */
  @Test
  void ofWhatAVersionBetweenMadeNeedThatVersion() {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");
    kit.development().column(DESK, "last", column("loud", "varchar(40)"), false);
    String id = kit.draft(null, TABLE.toString());
    state(id, "loud", "upper(last)", false);
    seal(checked(id), "1.2.0");

    assertThat(
            kit.prepare("1.2.0").findings().stream()
                .filter(f -> f.severity() == Severity.BLOCKER)
                .map(Finding::sentence))
        .containsExactly(
            "loud of fares.desk is worked out from what the site has not: last as text.");
    kit.bring("1.1.0");
    kit.bring("1.2.0");
    assertThat(kit.production().value(DESK, "A", "loud")).isEqualTo("MARROW");
  }

  /** What a later version says nothing of is not worked out once more. */
  @Test
  void areOfOneVersionAlone() {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");
    kit.bring("1.1.0");
    kit.development().column(DESK, "none", column("note", "text"), false);
    Version next = kit.seal("1.2.0", TABLE.toString());

    assertThat(next.entry(TABLE).orElseThrow().which()).isEmpty();
    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);
    assertThat(values("A")).isEqualTo("[Edda, Marrow]");
  }

  @ParameterizedTest
  @EnumSource(names = {"PREPARE", "SWITCH", "SWITCHED", "FINISH"})
  void areWhollyDoneOrNotAtAllAfterAKill(At at) {
    kit.adopt(TABLE.toString());
    seal(splitDraft(true), "1.1.0");
    kit.production().script.killAt(at);
    kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    boolean there = at == At.SWITCHED || at == At.FINISH;
    assertThat(values("A")).isEqualTo(there ? "[Edda, Marrow]" : "[null, null]");
    assertThat(kit.production().value(DESK, "A", "name")).isEqualTo(there ? null : "Edda Marrow");
    assertThat(kit.record().present()).isEqualTo(new SemVer(there ? "1.1.0" : "1.0.0"));
  }
}
