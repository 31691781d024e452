package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/**
 * A run has one that works on it: whoever looks for runs that were left alone finds none in the
 * middle of its beginning, and none begins twice.
 */
class AtWorkTest extends KitTest {
  private Promotion next(ManualStep... byHand) {
    kit.adopt();
    kit.development().row(EngineKit.BAND, EngineKit.row("PEAK", "25.00"));
    kit.sealFrom("1.1.0", null, List.of(byHand));
    return kit.prepare("1.1.0");
  }

  private Run paused() {
    Run run = kit.run(next(ManualStep.of(When.BEFORE, "", "Tell the desk")));
    assertThat(run.state()).isEqualTo(RunState.PAUSED);
    return run;
  }

  private void looksAtEveryChange() {
    kit.watches =
        run -> {
          if (run.state() == RunState.RUNNING) {
            kit.engine().runs().recover();
          }
        };
  }

  private void carriedOut(long run) {
    assertThat(kit.run(run).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(EngineKit.BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(kit.engine().runs().log(kit.ines, run))
        .as("each step is taken once")
        .containsOnlyOnce("Step 1:");
  }

  @Test
  void oneThatBeginsWasNotLeftAlone() {
    Promotion p = next();
    looksAtEveryChange();

    Run run = kit.run(p);

    carriedOut(run.number());
  }

  @Test
  void oneThatGoesOnWasNotLeftAlone() {
    Run run = paused();
    looksAtEveryChange();

    kit.engine().runs().steering().done(kit.bram, run.number(), 1, "");
    kit.settleDown();

    assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(EngineKit.BAND, "PEAK", "amount")).isEqualTo("25.00");
  }

  @Test
  void oneThatIsAbortedWhereItPausesEndsOnce() {
    Run run = paused();
    looksAtEveryChange();

    kit.engine().runs().abort(kit.ines, run.number(), "not today");
    kit.settleDown();

    Run over = kit.run(run.number());
    assertThat(over.state()).isEqualTo(RunState.STOPPED);
    assertThat(over.sentence()).startsWith("Aborted by ines");
  }

  @Test
  void oneThatIsAbortedInItsLineNeverBegins() {
    Run first = paused();
    kit.development().row(EngineKit.BAND, EngineKit.row("DAY", "11.00"));
    kit.sealFrom("1.2.0", "1.1.0", List.of());
    Run waits = kit.start(kit.prepare("1.2.0"));
    assertThat(waits.state()).isEqualTo(RunState.QUEUED);
    looksAtEveryChange();

    kit.engine().runs().abort(kit.ines, waits.number(), "not today");
    kit.engine().runs().steering().done(kit.bram, first.number(), 1, "");
    kit.settleDown();

    Run over = kit.run(waits.number());
    assertThat(over.state()).isEqualTo(RunState.STOPPED);
    assertThat(over.sentence()).startsWith("Aborted by ines");
    assertThat(kit.engine().runs().log(kit.ines, waits.number())).doesNotContain("Step 1:");
  }

  @Test
  void oneThatCouldNotGoOnIsStillTheRunOfWhomItWas() {
    Promotion p = next();
    Run run = kit.start(p);

    assertThatThrownBy(() -> kit.engine().runs().steering().resume(kit.ines, run.number()))
        .isInstanceOf(Problem.class);
    kit.engine().runs().recover();
    kit.settleDown();

    carriedOut(run.number());
  }

  @Test
  void oneThatAThreadIsDoneWithCanBeRecovered() {
    Promotion p = next();
    Run run = kit.start(p);
    kit.forgetWork();
    assertThat(kit.recover()).isZero();
    assertThat(kit.run(run.number()).state())
        .as("its thread may yet come")
        .isEqualTo(RunState.RUNNING);

    kit.restart().recover();

    assertThat(kit.run(run.number()).state()).isEqualTo(RunState.STOPPED);
  }
}
