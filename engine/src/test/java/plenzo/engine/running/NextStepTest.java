package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.comparison.Decision;
import plenzo.core.component.Kind;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.NextStep;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.target.SwitchRefused;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.returning.Rollbacks;

/** Every end of a run that leaves something to do says what, ways back among them. */
class NextStepTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");
  }

  private Optional<NextStep> next(Run run) {
    return NextStep.of(run, kit.promotion(run.promotion()), kit.record());
  }

  private static void refuse() {
    throw new SwitchRefused(SwitchRefused.Why.MOVED, "A row moved", List.of());
  }

  /** The database, which is switched last, refuses, and somebody touched the host meanwhile. */
  private Run halfWritten(Promotion p) {
    kit.production()
        .script
        .once(
            At.SWITCH,
            () -> {
              kit.host().put(RULE, rule("9"));
              refuse();
            });
    Run half = kit.run(p);
    assertThat(half.state()).as(half.sentence()).isEqualTo(RunState.HALF_WRITTEN);
    return half;
  }

  @Test
  void isNoneWhereEverythingWentThrough() {
    assertThat(next(kit.bring("1.1.0"))).isEmpty();
  }

  @Test
  void isThePromotionThatIsComparedAgain() {
    kit.production().script.once(At.SWITCH, NextStepTest::refuse);
    Run run = kit.run(kit.prepare("1.1.0"));
    assertThat(run.state()).isEqualTo(RunState.PUT_BACK);

    assertThat(next(run))
        .hasValue(
            new NextStep(
                NextStep.Code.PROMOTION,
                "P-1 is compared again: look what moved, and start it again."));
    kit.engine().promotions().withdraw(kit.ines, run.promotion(), "not now");

    assertThat(next(run)).as("it is closed").isEmpty();
  }

  @Test
  void isTheOtherWayWhereGoingBackFailed() {
    kit.bring("1.1.0");
    kit.production().script.once(At.SWITCH, NextStepTest::refuse);
    Run run = kit.run(kit.back(Plan.Way.BACKUP));
    assertThat(run.state()).isEqualTo(RunState.PUT_BACK);

    assertThat(next(run).orElseThrow().words())
        .isEqualTo(
            "P-2 is compared again: look what moved, and start it again, or go back the other way.");
    kit.engine().promotions().withdraw(kit.ines, run.promotion(), "not now");

    assertThat(next(run))
        .hasValue(
            new NextStep(
                NextStep.Code.WAYS_BACK, "1.1.0 is still there: look at the ways back again."));
  }

  /** Decision D14: only the targets that had switched are put back. */
  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void putsBackOnlyWhatHadSwitchedOfASiteThatIsHalfWritten(Plan.Way way) {
    Run half = halfWritten(kit.prepare("1.1.0"));
    Map<String, Decision> take = Map.of(RULE, Decision.TAKE_INCOMING);

    assertThat(next(half).orElseThrow().code()).isEqualTo(NextStep.Code.WAYS_BACK);
    Rollbacks.Option back = kit.way(way, take);
    assertThat(back.possible()).as(back.why()).isTrue();
    assertThat(back.version()).isEqualTo(new SemVer("1.0.0"));
    assertThat(back.writes()).containsExactly(Kind.Holder.HOST);
    Run run = kit.run(kit.back(way, take));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.host().text(RULE)).isEqualTo(rule("1"));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(kit.record().halfWritten()).isFalse();
    assertThat(kit.record().rolledBackFrom()).isEqualTo(new SemVer("1.1.0"));
    assertThat(next(half)).as("it is whole again").isEmpty();
  }

  /** The run before it went through: going back is to what that one brought, not before it. */
  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void goesBackToTheVersionBeforeTheOneThatCameHalf(Plan.Way way) {
    kit.bring("1.1.0");
    kit.hosts.at("development").put(RULE, rule("3"));
    kit.development().row(BAND, row("PEAK", "30.00"));
    kit.sealFrom("1.2.0", "1.1.0");
    halfWritten(kit.prepare("1.2.0"));
    Map<String, Decision> take = Map.of(RULE, Decision.TAKE_INCOMING);

    Run run = kit.run(kit.back(way, take));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.host().text(RULE)).isEqualTo(rule("2"));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
  }

  @Test
  void isFinishedByPreparingItAgain() {
    halfWritten(kit.prepare("1.1.0"));
    Promotion p = kit.prepare("1.1.0");

    Run run = kit.run(kit.takeIncoming(p, RULE));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.record().halfWritten()).isFalse();
    assertThat(kit.host().text(RULE)).isEqualTo(rule("2"));
  }

  @Test
  void goesOnWithAWayBackThatIsHalfWritten() {
    kit.bring("1.1.0");
    Run half = halfWritten(kit.back(Plan.Way.BACKUP));
    assertThat(half.sentence())
        .endsWith("Next: look at the ways back again; what is back stays so.");
    assertThat(next(half).orElseThrow().words()).startsWith("What went back stays so.");

    Map<String, Decision> take = Map.of(RULE, Decision.TAKE_INCOMING);
    Run run = kit.run(kit.back(Plan.Way.EARLIER_VERSION, take));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(kit.host().text(RULE)).isEqualTo(rule("1"));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  @Test
  void isToLookAtWhatDiffersAfterwards() {
    kit.production()
        .script
        .once(At.SWITCHED, () -> kit.production().row(BAND, row("PEAK", "7.00")));
    Run run = kit.bring("1.1.0");
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE_TO_LOOK_AT);

    assertThat(next(run).orElseThrow().code()).isEqualTo(NextStep.Code.WHAT_DIFFERS);
  }
}
