package plenzo.engine.kit;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that goes on by a second whenever it is asked, and as far as it is told. */
public final class TickingClock extends Clock {
  private Instant now = Instant.parse("2027-03-01T08:00:00Z");

  public void tick(Duration by) {
    now = now.plus(by);
  }

  @Override
  public synchronized Instant instant() {
    now = now.plusSeconds(1);
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
