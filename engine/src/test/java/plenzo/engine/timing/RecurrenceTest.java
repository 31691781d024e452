package plenzo.engine.timing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.problem.Problem;

/** Times that come again, by rules of iCalendar. */
class RecurrenceTest {
  private static final ZoneId PARIS = ZoneId.of("Europe/Paris");
  private static final Instant FROM = Instant.parse("2027-03-26T11:07:30Z");

  private static List<String> times(String rule, int most) {
    Recurrence r = Recurrence.asked(rule, PARIS, FROM);
    List<String> out = new ArrayList<>();
    Instant at = FROM;
    for (int i = 0; i < most; i++) {
      Instant next = r.next(at).orElse(null);
      if (next == null) {
        break;
      }
      out.add(next.toString());
      at = next;
    }
    return out;
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        // 28 March has no 02:30 in Paris: it comes when the clocks are set
        "FREQ=DAILY;BYHOUR=2;BYMINUTE=30 | 2027-03-27T01:30:00Z 2027-03-28T01:30:00Z 2027-03-29T00:30:00Z",
        "FREQ=WEEKLY;BYDAY=MO,TU;BYHOUR=22;BYMINUTE=0 | 2027-03-29T20:00:00Z 2027-03-30T20:00:00Z 2027-04-05T20:00:00Z",
        // hour and minute of where it begins, where the rule says none
        "FREQ=DAILY | 2027-03-27T11:07:00Z 2027-03-28T10:07:00Z 2027-03-29T10:07:00Z",
        "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=3;BYMINUTE=0;COUNT=2 | 2027-04-04T01:00:00Z 2027-05-02T01:00:00Z",
      })
  void comesByItsRuleInTheZone(String rule, String expected) {
    assertThat(String.join(" ", times(rule.strip(), 3))).isEqualTo(expected.strip());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "NIGHTLY",
        "FREQ=NIGHTLY",
        "FREQ=SECONDLY",
        "FREQ=MINUTELY;INTERVAL=600",
        "FREQ=HOURLY;BYMINUTE=0,30",
        "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30",
        "FREQ=DAILY;UNTIL=20270101T000000Z",
      })
  void whatIsNoneOrComesTooOftenOrNeverIsRefused(String rule) {
    assertThatThrownBy(() -> Recurrence.asked(rule, PARIS, FROM))
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.code()).isEqualTo("RULE");
              assertThat(p.getMessage()).startsWith("\"" + rule + "\" is not taken");
            });
  }

  @Test
  void aLongRuleIsNotRead() {
    String rule = "FREQ=DAILY;BYMINUTE=" + "0,".repeat(200) + "0";
    assertThatThrownBy(() -> Recurrence.asked(rule, PARIS, FROM)).isInstanceOf(Problem.class);
  }
}
