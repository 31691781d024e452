package plenzo.core.report;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.report.Figures.End;
import plenzo.core.report.Figures.One;
import plenzo.core.report.Figures.Row;

/** Runs of a span, counted. */
class FiguresTest {
  private static One one(
      String application,
      String stage,
      String ended,
      End end,
      boolean back,
      int seconds,
      @Nullable Integer out) {
    return new One(
        1,
        application,
        stage,
        Instant.parse(ended),
        end,
        back,
        Duration.ofSeconds(seconds),
        out == null ? null : Duration.ofSeconds(out),
        end == End.DONE && !back ? Duration.ofDays(seconds) : null,
        null,
        Duration.ofHours(seconds));
  }

  private static final List<One> RUNS =
      List.of(
          one("fares", "test", "2027-01-31T23:59:59Z", End.DONE, false, 10, null),
          one("fares", "production", "2027-02-01T00:00:00Z", End.DONE, false, 30, 20),
          one("fares", "production", "2027-02-03T00:00:00Z", End.DONE, true, 40, 5),
          one("zones", "production", "2027-02-04T00:00:00Z", End.STOPPED, false, 5, null),
          one("zones", "production", "2027-02-05T00:00:00Z", End.LOOK, false, 20, 1),
          one("zones", "production", "2027-02-06T00:00:00Z", End.HALF, false, 60, null));

  @Test
  void goingBackIsCountedApartFromComingThrough() {
    Row all = Figures.whole(RUNS);

    assertThat(all)
        .extracting(
            Row::runs,
            Row::cameThrough,
            Row::toLookAt,
            Row::stopped,
            Row::putBack,
            Row::halfWritten,
            Row::wentBack)
        .containsExactly(6, 3, 1, 1, 0, 1, 1);
    assertThat(all.usersOut()).isEqualTo(Duration.ofSeconds(26));
    // 5 10 20 30 40 60: the lower of both in the middle, one that there was
    assertThat(all.tookMedian()).isEqualTo(Duration.ofSeconds(20));
    assertThat(all.tookMost()).isEqualTo(Duration.ofSeconds(60));
    assertThat(all.sealingMedian()).isEqualTo(Duration.ofDays(10));
    assertThat(all.forYesMedian()).as("nobody was asked").isNull();
    assertThat(all.forStartMedian()).isEqualTo(Duration.ofHours(20));
  }

  @Test
  void groupsAreThoseThatThereAreInOrder() {
    assertThat(Figures.byMonth(RUNS))
        .extracting(Row::name, Row::runs)
        .hasToString("[(\"2027-01\", 1), (\"2027-02\", 5)]");
    assertThat(Figures.byStage(RUNS)).extracting(Row::name).containsExactly("production", "test");
    assertThat(Figures.byApplication(RUNS))
        .extracting(Row::name, Row::wentBack)
        .hasToString("[(\"fares\", 1), (\"zones\", 0)]");
    assertThat(Figures.whole(List.of()).tookMedian()).isNull();
  }
}
