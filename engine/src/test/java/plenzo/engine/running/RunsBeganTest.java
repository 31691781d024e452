package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Right;
import plenzo.core.run.Run;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Which runs began within a span. */
class RunsBeganTest extends KitTest {
  @Test
  void thoseOfTheSpanAreListedAndNoOthers() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    Run early = kit.bring("1.1.0");
    kit.clock.tick(Duration.ofDays(2));
    kit.sealPeak("1.2.0", "26.00");
    Run late = kit.bring("1.2.0");
    Instant began = late.startedAt();

    assertThat(kit.engine().runs().began(kit.ines, began, began.plusSeconds(1)))
        .extracting(Run::number)
        .containsExactly(late.number());
    assertThat(kit.engine().runs().began(kit.ines, Instant.EPOCH, began))
        .extracting(Run::number)
        .containsExactly(early.number());
    assertThat(kit.engine().runs().began(kit.ines, Instant.EPOCH, began.plusSeconds(1)))
        .extracting(Run::number)
        .containsExactly(late.number(), early.number());
    assertThat(
            kit.engine()
                .runs()
                .began(EngineKit.person("edda", Right.AUDIT), Instant.EPOCH, Instant.MAX))
        .isEmpty();
  }
}
