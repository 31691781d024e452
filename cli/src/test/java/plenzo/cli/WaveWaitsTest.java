package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Wave.PartView;
import plenzo.api.Wave.WavesView;

/** Waiting for waves ends where a person is waited for, and nowhere else. */
class WaveWaitsTest {
  private static WavesView with(String stateOfNorth) {
    return new WavesView(
        "W-1",
        "sailings",
        "1.9.0",
        "Tern",
        "production",
        "Production",
        true,
        "running",
        "",
        List.of(List.of(part("production/north", stateOfNorth, "R-1"))),
        0,
        "go-on",
        0,
        0,
        null,
        "ines",
        Instant.EPOCH,
        "ines",
        "f",
        "f",
        List.of(),
        0,
        1,
        List.of(),
        Map.of());
  }

  private static PartView part(String site, String state, String run) {
    return new PartView(
        site,
        "P-1",
        "1.8.0",
        state,
        "not-yet",
        new CountsView(0, 0, 0, 0, 0, 0),
        0,
        0,
        List.of(),
        List.of(),
        List.of(),
        run);
  }

  @ParameterizedTest
  @CsvSource({
    "running, paused,  running, true",
    "running, running, running, false",
    "running, paused,  done,    false", // it pauses for what comes after: the site has it
    "done,    paused,  done,    false",
    "agreed,  paused,  running, false"
  })
  void whereARunPausesBeforeItsSiteHasIt(
      String part, String run, String partAgain, boolean expected) {
    assertThat(WaveCommand.paused(with(part), r -> run, () -> with(partAgain))).isEqualTo(expected);
  }
}
