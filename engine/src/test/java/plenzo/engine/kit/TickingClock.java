package plenzo.engine.kit;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that goes on by a second whenever it is asked, and as far as it is told. */
public final class TickingClock extends Clock {
  private Instant now = Instant.parse("2027-03-01T08:00:00Z");

  private Duration steady = Duration.ZERO;

  /** Time goes by. */
  public synchronized void tick(Duration by) {
    now = now.plus(by);
    steady = steady.plus(by);
  }

  /** Somebody sets the clock; no time goes by. */
  public synchronized void set(Duration by) {
    now = now.plus(by);
  }

  /** What does not care how the clock is set. */
  public synchronized long nanos() {
    return steady.toNanos();
  }

  @Override
  public synchronized Instant instant() {
    tick(Duration.ofSeconds(1));
    return now;
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
