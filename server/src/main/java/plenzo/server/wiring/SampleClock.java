package plenzo.server.wiring;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import org.jspecify.annotations.Nullable;

/**
 * The clock of a sample world, in which a quarter goes by in minutes: as far from the machine's as
 * a file says, which is read whenever the time is asked for. Whoever moves it moves it forward.
 */
final class SampleClock extends Clock {
  private final Path file;

  private SampleClock(Path file) {
    this.file = file;
  }

  /** The machine's clock where no file is named; a service with another one says so. */
  static Clock of(@Nullable Path file) {
    if (file == null) {
      return Clock.systemUTC();
    }
    SampleClock clock = new SampleClock(file);
    System.getLogger(SampleClock.class.getName())
        .log(
            System.Logger.Level.WARNING,
            "This service is for trying out: its clock is a sample's and says "
                + clock.instant()
                + ". What it writes down did not happen then.");
    return clock;
  }

  @Override
  public Instant instant() {
    try {
      return Instant.now().plus(Duration.parse(Files.readString(file).strip()));
    } catch (IOException e) {
      throw new UncheckedIOException("The sample clock " + file + " cannot be read", e);
    } catch (DateTimeParseException e) {
      throw new IllegalStateException(
          "The sample clock " + file + " has no duration such as -PT2160H.", e);
    }
  }

  @Override
  public ZoneId getZone() {
    return ZoneOffset.UTC;
  }

  @Override
  public Clock withZone(ZoneId zone) {
    return this;
  }
}
