package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.Spans;
import plenzo.core.stage.Closing;
import plenzo.core.stage.Leg;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/**
 * Somebody sets the clock while a run goes on: it comes to the same end, and does not say times
 * that are not known.
 */
class SetClockTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  private void leg(Leg leg) {
    kit.asks(leg);
  }

  private Object peak() {
    return kit.production().value(EngineKit.BAND, "PEAK", "amount");
  }

  @ParameterizedTest
  @CsvSource({
    "PREPARE, -7200",
    "PREPARE, 3456000",
    "SWITCH, -7200",
    "SWITCH, 3456000",
    "SWITCHED, -7200"
  })
  void aRunComesToItsEnd(At at, long seconds) {
    Promotion p = kit.prepare("1.1.0");
    kit.production().script.once(at, () -> kit.clock.set(Duration.ofSeconds(seconds)));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.host().maintenance).isFalse();
  }

  @ParameterizedTest
  @CsvSource({"-7200", "3456000"})
  void aKilledRunIsSettledWhateverTheClockSays(long seconds) {
    kit.production().script.killAt(At.SWITCHED);
    long run = kit.bringUntilKilled("1.1.0");
    kit.clock.set(Duration.ofSeconds(seconds));

    assertThat(kit.restart().recover()).isZero();

    assertThat(kit.run(run).state()).isEqualTo(RunState.DONE);
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.recover()).as("nothing is left to do").isZero();
  }

  @Test
  void whatItTookIsNotKnownWhereTheClockWasSetBack() {
    Promotion p = kit.prepare("1.1.0");
    kit.production().script.once(At.SWITCH, () -> kit.clock.set(Duration.ofHours(-2)));
    kit.run(p);

    kit.sealPeak("1.2.0", "26.00");
    Spans spans = kit.engine().runs().spans(kit.prepare("1.2.0"));

    assertThat(spans.whole()).extracting(Spans.Span::runs).as("by its size alone").isEqualTo(0);
    assertThat(spans.usersOut()).extracting(Spans.Span::runs).isEqualTo(0);
    assertThat(spans.usualWhole()).isNull();
  }

  /** Measured by the clock, this would wait for two hours. */
  @Test
  @Timeout(60)
  void peopleAreToldForAsLongAsWasSaidWhateverTheClockSays() {
    leg(Leg.open("production").closing(new Closing(60, 10, "")));
    kit.host()
        .script
        .once(
            At.ANNOUNCE,
            () -> {
              kit.clock.set(Duration.ofHours(-2));
              kit.clock.tick(Duration.ofMinutes(10));
            });

    assertThat(kit.bring("1.1.0").state()).isEqualTo(RunState.DONE);
  }

  @Test
  void aYesThatIsTooOldByTheClockOfTheStartCountsNoMore() {
    leg(
        new Leg(
            "production",
            List.of(new Leg.Quorum("", 1)),
            /* approvalDays= */ 7,
            false,
            false,
            0,
            "",
            false,
            java.util.Set.of()));
    Promotion p = kit.prepare("1.1.0");
    kit.engine()
        .promotions()
        .approve(kit.bram, p.number(), true, p.requirePlan().fingerprint().shown(), "");
    kit.clock.set(Duration.ofDays(8));

    org.assertj.core.api.Assertions.assertThatThrownBy(() -> kit.run(kit.promotion(p.number())))
        .hasMessageContaining("too old to count");
    assertThat(peak()).isEqualTo("20.00");
  }
}
