package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.rule;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.target.TargetFailed;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** A host that keeps something of what changed refreshes it, before anybody is let in. */
class RefreshTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.host().keeps = "the list of forms";
  }

  private void change() {
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");
  }

  private static RunStep step(Run run) {
    return run.step(Act.REFRESH, null).orElseThrow();
  }

  @Test
  void itIsRefreshedAfterTheSwitchWhileUsersAreOut() {
    change();
    Promotion p = kit.prepare("1.1.0");
    kit.host()
        .script
        .once(At.REFRESH, () -> assertThat(kit.host().maintenance).as("users are out").isTrue());

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().refreshed).containsExactly(run.number());
    assertThat(step(run).note()).isEqualTo("the list of forms. People must: sign in again");
  }

  @Test
  void oneThatCannotIsLookedAtAndUsersAreLetIn() {
    change();
    Promotion p = kit.prepare("1.1.0");
    kit.host()
        .script
        .once(
            At.REFRESH,
            () -> {
              throw new TargetFailed("busy", false, new RuntimeException());
            });

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(run.sentence()).contains("did not refresh what it keeps: busy");
    assertThat(kit.host().maintenance).isFalse();
  }

  @Test
  void nothingIsRefreshedWhereTheHostIsNotTouchedOrKeepsNothing() {
    kit.sealPeak("1.1.0", "25.00");
    assertThat(kit.bring("1.1.0").step(Act.REFRESH, null)).isEmpty();

    kit.host().keeps = null;
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.2.0", "26.00");
    assertThat(kit.bring("1.2.0").step(Act.REFRESH, null)).isEmpty();
    assertThat(kit.host().refreshed).isEmpty();
  }

  @Test
  void itIsRefreshedOnTheWayBackAndAfterAKillToo() {
    change();
    kit.host().script.killAt(At.REFRESH);
    long run = kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    assertThat(kit.run(run).state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().refreshed).contains(run);
  }
}
