package plenzo.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.stage.SiteKey;

/** When a scheduled run is looked at again, is due, and is missed. */
class ScheduleTest {
  private static final Instant AT = Instant.parse("2027-03-10T22:00:00Z");

  private static Schedule looked(String at) {
    return new Schedule(
        4,
        7,
        "fares",
        "2.4.0",
        new SiteKey("production", "main"),
        "ab",
        AT,
        "ines",
        Instant.parse("2027-03-01T08:00:00Z"),
        Schedule.State.WAITING,
        Instant.parse(at),
        "",
        null,
        null,
        0);
  }

  @ParameterizedTest
  @CsvSource({
    // each day
    "2027-03-07T08:00:00Z, 2027-03-08T07:59:00Z, false",
    "2027-03-07T08:00:00Z, 2027-03-08T08:00:00Z, true",
    // a day before
    "2027-03-09T08:00:00Z, 2027-03-09T21:59:00Z, false",
    "2027-03-09T08:00:00Z, 2027-03-09T22:00:00Z, true",
    // two hours before
    "2027-03-10T10:00:00Z, 2027-03-10T19:59:00Z, false",
    "2027-03-10T10:00:00Z, 2027-03-10T20:00:00Z, true",
    // a quarter of an hour before
    "2027-03-10T20:00:00Z, 2027-03-10T21:44:00Z, false",
    "2027-03-10T20:00:00Z, 2027-03-10T21:45:00Z, true",
    "2027-03-10T21:45:00Z, 2027-03-10T21:59:00Z, false",
  })
  void itIsLookedAtEachDayAndThreeTimesBefore(String looked, String now, boolean wants) {
    assertThat(looked(looked).wantsLook(Instant.parse(now))).isEqualTo(wants);
  }

  @Test
  void theNextLookIsSaidAndThenItsTime() {
    assertThat(looked("2027-03-10T10:00:00Z").nextLook()).isEqualTo("2027-03-10T20:00:00Z");
    assertThat(looked("2027-03-10T21:45:00Z").nextLook()).isEqualTo(AT);
    assertThat(looked("2027-03-01T08:00:00Z").nextLook()).isEqualTo("2027-03-02T08:00:00Z");
  }

  @Test
  void itIsDueAtItsTimeAndMissedTenMinutesLater() {
    Schedule s = looked("2027-03-10T21:45:00Z");

    assertThat(s.due(AT.minusSeconds(1))).isFalse();
    assertThat(s.due(AT)).isTrue();
    assertThat(s.missed(AT.plusSeconds(600))).isFalse();
    assertThat(s.missed(AT.plusSeconds(601))).isTrue();
  }
}
