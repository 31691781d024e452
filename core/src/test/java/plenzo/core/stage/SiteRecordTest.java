package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.version.SemVer;

class SiteRecordTest {
  private SiteRecord record = SiteRecord.none("fares", new SiteKey("production", "main"));
  private long run;

  private void placed(String version, String how) {
    SemVer from = how.equals("rollback") ? record.present() : null;
    record =
        record.placed(
            new SiteRecord.Placement(new SemVer(version), how, ++run, Instant.EPOCH, "ines"),
            List.of(),
            from,
            new SiteRecord.Look(0, 0, List.of(), Instant.EPOCH, true, 0, null));
  }

  private void judged(String version, boolean good) {
    record =
        record.judged(
            new SiteRecord.Verdict(new SemVer(version), good, "seen", "tove", Instant.EPOCH));
  }

  private String lastGood() {
    return record.lastGood().map(SemVer::text).orElse("none");
  }

  @Test
  void endsHereToTheNewestVersionBeforeThePresentOne() {
    assertThat(lastGood()).isEqualTo("none");
    placed("2.3.0", "adopted");
    assertThat(lastGood()).isEqualTo("none");
    placed("2.4.0", "run");
    assertThat(lastGood()).isEqualTo("2.3.0");
  }

  @Test
  void leavesOutWhatWasJudgedBad() {
    placed("2.3.0", "adopted");
    placed("2.4.0", "run");
    placed("2.5.0", "run");
    judged("2.4.0", false);

    assertThat(lastGood()).isEqualTo("2.3.0");

    judged("2.4.0", true);
    assertThat(lastGood()).as("the newest word counts").isEqualTo("2.4.0");
  }

  @Test
  void neverLeadsForwardToAVersionThatWasGoneBackFrom() {
    placed("2.3.0", "adopted");
    placed("2.4.0", "run");
    placed("2.5.0", "run");
    placed("2.4.0", "rollback");

    assertThat(record.condition()).isEqualTo(Condition.ROLLED_BACK);
    assertThat(lastGood()).isEqualTo("2.3.0");
  }

  @Test
  void keepsTheDriftThatARunFound() {
    placed("2.3.0", "adopted");
    record =
        record.placed(
            new SiteRecord.Placement(new SemVer("2.4.0"), "run", 9L, Instant.EPOCH, "ines"),
            List.of(),
            null,
            new SiteRecord.Look(
                0, 2, List.of("records/fares.band#row/PEAK"), Instant.EPOCH, true, 0, null));

    assertThat(record.condition()).isEqualTo(Condition.DRIFTED);
    assertThat(record.drift()).isEqualTo(2);
  }

  @Test
  void addsWhatARunGaveToWhatWasGivenBefore() {
    record =
        record
            .given(4, List.of("a", "b"), Map.of("f@p#a", 1L, "f@p#b", 1L))
            .given(5, List.of("b", "c"), Map.of("f@p/main#b", 2L, "c", 0L));

    assertThat(record.bound())
        .as("of an input the host holds one value")
        .containsOnly(Map.entry("f@p#a", 1L), Map.entry("f@p/main#b", 2L), Map.entry("c", 0L));
  }

  @Test
  void remembersTheRunsThatGaveValuesAndThatNothingWasGivenBefore() {
    record = record.given(4, List.of("a"), Map.of("a", 0L));
    assertThat(record.gave()).containsExactly(0L, 4L);

    record = record.given(5, List.of("a"), Map.of("a", 0L)).given(7, List.of(), Map.of());

    assertThat(record.gave()).containsExactly(4L, 5L, 7L);
  }

  @Test
  void saysTheWorstOfWhatIsTrue() {
    placed("2.4.0", "run");
    assertThat(record.condition()).isEqualTo(Condition.GOOD);
    record =
        record.looked(
            new SiteRecord.Look(3, -1, List.of("table/a#column/x"), Instant.EPOCH, true, 0, null));
    assertThat(record.condition()).isEqualTo(Condition.DRIFTED);
    record = record.unreachable();
    assertThat(record.condition()).isEqualTo(Condition.NOT_REACHABLE);
    judged("2.4.0", false);
    assertThat(record.condition()).isEqualTo(Condition.JUDGED_BAD);
    record = record.withHalfWritten();
    assertThat(record.condition()).isEqualTo(Condition.HALF_WRITTEN);
    placed("2.4.1", "run");
    assertThat(record.condition()).as("a new run that succeeds").isEqualTo(Condition.GOOD);
  }
}
