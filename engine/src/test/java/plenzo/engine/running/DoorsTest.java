package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Closing;
import plenzo.core.stage.Leg;
import plenzo.core.target.Doors;
import plenzo.core.target.TargetFailed;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** Accounts of a database are kept out while a version comes, and let in whatever becomes of it. */
class DoorsTest extends KitTest {
  private static final Doors DESK = new Doors(List.of("desk"), false);

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.keepOut(DESK);
    patience(1);
    kit.settleDown();
  }

  private void patience(int seconds) {
    kit.asks(Leg.open("production").closing(new Closing(seconds, "")));
  }

  private Object peak() {
    return kit.production().value(BAND, "PEAK", "amount");
  }

  private static final String IN_AGAIN = "Everybody is let in again";

  private String logOf(Run run) {
    return kit.engine().runs().log(kit.ines, run.number());
  }

  @Test
  void nobodyOfThemIsInWhileItIsSwitchedAndEverybodyAfterwards() {
    Promotion p = kit.prepare("1.1.0");
    assertThat(p.requirePlan().steps())
        .filteredOn(s -> s.act() == Act.CLOSE || s.act() == Act.OPEN)
        .extracting(s -> s.act() + " " + s.holder())
        .containsExactly("CLOSE HOST", "CLOSE DATABASE", "OPEN DATABASE", "OPEN HOST");
    kit.production()
        .script
        .once(At.SWITCH, () -> assertThat(kit.production().out).containsExactly("desk"));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.production().out).isEmpty();
    assertThat(kit.host().maintenance).isFalse();
    assertThat(logOf(run)).containsOnlyOnce(IN_AGAIN);
    assertThat(kit.record().closedBy()).isNull();
    assertThat(run.usersOutSince().orElseThrow()).isBefore(run.usersInAgain().orElseThrow());
    assertThat(run.usersInAgain()).isEqualTo(Optional.of(run.last(Act.OPEN).orElseThrow().ended()));
  }

  @Test
  void sessionsThatDoNotEndStopItAndNothingIsChanged() {
    kit.production().inside.put("desk", 2);

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("Running work did not end within 1 s");
    assertThat(peak()).isEqualTo("20.00");
    assertThat(kit.production().out).as("everybody is let in").isEmpty();
    assertThat(logOf(run)).containsOnlyOnce(IN_AGAIN);
    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.production().inside).as("nobody was thrown out").containsKey("desk");
  }

  @Test
  void sessionsAreEndedWhenTheWaitIsOverWhereThatIsSaid() {
    kit.keepOut(new Doors(List.of("desk"), true));
    kit.settleDown();
    kit.production().inside.put("desk", 2);
    kit.production().inside.put("other", 1);

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().inside.keySet()).containsExactly("other");
  }

  @ParameterizedTest
  @EnumSource(
      value = At.class,
      names = {"PREPARE", "SWITCH", "SWITCHED"})
  void everybodyIsLetInAfterAKill(At at) {
    kit.production().script.killAt(at);
    long run = kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    if (at == At.PREPARE) {
      assertThat(logOf(kit.run(run))).as("nobody was out").doesNotContain(IN_AGAIN);
    } else {
      assertThat(logOf(kit.run(run))).containsOnlyOnce(IN_AGAIN);
    }
    assertThat(kit.production().out).isEmpty();
    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.recover()).as("nothing is left to do").isZero();
  }

  /** Killed between the two doors: the one that was shut is opened, the other is asked in vain. */
  @Test
  void oneThatWasShutIsOpenedWhereTheOtherNeverWas() {
    kit.production().script.killAt(At.MAINTENANCE);
    kit.bringUntilKilled("1.1.0");
    assertThat(kit.host().maintenance).isTrue();

    assertThat(kit.restart().recover()).isZero();

    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.production().out).isEmpty();
    assertThat(peak()).isEqualTo("20.00");
  }

  @Test
  void whoWouldStillComeInStopsItBeforeAnythingIsChanged() {
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            At.MAINTENANCE,
            () -> {
              throw new TargetFailed("desk would still come in", false, new RuntimeException());
            });

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("desk would still come in");
    assertThat(kit.host().maintenance).isFalse();
  }

  @Test
  void whoIsKeptOutIsPartOfWhatAYesCovers() {
    Promotion p = kit.prepare("1.1.0");
    var before = p.requirePlan().fingerprint();

    kit.keepOut(new Doors(List.of("desk", "portal"), false));
    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();

    assertThat(kit.promotion(p.number()).requirePlan().fingerprint()).isNotEqualTo(before);
  }

  @Test
  void anOperatorShutsAndOpensThemByHand() {
    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, true, "Harbour fair");
    assertThat(kit.production().out).containsExactly("desk");
    assertThat(kit.host().maintenance).isTrue();
    assertThat(kit.record().closedBy()).isEqualTo("ines");

    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, false, "Over");
    assertThat(kit.production().out).isEmpty();
    assertThat(kit.record().closedBy()).isNull();
  }

  @Test
  void whoIsKeptOutIsNotForgottenWhileTheyAre() {
    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, true, "Harbour fair");

    assertThatThrownBy(() -> kit.keepOut(Doors.NONE))
        .hasMessageContaining("Users are kept out of production/main");

    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, false, "Over");
    kit.keepOut(Doors.NONE);
    assertThat(kit.production().out).isEmpty();
  }

  @Test
  void whatCouldNotBeShutByHandIsSaidAndNotedAndOpenedAgainByOff() {
    kit.production()
        .script
        .once(
            At.MAINTENANCE,
            () -> {
              throw new TargetFailed("no", false, new RuntimeException());
            });

    assertThatThrownBy(
            () -> kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, true, "Fair"))
        .hasMessageContaining("no");

    assertThat(kit.history().get(0).event()).isEqualTo("not closed as a whole");
    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, false, "Over");
    assertThat(kit.host().maintenance).isFalse();
  }
}
