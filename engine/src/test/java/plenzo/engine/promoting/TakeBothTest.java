package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.AttributeDifference.Side;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.comparing.ComparisonFiles;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;

/** A conflict in which each side moved something else can be decided for both together. */
class TakeBothTest extends KitTest {
  private static final String ROWS = "records/" + BAND;
  private static final String PEAK = ROWS + "#row/\"PEAK\"";

  @BeforeEach
  void world() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, null, column("note", "text"), false);
      base.row(BAND, noted("20.00", "a"));
    }
    kit.adopt();
  }

  private static Map<String, @Nullable String> noted(String amount, String note) {
    Map<String, @Nullable String> out = row("PEAK", amount);
    out.put("note", note);
    return out;
  }

  private Promotion decided(String at, Decision decision) {
    long p = kit.prepare("1.1.0").number();
    kit.engine().promotions().decide(kit.ines, p, Map.of(at, decision));
    kit.settleDown();
    return kit.promotion(p);
  }

  private RowDifference conflict(Promotion p) {
    int n = p.components().stream().map(c -> c.key().toString()).toList().indexOf(ROWS);
    try (ComparisonFiles.Reader rows =
        kit.engine()
            .comparer()
            .files()
            .read(Objects.requireNonNull(p.comparison()), n, Difference.CONFLICT, 0)) {
      return Objects.requireNonNull(rows.next());
    }
  }

  @Test
  void writesWhatEitherSideMovedOfARow() {
    kit.production().row(BAND, noted("21.00", "a"));
    kit.development().row(BAND, noted("20.00", "b"));
    kit.seal("1.1.0");
    RowDifference row = conflict(kit.prepare("1.1.0"));
    assertThat(row.attributes())
        .extracting(AttributeDifference::name, AttributeDifference::base)
        .containsExactly(
            org.assertj.core.api.Assertions.tuple("amount", Side.of("20.00")),
            org.assertj.core.api.Assertions.tuple("note", Side.of("a")));

    Run run = kit.run(decided(PEAK, Decision.TAKE_BOTH));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("21.00");
    assertThat(kit.production().value(BAND, "PEAK", "note")).isEqualTo("b");
    assertThat(kit.record().exceptions()).as("it is neither side").containsExactly(PEAK);
    assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).drift()).isZero();
  }

  @Test
  void staysUndecidedWhereBothMovedOneAttribute() {
    kit.production().row(BAND, noted("21.00", "a"));
    kit.development().row(BAND, noted("22.00", "b"));
    kit.seal("1.1.0");

    Promotion p = decided(PEAK, Decision.TAKE_BOTH);

    assertThat(conflict(p).both()).isEmpty();
    assertThat(kit.rules(p)).contains("BLOCKER conflict-undecided");
  }

  @Test
  void isDecidedForAllRowsThatCanBeAndTheRestStaysOpen() {
    kit.production().row(BAND, noted("21.00", "a"));
    kit.development().row(BAND, noted("20.00", "b"));
    Map<String, @Nullable String> day = row("DAY", "11.00");
    kit.production().row(BAND, day);
    kit.development().row(BAND, row("DAY", "12.00"));
    kit.seal("1.1.0");

    Promotion p = decided(ROWS, Decision.TAKE_BOTH);

    assertThat(p.findings())
        .filteredOn(f -> f.rule().equals("conflict-undecided"))
        .singleElement()
        .satisfies(f -> assertThat(f.count()).isEqualTo(1));
  }

  /** A row that only one side has is not made of both. */
  @Test
  void isNotOfferedWhereOneSideTookTheRowAway() {
    kit.production().gone(BAND, "PEAK");
    kit.development().row(BAND, noted("20.00", "b"));
    kit.seal("1.1.0");

    assertThat(conflict(kit.prepare("1.1.0")).both()).isEmpty();
  }

  private static String rule(String amount, String unit) {
    return EngineKit.rule(amount).replace("Peak", "Peak by " + unit);
  }

  @Test
  void writesWhatEitherSideMovedOfADefinition() {
    kit.host().put(RULE, rule("1", "zone"));
    kit.hosts.at("development").put(RULE, rule("1", "zone"));
    kit.seal("1.0.1");
    kit.bring("1.0.1");
    kit.host().put(RULE, rule("5", "zone"));
    kit.hosts.at("development").put(RULE, rule("1", "line"));
    kit.sealFrom("1.1.0", "1.0.1");
    Promotion open = kit.prepare("1.1.0");
    assertThat(attributes(open))
        .as("what both had is known")
        .allMatch(a -> a.base() != null && !a.base().absent());

    kit.engine().promotions().decide(kit.ines, open.number(), Map.of(RULE, Decision.TAKE_BOTH));
    kit.settleDown();
    Run run = kit.run(kit.promotion(open.number()));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.host().text(RULE)).isEqualTo(rule("5", "line"));
    assertThat(kit.record().exceptions()).containsExactly(RULE);
    assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).drift()).isZero();
  }

  /** Only what was changed at the site is said to have been changed there. */
  @Test
  void aDecisionIsNoChangeAtTheSite() {
    kit.host().put(RULE, rule("5", "zone"));
    kit.hosts.at("development").put(RULE, rule("6", "zone"));
    kit.seal("1.1.0");
    Promotion open = kit.prepare("1.1.0");
    kit.engine().promotions().decide(kit.ines, open.number(), Map.of(RULE, Decision.KEEP));
    kit.settleDown();
    assertThat(kit.promotion(open.number()).moved()).as("nobody has agreed to it yet").isEmpty();

    kit.engine()
        .promotions()
        .approve(kit.bram, open.number(), true, fingerprint(open.number()), "yes");
    kit.engine().promotions().decide(kit.ines, open.number(), Map.of(RULE, Decision.TAKE_INCOMING));
    kit.settleDown();

    assertThat(kit.promotion(open.number()).moved())
        .containsExactly("The findings, decisions or bindings of the plan changed");
    assertThat(kit.promotion(open.number()).approvals()).noneMatch(Promotion.Approval::counts);
  }

  private String fingerprint(long promotion) {
    return kit.promotion(promotion).requirePlan().fingerprint().digest().hex();
  }

  /** Both moved the factor, and each something else: the factor alone is asked about. */
  @Test
  void asksOfSingleMembersOfADefinitionThatBothMoved() {
    kit.host().put(RULE, rule("1", "zone"));
    kit.hosts.at("development").put(RULE, rule("1", "zone"));
    kit.seal("1.0.1");
    kit.bring("1.0.1");
    kit.host().put(RULE, rule("5", "zone"));
    kit.hosts.at("development").put(RULE, rule("6", "line"));
    kit.sealFrom("1.1.0", "1.0.1");
    long p = kit.prepare("1.1.0").number();
    kit.engine().promotions().decide(kit.ines, p, Map.of(RULE, Decision.TAKE_BOTH));
    kit.settleDown();
    assertThat(kit.rules(kit.promotion(p))).contains("BLOCKER conflict-undecided");

    kit.engine()
        .promotions()
        .decide(kit.ines, p, Map.of(RULE + "#member/definition/factor", Decision.KEEP));
    kit.settleDown();
    Run run = kit.run(kit.promotion(p));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.host().text(RULE)).isEqualTo(rule("5", "line"));
    assertThat(kit.record().exceptions()).containsExactly(RULE);
  }

  private static List<AttributeDifference> attributes(Promotion p) {
    List<AttributeDifference> out = new ArrayList<>();
    p.components().stream()
        .filter(c -> c.key().toString().equals(RULE))
        .forEach(c -> c.parts().forEach(x -> out.addAll(x.attributes())));
    return out;
  }
}
