package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.TableStructure;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** A way back leads to what was there, takes away nothing that a run did not create. */
class WayBackTest extends KitTest {

  private String state() {
    return kit.production().state() + kit.host().text(RULE);
  }

  private Run goBack(Plan.Way way) {
    Promotion p = kit.back(way);
    assertThat(p.findings())
        .as("what stands in the way")
        .noneMatch(f -> f.severity() == plenzo.core.impact.Finding.Severity.BLOCKER);
    Run run = kit.run(p);
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    return run;
  }

  /** Whoever works it out sees how far it is, and that it is over. */
  @Test
  void isListedWhileItIsWorkedOut() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    List<String> seen = new ArrayList<>();
    kit.production()
        .script
        .once(
            plenzo.engine.kit.Script.At.LOOK,
            () ->
                kit.engine()
                    .tools()
                    .underway()
                    .list(kit.ines, "rollback/fares@production/main")
                    .forEach(w -> seen.add(w.act().code() + " " + (w.ended() == null))));

    kit.ways();

    assertThat(seen).containsExactly("go-back true");
    assertThat(kit.engine().tools().underway().list(kit.ines, "rollback/fares@production/main"))
        .allMatch(w -> w.ended() != null);
  }

  /** rollback(apply(plan)) = start */
  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void undoesWhatARunDid(Plan.Way way) {
    kit.adopt();
    String before = state();
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.development()
        .row(BAND, row("PEAK", "25.00"))
        .row(BAND, row("NIGHT", "5.00"))
        .gone(BAND, "DAY");
    kit.seal("1.1.0");
    kit.bring("1.1.0");
    assertThat(state()).isNotEqualTo(before);

    goBack(way);

    assertThat(state()).isEqualTo(before);
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
  }

  /** Somebody had made the row by hand before the version brought the same. */
  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void neverRemovesARowThatWasThereBeforeTheVersionBroughtIt(Plan.Way way) {
    kit.adopt();
    kit.production().row(BAND, row("NIGHT", "5.00"));
    String before = state();
    kit.development()
        .row(BAND, row("NIGHT", "5.00"))
        .row(BAND, row("DAWN", "4.00"))
        .row(BAND, row("PEAK", "25.00"));
    kit.seal("1.1.0");
    kit.run(kit.prepare("1.1.0"));
    assertThat(kit.production().keys(BAND)).contains("NIGHT", "DAWN");

    goBack(way);

    assertThat(state()).isEqualTo(before);
  }

  /** What stays as it is stands in no list of what is written. */
  @Test
  void namesWhatItWritesAndNothingElse() {
    kit.adopt("table/" + BAND, "records/" + BAND, RULE);
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");

    for (Plan.Way way : List.of(Plan.Way.EARLIER_VERSION, Plan.Way.BACKUP)) {
      assertThat(kit.way(way).touched())
          .extracting(c -> c.key() + " " + c.counts().changed() + " " + c.counts().written())
          .containsExactly("records/" + BAND + " 1 1");
    }
  }

  @Test
  void neverRemovesRowsThatWereThereBeforeTheyWereCarried() {
    kit.adopt("table/" + BAND, RULE);
    String before = state();
    kit.development().row(BAND, row("NIGHT", "5.00")).row(BAND, row("PEAK", "25.00"));
    kit.seal("1.1.0");
    kit.run(kit.takeIncoming(kit.prepare("1.1.0"), "records/" + BAND));
    assertThat(kit.production().keys(BAND)).contains("NIGHT");

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(state()).isEqualTo(before);
  }

  @Test
  void neverRemovesThemAlsoWhenTheRunFoundThemEqual() {
    kit.adopt("table/" + BAND, RULE);
    String before = state();
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.seal("1.1.0");
    kit.bring("1.1.0");

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(state()).isEqualTo(before);
  }

  @Test
  void remembersThemThroughAKillInTheSwitch() {
    kit.adopt("table/" + BAND, RULE);
    String before = state();
    kit.development().row(BAND, row("NIGHT", "5.00"));
    kit.seal("1.1.0");
    kit.production().script.killAt(At.SWITCHED);
    kit.bringUntilKilled("1.1.0");
    kit.restart().recover();
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(state()).isEqualTo(before);
  }

  @Test
  void bringsBackADefinitionThatWasThereBeforeItWasCarried() {
    kit.adopt("table/" + BAND, "records/" + BAND);
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.seal("1.1.0");
    kit.run(kit.takeIncoming(kit.prepare("1.1.0"), RULE));
    assertThat(kit.host().text(RULE)).isEqualTo(rule("2"));

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(kit.host().text(RULE)).isEqualTo(rule("1"));
  }

  @Test
  void takesAwayATableThatARunCreated() {
    kit.adopt();
    kit.development().table("fares.zone", column("code", "text"));
    kit.seal("1.1.0", "table/fares.zone");
    kit.bring("1.1.0");
    assertThat(kit.production().structure("fares.zone")).isNotNull();

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(kit.production().structure("fares.zone")).isNull();
  }

  @Test
  void leavesAloneWhatNobodyKnowsTheBeforeOf() {
    kit.adopt("table/" + BAND, RULE);
    kit.development().row(BAND, row("NIGHT", "5.00"));
    kit.seal("1.1.0");
    kit.bring("1.1.0");
    kit.write(
        kept -> {
          var r = kept.sites().find("fares@production/main").orElseThrow();
          kept.sites()
              .replace(
                  new plenzo.core.stage.SiteRecord(
                      r.application(),
                      r.site(),
                      r.present(),
                      r.placements(),
                      r.verdicts(),
                      r.exceptions(),
                      r.halfWritten(),
                      r.rolledBackFrom(),
                      r.look(),
                      r.failed(),
                      r.bound(),
                      java.util.Map.of(),
                      r.left(),
                      r.closedBy(),
                      r.gave(),
                      r.owed(),
                      r.revision()));
          return null;
        });

    Promotion p = kit.back(Plan.Way.EARLIER_VERSION);

    assertThat(kit.rules(p)).contains("RISK before-unknown");
    kit.run(p);
    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "NIGHT", "PEAK");
  }

  @Test
  void keepsWhatPeopleWroteSinceByTheEarlierVersion() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.production().row(BAND, row("OWN", "1.00"));

    goBack(Plan.Way.EARLIER_VERSION);

    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "OWN", "PEAK");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  @Test
  void doesNotCountTheRunsOwnRowsAsWrittenSinceWhenItAddedAColumn() {
    kit.adopt();
    kit.development().column(BAND, "nothing", column("note", "text"), false);
    kit.development().row(BAND, row("NIGHT", "5.00"));
    kit.seal("1.1.0");
    kit.bring("1.1.0");

    assertThat(kit.way(Plan.Way.BACKUP).lost()).isZero();
    kit.production().row(BAND, row("OWN", "1.00"));
    assertThat(kit.way(Plan.Way.BACKUP).lost()).isEqualTo(1);
  }

  @Test
  void saysWhenTheSiteCannotBeAsked() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.production().script.fallSilent();

    List<Rollbacks.Option> ways = kit.ways();

    assertThat(ways).allMatch(Rollbacks.Option::unreachable).noneMatch(Rollbacks.Option::possible);
  }

  /** Somebody changed the row after the run; the plan is agreed, then it is decided otherwise. */
  @Test
  void isCoveredNoMoreWhenItIsDecidedThatWhatPeopleWroteIsOverwritten() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.production().row(BAND, row("PEAK", "99.00"));
    Promotion p = kit.back(Plan.Way.EARLIER_VERSION);
    assertThat(p.coveredBy()).as("the approvals of the run cover it").isNotNull();
    assertThat(kit.rules(p)).doesNotContain("RISK rows-lost");

    Promotion decided = kit.takeIncoming(p, "records/" + BAND);

    assertThat(decided.coveredBy()).isNull();
    assertThat(decided.findings())
        .filteredOn(f -> f.rule().equals("rows-lost"))
        .singleElement()
        .satisfies(f -> assertThat(f.count()).isEqualTo(1));
  }

  @Test
  void abortingItNeedsTheRightToGoBackAndNotToRun() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    Run run = kit.start(kit.back(Plan.Way.EARLIER_VERSION));
    var runner = EngineKit.person("runner", Right.LOOK, Right.RUN);
    var returner = EngineKit.person("returner", Right.LOOK, Right.GO_BACK);

    assertThatThrownBy(() -> kit.engine().runs().abort(runner, run.number(), "no"))
        .isInstanceOf(Problem.class);
    kit.engine().runs().abort(returner, run.number(), "no");
    kit.settleDown();

    assertThat(kit.run(run.number()).state()).isEqualTo(RunState.STOPPED);
  }

  @Test
  void doesNotCountDroppedValuesOfRowsThatAreGone() {
    kit.production().column(BAND, "nothing", column("note", "text"), false);
    kit.development().column(BAND, "nothing", column("note", "text"), false);
    kit.adopt("table/" + BAND, RULE);
    Map<String, @Nullable String> noted = row("PEAK", "20.00");
    noted.put("note", "by hand");
    kit.production().row(BAND, noted);
    kit.development().column(BAND, "note", column("level", "integer"), false);
    kit.seal("1.1.0", "table/" + BAND, RULE);
    kit.bring("1.1.0");
    kit.production().gone(BAND, "PEAK");

    assertThat(kit.way(Plan.Way.EARLIER_VERSION).lost()).isZero();
  }

  @Test
  void knowsBeforeTheRunThatRowsWithoutAKeyCannotBePutBack() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    assertThat(kit.prepare("1.1.0").requirePlan().waysBack()).allMatch(Plan.WayBack::possible);
    for (var base : List.of(kit.production(), kit.development())) {
      base.table("fares.log", column("line", "text"))
          .row("fares.log", new TreeMap<>(Map.of("line", "x")));
      base.structure(
          "fares.log",
          new TableStructure(List.of(column("line", "text")), List.of(), List.of(), null));
    }
    kit.development().column("fares.log", "nothing", column("level", "integer"), false);
    kit.seal("1.2.0", "table/fares.log");
    assertThat(kit.prepare("1.2.0").requirePlan().waysBack())
        .as("told apart by all columns, as none has a twin")
        .allMatch(Plan.WayBack::possible);
    kit.production().answers(plenzo.core.target.Question.Type.DUPLICATES_BY, 1);

    assertThat(kit.prepare("1.2.0").requirePlan().waysBack())
        .filteredOn(w -> !w.possible())
        .singleElement()
        .satisfies(w -> assertThat(w.way()).isEqualTo(Plan.Way.BACKUP))
        .satisfies(w -> assertThat(w.sentence()).contains("rows of fares.log have no key"));
  }
}
