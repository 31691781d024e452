package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.stage.SiteKey;

/** What a run carries, and how much longer another one takes for it. */
class LoadTest {
  private static final Instant BEGAN = Instant.parse("2027-03-01T08:00:00Z");

  /** Came through with that many rows copied and written, a second a step. */
  private static Run run(long copied, long written) {
    List<RunStep> steps =
        List.of(
            step(1, Act.BACK_UP),
            step(2, Act.CLOSE),
            step(3, Act.ADD_MOVED),
            step(4, Act.SWITCH),
            step(5, Act.OPEN));
    Run run =
        Run.queued(
            1,
            new Run.Goal(1, "fares", "2", "1", new SiteKey("production", "north"), "ab", List.of()),
            "ines",
            BEGAN,
            steps);
    return run.withState(RunState.RUNNING, BEGAN, null)
        .withState(RunState.DONE, BEGAN, null)
        .withProgress(written, written)
        .withBackup(
            new Run.Backup("b", "b", 1, copied, List.of(), List.of(), "", "", "proven", BEGAN));
  }

  private static RunStep step(int number, Act act) {
    return new RunStep(
        number,
        act,
        act == Act.BACK_UP ? null : Holder.DATABASE,
        "Step",
        RunStep.State.DONE,
        BEGAN,
        BEGAN.plusSeconds(1),
        null,
        null);
  }

  private static ComponentResult records(String name, Counts counts) {
    return new ComponentResult(
        new ComponentKey(Kind.RECORDS, name), Difference.CHANGED, counts, List.of(), "");
  }

  @Test
  void aPlanCopiesTheTablesInWhichItWrites() {
    Load load =
        Load.of(
            List.of(
                records("fares.band", new Counts(3, 2, 1, 0, 4, 1000)),
                records("fares.untouched", new Counts(0, 0, 0, 0, 0, 5000))));

    assertThat(load).isEqualTo(new Load(1007, 6));
  }

  @Test
  void asMuchTakesAsLong() {
    Spans spans = Spans.of(List.of(run(1000, 10)), new Load(1000, 10));

    assertThat(spans.whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(5), Duration.ofSeconds(5), 1));
    assertThat(spans.usersOut())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(4), Duration.ofSeconds(4), 1));
  }

  @Test
  void moreRowsTakeLongerByARangeAndOnlyWhereTheyAreCarried() {
    Spans spans = Spans.of(List.of(run(1000, 10)), new Load(2_001_000, 10));

    // two steps copy them at 200,000 to 20,000 a second, one of them while users are out
    assertThat(spans.whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(25), Duration.ofSeconds(205), 1));
    assertThat(spans.usersOut())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(14), Duration.ofSeconds(104), 1));
  }

  @Test
  void whatIsWrittenCountsForTheSwitch() {
    Spans spans = Spans.of(List.of(run(1000, 10)), new Load(1000, 20_010));

    assertThat(spans.usersOut())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(5), Duration.ofSeconds(14), 1));
  }

  @Test
  void lessIsCountedAsWhatAQuickTargetSavesAndNeverLessThanNothing() {
    Spans spans = Spans.of(List.of(run(100_000, 10)), new Load(0, 10));

    assertThat(spans.whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(4), Duration.ofSeconds(4), 1));
    assertThat(Spans.of(List.of(run(100_000_000, 10)), new Load(0, 10)).whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(3), Duration.ofSeconds(3), 1));
  }

  @Test
  void whereNoneCameThroughTheSizeAloneTells() {
    Load much = new Load(1_000_000, 40_000);
    Spans spans = Spans.of(List.of()).orBySize(much, /* closes= */ true);

    assertThat(spans.whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(19), Duration.ofSeconds(230), 0));
    assertThat(spans.usersOut())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(9), Duration.ofSeconds(130), 0));
    assertThat(Spans.of(List.of()).orBySize(much, /* closes= */ false).usersOut()).isNull();
  }

  @Test
  void whatCameThroughSaysMoreThanTheSize() {
    Spans spans = Spans.of(List.of(run(1000, 10))).orBySize(new Load(9, 9), /* closes= */ true);

    assertThat(spans.whole()).extracting(Spans.Span::runs).isEqualTo(1);
  }
}
