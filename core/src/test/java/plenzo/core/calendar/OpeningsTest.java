package plenzo.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** When a run may start, by windows, freezes and clocks that change. */
class OpeningsTest {
  private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

  /** Mondays to Thursdays at night. */
  private static final Window NIGHTS =
      Window.of(List.of("mon", "tue", "wed", "thu"), "22:00", "04:00");

  private static Instant at(String local) {
    return java.time.LocalDateTime.parse(local).atZone(OSLO).toInstant();
  }

  private static Freeze freeze(String from, String until, String... except) {
    return new Freeze(
        2,
        "production",
        at(from),
        at(until),
        "Year's end",
        List.of(except),
        "ines",
        at(from),
        null,
        0);
  }

  private static Openings openings(List<Window> windows, Freeze... freezes) {
    return new Openings("Production", OSLO, windows, List.of(freezes), "fares");
  }

  private static @Nullable String why(Openings o, String local) {
    return o.closed(at(local)).map(Openings.Closed::why).orElse(null);
  }

  @ParameterizedTest
  @CsvSource({
    // Tuesday the 1st
    "2026-12-01T21:59, closed",
    "2026-12-01T22:00, open",
    "2026-12-02T03:59, open",
    "2026-12-02T04:00, closed",
    // Thursday's goes on into Friday, and none begins then
    "2026-12-04T03:00, open",
    "2026-12-04T23:00, closed",
  })
  void aWindowIsOpenFromItsFirstMinuteIntoTheNextDay(String local, String is) {
    assertThat(openings(List.of(NIGHTS)).closed(at(local)).isEmpty()).isEqualTo(is.equals("open"));
  }

  @Test
  void withoutWindowsItIsAlwaysOpen() {
    assertThat(openings(List.of()).closed(at("2026-12-05T12:00"))).isEmpty();
  }

  @Test
  void outsideTheNextOneIsSaid() {
    assertThat(why(openings(List.of(NIGHTS)), "2026-12-04T12:00"))
        .isEqualTo(
            "Production is outside its windows, the next opens 2026-12-07 22:00 Europe/Oslo");
  }

  @Test
  void aFreezeHoldsUntilItsEndAndTheNextWindowAfterIt() {
    Openings o = openings(List.of(NIGHTS), freeze("2026-12-20T00:00", "2027-01-04T06:00"));

    assertThat(why(o, "2026-12-21T23:00"))
        .isEqualTo("Production is frozen until 2027-01-04 06:00 Europe/Oslo: Year's end (FZ-2)");
    assertThat(o.next(at("2026-12-21T23:00"))).contains(at("2027-01-04T22:00"));
    assertThat(o.closed(at("2027-01-04T22:00"))).isEmpty();
  }

  @Test
  void aFreezeDoesNotHoldAnApplicationThatIsExceptedNorOnceItIsLifted() {
    assertThat(
            openings(List.of(), freeze("2026-12-20T00:00", "2027-01-04T06:00", "fares"))
                .closed(at("2026-12-21T23:00")))
        .isEmpty();
    Freeze lifted =
        freeze("2026-12-20T00:00", "2027-01-04T06:00")
            .lift(new Freeze.Lifted("ines", at("2026-12-22T08:00"), "Agreed"));
    assertThat(openings(List.of(), lifted).closed(at("2026-12-22T07:59"))).isPresent();
    assertThat(openings(List.of(), lifted).closed(at("2026-12-22T08:00"))).isEmpty();
    assertThat(openings(List.of(), lifted).next(at("2026-12-21T08:00")))
        .contains(at("2026-12-22T08:00"));
  }

  @Test
  void theLaterOfTwoFreezesIsSaid() {
    Freeze longer = freeze("2026-12-24T00:00", "2027-01-10T00:00");
    Openings o = openings(List.of(), freeze("2026-12-20T00:00", "2026-12-27T00:00"), longer);

    assertThat(why(o, "2026-12-25T12:00")).contains("until 2027-01-10 00:00");
    assertThat(o.next(at("2026-12-25T12:00"))).contains(at("2027-01-10T00:00"));
  }

  /** On 2027-03-28 the clocks go from 02:00 to 03:00, on 2027-10-31 from 03:00 back to 02:00. */
  @Test
  void anHourThatIsSkippedOrComesTwiceIsSaid() {
    Window night = Window.of(List.of("sun"), "01:00", "05:00");
    Window skipped = Window.of(List.of("sun"), "02:00", "03:00");

    List<Window.Span> spring =
        openings(List.of(night, skipped)).spans(at("2027-03-28T00:00"), at("2027-03-29T00:00"));
    assertThat(spring)
        .extracting(Window.Span::note)
        .containsExactly(
            "the clocks change: it lasts 60 min less",
            "these hours are skipped: the clocks change");
    assertThat(openings(List.of(skipped)).closed(at("2027-03-28T03:00"))).isPresent();

    Window.Span autumn =
        openings(List.of(night)).spans(at("2027-10-31T00:00"), at("2027-11-01T00:00")).get(0);
    assertThat(autumn.note()).isEqualTo("the clocks change: it lasts 60 min longer");
    assertThat(Duration.between(autumn.from(), autumn.until())).isEqualTo(Duration.ofHours(5));
  }

  @Test
  void spansAreThoseThatTouchIt() {
    assertThat(openings(List.of(NIGHTS)).spans(at("2026-12-02T00:00"), at("2026-12-03T00:00")))
        .extracting(Window.Span::from)
        .containsExactly(at("2026-12-01T22:00"), at("2026-12-02T22:00"));
  }

  @Test
  void whatIsNoFreezeIsRefused() {
    assertThatThrownBy(() -> freeze("2026-12-20T00:00", "2026-12-20T00:00"))
        .hasMessageContaining("ends after it begins");
    assertThatThrownBy(() -> freeze("2026-12-20T00:00", "2028-12-20T00:00"))
        .hasMessageContaining("a year long at most");
    assertThatThrownBy(() -> Window.of(List.of(), "22:00", "04:00"))
        .hasMessageContaining("one day of the week at least");
    assertThatThrownBy(() -> Window.of(List.of("someday"), "22:00", "04:00"))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void aWindowIsReadInTheOrderOfTheWeek() {
    assertThat(NIGHTS.words()).isEqualTo("mon, tue, wed, thu 22:00 to 04:00");
    assertThat(
            Window.of(List.of("sun", "sat", "fri", "thu", "wed", "tue", "mon"), "08:00", "10:00")
                .words())
        .isEqualTo("every day 08:00 to 10:00");
  }
}
