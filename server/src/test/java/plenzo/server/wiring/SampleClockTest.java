package plenzo.server.wiring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The clock of a sample world goes with the machine's, as far behind as a file says. */
class SampleClockTest {
  @TempDir Path folder;

  @Test
  void withoutAFileItIsTheMachines() {
    assertThat(SampleClock.of(null)).isEqualTo(Clock.systemUTC());
  }

  @Test
  void itIsMovedByItsFileWhileItGoes() throws IOException {
    Path file = folder.resolve("clock");
    Files.writeString(file, "-PT48H\n");
    Clock clock = SampleClock.of(file);
    assertThat(clock.instant())
        .isCloseTo(Instant.now().minus(Duration.ofHours(48)), within(1, ChronoUnit.MINUTES));

    Files.writeString(file, "PT0S");
    assertThat(clock.instant()).isCloseTo(Instant.now(), within(1, ChronoUnit.MINUTES));
  }

  @Test
  void aFileThatSaysNothingStopsItAtOnce() throws IOException {
    Path file = folder.resolve("clock");
    Files.writeString(file, "yesterday");

    assertThatThrownBy(() -> SampleClock.of(file)).hasMessageContaining("no duration");
  }
}
