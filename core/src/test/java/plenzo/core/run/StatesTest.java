package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.EnumSet;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.promotion.PromotionState;

class StatesTest {
  @ParameterizedTest
  @EnumSource(RunState.class)
  void goesOnlyAlongItsTable(RunState from) {
    Set<RunState> allowed =
        switch (from) {
          case QUEUED -> EnumSet.of(RunState.RUNNING, RunState.STOPPED);
          case RUNNING -> EnumSet.complementOf(EnumSet.of(RunState.QUEUED, RunState.RUNNING));
          case PAUSED -> EnumSet.of(RunState.RUNNING);
          default -> EnumSet.noneOf(RunState.class);
        };

    for (RunState to : RunState.values()) {
      assertThat(from.mayBecome(to)).as(from + " to " + to).isEqualTo(allowed.contains(to));
    }
    assertThat(from.ended()).isEqualTo(allowed.isEmpty());
    assertThat(RunState.of(from.code())).isEqualTo(from);
  }

  @ParameterizedTest
  @EnumSource(
      value = PromotionState.class,
      names = {"DONE", "WITHDRAWN", "OVERTAKEN"})
  void closesForGood(PromotionState closed) {
    assertThat(closed.open()).isFalse();
    for (PromotionState to : PromotionState.values()) {
      assertThat(closed.mayBecome(to)).isEqualTo(to == closed);
    }
  }
}
