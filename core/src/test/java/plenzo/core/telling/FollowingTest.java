package plenzo.core.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.time.LocalTime;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.history.HistoryEntry;

/** What a person is told of, and when by letter. */
class FollowingTest {
  private static Following quiet(@Nullable String from, @Nullable String until) {
    return new Following(
        "ines",
        "ines@morrowick.example",
        List.of(),
        List.of(),
        Set.of(News.values()),
        from == null ? null : LocalTime.parse(from),
        until == null ? null : LocalTime.parse(until),
        "Europe/Oslo",
        0,
        0);
  }

  private static HistoryEntry entry(
      String event, String actor, @Nullable String application, @Nullable String stage) {
    return new HistoryEntry(
        7,
        Instant.parse("2027-03-10T22:00:00Z"),
        actor,
        event,
        application,
        stage,
        "main",
        "2.4.0",
        9L,
        12L,
        "Look\u0007 at\nthis",
        HistoryEntry.START,
        HistoryEntry.START);
  }

  @ParameterizedTest
  @CsvSource({
    // before, in and after hours over midnight, in Oslo (an hour ahead of UTC)
    "22:00, 07:00, 2027-01-10T20:59:00Z, 2027-01-10T20:59:00Z",
    "22:00, 07:00, 2027-01-10T21:00:00Z, 2027-01-11T06:00:00Z",
    "22:00, 07:00, 2027-01-11T05:59:00Z, 2027-01-11T06:00:00Z",
    "22:00, 07:00, 2027-01-11T06:00:00Z, 2027-01-11T06:00:00Z",
    // within a day
    "12:00, 13:00, 2027-01-10T11:30:00Z, 2027-01-10T12:00:00Z",
    "12:00, 13:00, 2027-01-10T12:00:00Z, 2027-01-10T12:00:00Z",
    // never
    "12:00, 12:00, 2027-01-10T11:00:00Z, 2027-01-10T11:00:00Z",
  })
  void lettersWaitForTheEndOfQuietHours(String from, String until, String now, String sent) {
    assertThat(quiet(from, until).sent(News.FAILED, Instant.parse(now))).isEqualTo(sent);
  }

  @Test
  void nothingHoldsBackWhatIsUrgent() {
    Instant night = Instant.parse("2027-01-10T23:00:00Z");

    assertThat(quiet("22:00", "07:00").sent(News.about("half written"), night)).isEqualTo(night);
    assertThat(quiet(null, null).sent(News.RUNS, night)).isEqualTo(night);
  }

  @Test
  void nobodyIsToldOfWhatTheyDidThemselvesUnlessItIsUrgent() {
    Following ines = Following.usual("ines");

    assertThat(ines.wants(entry("run stopped", "bram", "fares", "test"))).isTrue();
    assertThat(ines.wants(entry("run stopped", "ines", "fares", "test"))).isFalse();
    assertThat(ines.wants(entry("half written", "ines", "fares", "test"))).isTrue();
    assertThat(ines.wants(entry("sealed", "bram", "fares", null)))
        .as("not what one usually follows")
        .isFalse();
  }

  @Test
  void stagesAndApplicationsNarrowIt() {
    Following some =
        new Following(
            "ines",
            "",
            List.of("production"),
            List.of("fares"),
            Set.of(News.RUNS),
            null,
            null,
            "UTC",
            0,
            0);

    assertThat(some.wants(entry("run done", "bram", "fares", "production"))).isTrue();
    assertThat(some.wants(entry("run done", "bram", "fares", "test"))).isFalse();
    assertThat(some.wants(entry("run done", "bram", "zones", "production"))).isFalse();
    assertThat(some.wants(entry("run done", "bram", null, null))).isFalse();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "ines",
        "ines@",
        "a b@c",
        "x@y\r\nBcc: z@y",
        "\"x\"@y",
        "<ines@y.example>",
        "a@b,c@d"
      })
  void whatIsNoMailAddressIsRefused(String mail) {
    assertThatIllegalArgumentException()
        .isThrownBy(
            () ->
                new Following(
                    "ines", mail, List.of(), List.of(), Set.of(), null, null, "UTC", 0, 0));
  }

  @Test
  void everyEventIsOfOneSort() {
    assertThat(News.about("half written")).isEqualTo(News.URGENT);
    assertThat(News.about("judged bad")).isEqualTo(News.FAILED);
    assertThat(News.about("stage changed")).isEqualTo(News.SETUP);
    assertThat(News.of("failed")).isEqualTo(News.FAILED);
  }

  @Test
  void aLetterSaysTheStateFirstThenTheSentenceTheFingerprintAndWhereItIsRead() {
    Letter letter =
        Letter.of(
            "ines@morrowick.example",
            entry("half written", "plenzo", "fares", "production"),
            "7c1e-90ab-k3mz",
            "https://plenzo.example",
            "svc");

    assertThat(letter.subject()).isEqualTo("Half written: fares 2.4.0 at production/main");
    assertThat(letter.text())
        .startsWith("Half written: fares 2.4.0 at production/main\n\nLook  at\nthis\n\n")
        .containsSubsequence("Plan 7c1e-90ab-k3mz", "https://plenzo.example/runs/R-12");
    assertThat(letter.id()).isEqualTo("svc-7");
  }

  @Test
  void theHeadOfALetterIsOneShortLine() {
    HistoryEntry e = entry("run\r\nBcc: all@x", "x", "f".repeat(300), "production");

    assertThat(Letter.of("a@b.example", e, null, "", "svc").subject())
        .hasSizeLessThanOrEqualTo(150)
        .doesNotContain("\r", "\n");
  }
}
