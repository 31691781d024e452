package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.DraftedNotes;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.setup.Adoption;

/** Choosing, knowing what colleagues do meanwhile, what is said of it, and what became of it. */
class ChoosingTest extends KitTest {
  private static final SiteKey DEVELOPMENT = new SiteKey("development", "main");

  @BeforeEach
  void world() {
    kit.adopt();
  }

  private Draft begun(String from) {
    return kit.engine().drafts().start(kit.ines, "fares", new SemVer(from));
  }

  private static List<Adoption.Pick> picks(String... keys) {
    return Stream.of(keys).map(k -> new Adoption.Pick(ComponentKey.of(k), null, true)).toList();
  }

  private Draft holding(String from, String... keys) {
    String id = begun(from).id();
    kit.engine().drafts().add(kit.ines, id, DEVELOPMENT, picks(keys));
    return kit.engine().drafts().check(kit.ines, id);
  }

  private static List<String> rules(Draft d) {
    return d.findings().stream().map(Finding::rule).toList();
  }

  @Test
  void takesWhatCanBeTakenAndNamesTheRest() {
    String id = begun("1.0.0").id();

    Drafts.Added added =
        kit.engine()
            .drafts()
            .add(kit.ines, id, DEVELOPMENT, picks("table/fares.none", RULE), /* whatCanBe= */ true);

    assertThat(added.draft().picks()).extracting(p -> p.key().toString()).containsExactly(RULE);
    assertThat(added.notTaken())
        .singleElement()
        .asString()
        .startsWith("table/fares.none: There is no table at development/main");
  }

  @Test
  void tellsWhenAComponentWasChangedWhereItsSourceDoes() {
    Instant then = Instant.parse("2027-03-01T08:00:00Z");
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.hosts.at("development").changed.put(ComponentKey.of(RULE), then);

    Sources.Held held =
        kit.engine().sources().against(kit.ines, "fares", DEVELOPMENT, new SemVer("1.0.0"));

    assertThat(held.components())
        .filteredOn(c -> c.key().toString().equals(RULE))
        .singleElement()
        .satisfies(c -> assertThat(c.last().at()).isEqualTo(then));
    assertThat(held.components())
        .filteredOn(c -> c.key().kind() == Kind.TABLE)
        .as("a database does not tell")
        .allMatch(c -> c.last().at() == null);
  }

  @Test
  void takesNothingWhereEachWasNamedAndOneCannotBe() {
    String id = begun("1.0.0").id();

    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .add(kit.ines, id, DEVELOPMENT, picks(RULE, "table/fares.none")))
        .isInstanceOf(Problem.class);
    assertThat(kit.engine().drafts().get(kit.ines, id).picks()).isEmpty();
  }

  /** Rows of a table that no version has yet: its structure comes along. */
  private Draft withNewTable() {
    kit.development()
        .table("fares.zone", ScriptedDatabase.column("code", "text"))
        .row("fares.zone", Map.of("code", "N"));
    return holding("1.0.0", "records/fares.zone", RULE);
  }

  private Drafts.Dropping dropping(Draft d, String key) {
    return kit.engine().drafts().dropping(kit.ines, d.id(), ComponentKey.of(key));
  }

  private List<String> picked(Draft d) {
    return kit.engine().drafts().get(kit.ines, d.id()).picks().stream()
        .map(p -> p.key().toString())
        .toList();
  }

  @Test
  void saysWhatGoesWithWhatIsDroppedBeforeItGoes() {
    Draft d = withNewTable();
    assertThat(picked(d)).containsExactlyInAnyOrder("records/fares.zone", "table/fares.zone", RULE);

    Drafts.Dropping along = dropping(d, "records/fares.zone");

    assertThat(along.goes())
        .singleElement()
        .satisfies(
            p -> {
              assertThat(p.key()).hasToString("table/fares.zone");
              assertThat(p.reason()).isEqualTo("needed by records/fares.zone");
            });
    assertThat(picked(d)).as("nothing went yet").hasSize(3);
    kit.engine().drafts().drop(kit.ines, d.id(), ComponentKey.of("records/fares.zone"));
    assertThat(picked(d)).as("what was said").containsExactly(RULE);
  }

  @Test
  void saysThatWhatSomethingElseNeedsStays() {
    Draft d = withNewTable();

    Drafts.Dropping needed = dropping(d, "table/fares.zone");

    assertThat(needed.goes()).isEmpty();
    assertThat(needed.neededBy()).isEqualTo("needed by records/fares.zone");
    assertThat(dropping(d, RULE)).isEqualTo(new Drafts.Dropping(List.of(), ""));
    assertThatThrownBy(() -> dropping(d, "rule/fares.none"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_FOUND"));
  }

  @Test
  void saysThatANewerVersionWasMadeAndTakesItUp() {
    Draft draft = holding("1.0.0", RULE);
    assertThat(rules(draft)).doesNotContain("outdated-start");
    kit.sealPeak("1.1.0", "25.00");

    Draft checked = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(checked.findings())
        .filteredOn(f -> f.rule().equals("outdated-start"))
        .singleElement()
        .satisfies(
            f ->
                assertThat(f.sentence())
                    .isEqualTo(
                        "1.1.0 was made from 1.0.0 since, and brought records/fares.band, which this draft leaves out."));

    kit.engine().drafts().takeUp(kit.ines, draft.id(), new SemVer("1.1.0"));

    Draft after = kit.engine().drafts().check(kit.ines, draft.id());
    assertThat(after.from()).isEqualTo(new SemVer("1.1.0"));
    assertThat(rules(after)).doesNotContain("outdated-start");
    assertThat(after.picks()).extracting(p -> p.key().toString()).containsExactly(RULE);
  }

  @Test
  void takesUpOnlyWhatWasMadeFromIt() {
    kit.sealPeak("1.1.0", "25.00");
    Draft draft = begun("1.1.0");

    assertThatThrownBy(
            () -> kit.engine().drafts().takeUp(kit.ines, draft.id(), new SemVer("1.0.0")))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_NEWER"));
  }

  @Test
  void namesAColleaguesDraftWithTheSameComponent() {
    Draft other = holding("1.0.0", RULE, "table/" + BAND);

    Draft mine = holding("1.0.0", RULE);

    assertThat(mine.findings())
        .filteredOn(f -> f.rule().equals("also-in-draft"))
        .singleElement()
        .satisfies(
            f ->
                assertThat(f.sentence())
                    .isEqualTo(other.id() + " of ines holds rule/fares.peak too."));
    kit.engine().drafts().discard(kit.ines, other.id());
    assertThat(rules(kit.engine().drafts().check(kit.ines, mine.id())))
        .doesNotContain("also-in-draft");
    assertThat(kit.history())
        .anyMatch(
            e ->
                e.event().equals("draft discarded")
                    && e.text().equals(other.id() + " with 2 picks"));
  }

  @Test
  void readsWhatAComponentHoldsBeforeItIsPicked() {
    kit.hosts.at("development").put(RULE, rule("2"));

    Contained.Read read =
        kit.engine()
            .contained()
            .read(kit.ines, "fares", DEVELOPMENT, ComponentKey.of(RULE), new SemVer("1.0.0"));

    assertThat(Objects.requireNonNull(read.against()).parts().get(0).attributes())
        .extracting(a -> a.name(), a -> a.present(), a -> a.incoming())
        .containsExactly(tuple("definition/factor", "1", "2"));
    assertThat(kit.engine().contents().holds(read.content())).isTrue();
  }

  @Test
  void readsTheRowsThatDiffer() {
    kit.development().row(BAND, row("PEAK", "25.00"));

    Contained.Read read =
        kit.engine()
            .contained()
            .read(
                kit.ines,
                "fares",
                DEVELOPMENT,
                ComponentKey.of("records/" + BAND),
                new SemVer("1.0.0"));

    assertThat(read.rows()).isEqualTo(2);
    assertThat(read.differing())
        .singleElement()
        .satisfies(r -> assertThat(r.any().keyLine()).isEqualTo("\"PEAK\""));
  }

  @Test
  void saysNothingDiffersOfWhatIsTheSame() {
    assertThat(
            kit.engine()
                .contained()
                .read(kit.ines, "fares", DEVELOPMENT, ComponentKey.of(RULE), new SemVer("1.0.0"))
                .against())
        .isNull();
  }

  @Test
  void keepsBothNotesInTheHistory() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    String fingerprint = p.requirePlan().fingerprint().shown();

    kit.engine().notes().write(kit.ines, p.number(), "For the summer");
    kit.engine().notes().write(kit.ines, p.number(), "For the autumn");

    assertThat(kit.promotion(p.number()).notes()).isEqualTo("For the autumn");
    assertThat(kit.promotion(p.number()).requirePlan().fingerprint().shown())
        .as("a word is no part of what is agreed")
        .isEqualTo(fingerprint);
    assertThat(kit.history())
        .filteredOn(e -> e.event().equals("notes changed"))
        .extracting(e -> e.text())
        .containsExactly(
            "Now: For the autumn\nBefore: For the summer", "Now: For the summer\nBefore: none");
  }

  @Test
  void carriesNotesOnAndLeavesThemOnceItRan() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion first = kit.prepare("1.1.0");
    kit.engine().notes().write(kit.ines, first.number(), "For the summer");

    assertThat(kit.prepare("1.1.0").notes()).as("of the same version").isEqualTo("For the summer");
    kit.run(kit.promotion(first.number()));

    assertThatThrownBy(() -> kit.engine().notes().write(kit.ines, first.number(), "Other"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_OPEN"));
  }

  @Test
  void draftsNotesFromWhatChanges() {
    kit.development().row(BAND, row("PEAK", "25.00")).row(BAND, row("NEW", "1.00"));
    kit.hosts.at("development").put(RULE, rule("2"));
    Draft draft = holding("1.0.0", RULE, "records/" + BAND);
    assertThat(DraftedNotes.of(draft))
        .contains("- rule/fares.peak: its content changed")
        .contains("- records/fares.band: ");
    kit.seal("1.1.0");
    Promotion p = kit.prepare("1.1.0");

    assertThat(DraftedNotes.of(p, kit.engine().notes().brought(p)))
        .isEqualTo(
            "1.1.0 1.1.0\n- records/fares.band: 1 changed, 1 added\n- rule/fares.peak: changed");
  }

  @Test
  void tellsWhatBecameOfAVersion() {
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.engine()
        .verdicts()
        .judge(kit.ines, "fares", SITE, new SemVer("1.1.0"), false, "Undercharges");
    kit.run(kit.back(plenzo.core.plan.Plan.Way.BACKUP));
    kit.engine().versions().withdraw(kit.ines, "fares", new SemVer("1.1.0"), "Too low");

    assertThat(kit.engine().versions().fate(kit.ines, "fares", new SemVer("1.1.0")))
        .extracting(Versions.Fate::what, Versions.Fate::text)
        .containsExactly(
            tuple("sealed", "development/main"),
            tuple("came", "R-1"),
            tuple("judged-bad", "Undercharges"),
            tuple("left", "1.0.0 by R-2"),
            tuple("withdrawn", "Too low"));
  }
}
