package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.EngineKit.row;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.ConditionText;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowsPolicy;
import plenzo.core.run.RunState;
import plenzo.core.table.Column;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Adoption;

/** What a version does to rows of a site that it has otherwise, or not at all. */
class RowsPolicyTest extends KitTest {
  private static final ComponentKey ROWS = ComponentKey.of("records/" + BAND);

  @BeforeEach
  void adopted() {
    kit.adopt();
    kit.production().row(BAND, row("DAY", "11.00")).row(BAND, row("OWN", "7.00"));
  }

  private Draft picked(RowsPolicy policy) {
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    kit.engine()
        .drafts()
        .add(
            kit.ines,
            draft.id(),
            DEVELOPMENT,
            List.of(new Adoption.Pick(ROWS, null, true, policy)));
    return kit.engine().drafts().check(kit.ines, draft.id());
  }

  private Version sealed(RowsPolicy policy, String number) {
    return kit.engine()
        .drafts()
        .seal(
            kit.ines,
            picked(policy).id(),
            new Drafts.Statement(new SemVer(number), "Rows", "", null, List.of()));
  }

  private String value(String code) {
    return kit.production().value(BAND, code, "amount");
  }

  private static List<String> conflicts(Promotion p) {
    return p.components().stream()
        .filter(c -> c.counts().conflict() > 0)
        .map(c -> c.key().toString())
        .toList();
  }

  private static List<String> said(Promotion p, String rule) {
    return p.findings().stream()
        .filter(f -> f.rule().equals(rule))
        .map(f -> f.severity() + " " + f.sentence())
        .toList();
  }

  @Test
  void addOnlyLeavesWhatIsThere() {
    kit.development().row(BAND, row("DAY", "12.00")).row(BAND, row("PEAK", "25.00"));
    kit.development().row(BAND, row("NIGHT", "4.00"));
    sealed(RowsPolicy.ADD_ONLY, "1.1.0");

    Promotion p = kit.prepare("1.1.0");

    assertThat(conflicts(p)).isEmpty();
    assertThat(said(p, "rows-stay"))
        .containsExactly(
            "NOTE records/fares.band is add only: 3 rows that the site has otherwise, or alone, stay as they are.");
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    assertThat(value("DAY")).isEqualTo("11.00");
    assertThat(value("PEAK")).isEqualTo("20.00");
    assertThat(value("NIGHT")).isEqualTo("4.00");
    assertThat(value("OWN")).isEqualTo("7.00");
    assertThat(kit.record().look().records()).isZero();
  }

  /** What somebody deleted at the site does not come again with each version. */
  @Test
  void addOnlyDoesNotBringBackWhatTheSiteGaveUp() {
    kit.production().removeRow(BAND, "PEAK");
    kit.development().row(BAND, row("PEAK", "25.00"));
    sealed(RowsPolicy.ADD_ONLY, "1.1.0");

    Promotion p = kit.prepare("1.1.0");

    assertThat(conflicts(p)).isEmpty();
    assertThat(p.requirePlan().statements()).isEmpty();
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void aMirrorTakesAwayWhatOnlyTheSiteHasAndGivesItBack(Plan.Way way) {
    kit.development().row(BAND, row("NIGHT", "4.00"));
    kit.development().removeRow(BAND, "PEAK");
    kit.production().row(BAND, row("DAY", "10.00"));
    String before = kit.production().state();
    sealed(RowsPolicy.MIRROR, "1.1.0");

    Promotion p = kit.prepare("1.1.0");

    assertThat(said(p, "mirror-removes"))
        .containsExactly("RISK records/fares.band is a mirror: 2 rows that only the site has go.");
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "NIGHT");
    kit.run(kit.back(way));
    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** Also where the version that is left is an ordinary one: a mirror between took them away. */
  @Test
  void whatAMirrorTookAwayComesBackOverALaterVersion() {
    kit.production().row(BAND, row("DAY", "10.00"));
    String before = kit.production().state();
    kit.development().row(BAND, row("NIGHT", "4.00"));
    sealed(RowsPolicy.MIRROR, "1.1.0");
    kit.bring("1.1.0");
    kit.development().row(BAND, row("DAWN", "3.00"));
    sealed(RowsPolicy.ADD_AND_CHANGE, "1.2.0");
    kit.bring("1.2.0");
    assertThat(kit.production().keys(BAND)).containsExactly("DAWN", "DAY", "NIGHT", "PEAK");

    kit.run(kit.back(Plan.Way.EARLIER_VERSION, "1.0.0"));

    assertThat(kit.production().state()).isEqualTo(before);
  }

  /** A backup tells rows apart by the primary key: by other columns they cannot be found in it. */
  @Test
  void whatDoesNotComeBackIsSaid() {
    for (ScriptedDatabase.Base place : List.of(kit.development(), kit.production())) {
      place.table("fares.place", number("id"), number("code")).row("fares.place", place("1", "1"));
    }
    kit.production().row("fares.place", place("2", "2"));
    ComponentKey rows = ComponentKey.of("records/fares.place");
    RecordsDefinition byCode =
        new RecordsDefinition(TableName.of("fares.place"), List.of("code"), null);
    for (RowsPolicy policy : List.of(RowsPolicy.ADD_AND_CHANGE, RowsPolicy.MIRROR)) {
      Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
      kit.engine()
          .drafts()
          .add(
              kit.ines,
              draft.id(),
              DEVELOPMENT,
              List.of(new Adoption.Pick(rows, byCode, true, policy)));
      kit.engine().drafts().check(kit.ines, draft.id());
      String number = policy == RowsPolicy.MIRROR ? "1.2.0" : "1.1.0";
      kit.engine()
          .drafts()
          .seal(
              kit.ines,
              draft.id(),
              new Drafts.Statement(new SemVer(number), "Places", "", null, List.of()));
      assertThat(kit.bring(number).state()).isEqualTo(RunState.DONE);
    }
    assertThat(kit.production().keys("fares.place")).containsExactly("1");

    Promotion back = kit.back(Plan.Way.EARLIER_VERSION);

    assertThat(said(back, "mirrored-away"))
        .containsExactly(
            "RISK What a mirror took away of records/fares.place does not come back by the earlier version: the backup tells rows apart by the primary key, the version by other columns.");
  }

  private static Column number(String name) {
    return new Column(name, "integer", true, null, null, null, null, null);
  }

  private static Map<String, @Nullable String> place(String id, String code) {
    Map<String, @Nullable String> out = new TreeMap<>();
    out.put("id", id);
    out.put("code", code);
    return out;
  }

  @Test
  void aMirrorAsksAboutWhatBothChanged() {
    kit.development().row(BAND, row("DAY", "12.00"));
    sealed(RowsPolicy.MIRROR, "1.1.0");

    assertThat(conflicts(kit.prepare("1.1.0"))).containsExactly("records/fares.band");
  }

  @Test
  void whatOnlyTheSiteHasIsDriftOfAMirror() {
    kit.production().removeRow(BAND, "OWN");
    kit.production().row(BAND, row("DAY", "10.00"));
    kit.development().row(BAND, row("NIGHT", "4.00"));
    sealed(RowsPolicy.MIRROR, "1.1.0");
    kit.bring("1.1.0");
    assertThat(kit.record().look().records()).isZero();

    kit.production().row(BAND, row("LATER", "1.00"));
    kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE);

    assertThat(kit.record().look().records()).isEqualTo(1);
  }

  @Test
  void staysWithTheRowsUntilAnotherIsNamed() {
    Version next = sealed(RowsPolicy.ADD_ONLY, "1.1.0");
    assertThat(next.entry(ROWS).orElseThrow().records().policy()).isEqualTo(RowsPolicy.ADD_ONLY);
    kit.development().row(BAND, row("NIGHT", "4.00"));

    assertThat(picked(null).picks())
        .extracting(Draft.Pick::changes)
        .containsExactly("1 row added; add only");
    assertThat(picked(RowsPolicy.ADD_AND_CHANGE).picks())
        .extracting(Draft.Pick::changes)
        .containsExactly("1 row added; add and change");
  }

  /** Rows that are gone in development are ticked where nothing else says whether they go. */
  @ParameterizedTest
  @EnumSource(RowsPolicy.class)
  void rowsThatAreGoneAreTickedUnderTheOrdinaryOneAlone(RowsPolicy policy) {
    kit.development().removeRow(BAND, "PEAK");

    assertThat(picked(policy).gone()).hasSize(policy == RowsPolicy.ADD_AND_CHANGE ? 1 : 0);
  }

  @Test
  void aMirrorHasAllRowsOfItsTable() {
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    RecordsDefinition some =
        new RecordsDefinition(
            TableName.of(BAND), List.of("code"), ConditionText.of("code = 'DAY'"));

    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .add(
                        kit.ines,
                        draft.id(),
                        DEVELOPMENT,
                        List.of(new Adoption.Pick(ROWS, some, true, RowsPolicy.MIRROR))))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("a mirror has all rows of its table");
  }
}
