package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Closing;
import plenzo.core.stage.Leg;
import plenzo.core.target.ItemsLooking.Work.Item;
import plenzo.core.target.TargetFailed;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** How users are kept out while a version comes, as its leg says. */
class ClosingTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  private void leg(Closing how) {
    kit.asks(Leg.open("production").closing(how));
  }

  @Test
  void workThatDoesNotEndInTheTimeOfItsLegStopsTheRunUnchanged() {
    leg(new Closing(1, ""));
    kit.host().running.add(new Item("1", "counts quotes", "marit", "rule/fares.peak"));
    String before = kit.production().state();

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("Running work did not end within 1 s");
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.host().maintenance).as("everybody is in again").isFalse();
  }

  @Test
  void peopleReadTheNoticeOfTheLegAndElseTheVersion() {
    Run run = kit.bring("1.1.0");
    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().notice).isEqualTo("1.1.0 is being put in place");

    leg(new Closing(60, "Back at six"));
    kit.sealPeak("1.2.0", "26.00");
    kit.bring("1.2.0");
    assertThat(kit.host().notice).isEqualTo("Back at six");
  }

  @Test
  void peopleAreToldBeforeAndNobodyIsKeptOutUntilThen() {
    leg(new Closing(60, 10, "Back at six"));
    kit.host()
        .script
        .once(
            At.ANNOUNCE,
            () -> {
              assertThat(kit.host().announced).isEqualTo("Back at six");
              assertThat(kit.host().maintenance).isFalse();
              kit.clock.tick(Duration.ofMinutes(10));
            });

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(run.steps())
        .filteredOn(s -> s.act() == Act.ANNOUNCE)
        .extracting(RunStep::note)
        .containsExactly("People were told 10 min before");
    assertThat(run.usersOutSince().orElseThrow())
        .isAfterOrEqualTo(
            run.step(Act.ANNOUNCE, null).orElseThrow().began().plus(Duration.ofMinutes(10)));
    assertThat(kit.host().announced).isNull();
  }

  @Test
  void aHostThatCannotTellThemStopsTheRunUnchanged() {
    leg(new Closing(60, 10, ""));
    kit.host()
        .script
        .once(
            At.ANNOUNCE,
            () -> {
              throw new TargetFailed("There is no /announcement", false, new RuntimeException());
            });

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("There is no /announcement");
    assertThat(kit.host().maintenance).isFalse();
  }

  @Test
  void whatPeopleWereToldIsTakenBackWhereTheRunWasKilledMeanwhile() {
    leg(new Closing(60, 10, ""));
    kit.host().script.killAt(At.ANNOUNCE);
    long run = kit.bringUntilKilled("1.1.0");
    assertThat(kit.host().announced).isNotNull();

    assertThat(kit.restart().recover()).isZero();

    assertThat(kit.run(run).state()).isEqualTo(RunState.STOPPED);
    assertThat(kit.host().announced).isNull();
    assertThat(kit.host().maintenance).isFalse();
  }

  @Test
  void itIsPartOfWhatAYesCovers() {
    Promotion p = kit.prepare("1.1.0");
    String was = p.requirePlan().fingerprint().shown();

    leg(new Closing(600, "Back at six"));

    Promotion now = kit.promotion(p.number());
    assertThat(now.requirePlan().fingerprint().shown()).isNotEqualTo(was);
    assertThat(now.requirePlan().gates())
        .extracting(Plan.Condition::words)
        .contains("running work waited for 10 min, and people told: Back at six");
    assertThat(now.moved())
        .anyMatch(line -> line.startsWith("It is asked now: running work waited for 10 min"));
  }
}
