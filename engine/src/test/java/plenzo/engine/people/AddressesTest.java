package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** An address that many share is slowed for strangers and closed for nobody. */
class AddressesTest {
  private static final String OFFICE = "192.0.2.7";

  private final Addresses addresses = new Addresses();
  private Instant now = Instant.parse("2026-06-03T20:00:00Z");

  @BeforeEach
  void somebodyGuesses() {
    addresses.succeeded(OFFICE, "ines");
    for (int n = 0; n < Addresses.FAILURES; n++) {
      assertThat(addresses.judges(OFFICE, "nobody-" + n, now)).as("try %d", n).isTrue();
      addresses.failed(OFFICE, now);
    }
  }

  private boolean judges(String login) {
    return addresses.judges(OFFICE, login, now);
  }

  private void later(Duration time) {
    now = now.plus(time);
  }

  @Test
  void judgesWhomItKnowsAsEver() {
    for (int n = 0; n < 100; n++) {
      assertThat(judges("ines")).isTrue();
    }
  }

  @Test
  void judgesStrangersOneAfterTheOther() {
    assertThat(judges("bram")).as("at once").isFalse();
    later(Addresses.PAUSE);
    assertThat(judges("bram")).isTrue();
    assertThat(judges("tove")).as("behind bram").isFalse();
    later(Addresses.PAUSE);
    assertThat(judges("tove")).isTrue();
  }

  @Test
  void isNotOpenedByOneWhoSucceeds() {
    addresses.succeeded(OFFICE, "mallory");

    assertThat(judges("bram")).isFalse();
  }

  @Test
  void leavesOtherAddressesAlone() {
    assertThat(addresses.judges("192.0.2.8", "bram", now)).isTrue();
  }

  @Test
  void forgetsAfterAnHourWithoutFailures() {
    later(Duration.ofMinutes(61));
    for (int n = 0; n < 10; n++) {
      assertThat(judges("bram")).isTrue();
    }
  }
}
