package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.version.SemVer;

/** What came with something to look at is not good before somebody says so. */
class ToLookAtTest {
  private static final SemVer VERSION = new SemVer("1.1.0");
  private static final Instant AT = Instant.EPOCH.plusSeconds(60);

  private static SiteRecord came(boolean toLookAt, @Nullable SemVer from) {
    return SiteRecord.none("fares", SiteKey.of("test/main"))
        .placed(
            new SiteRecord.Placement(
                VERSION,
                "run",
                3L,
                AT,
                "ines",
                toLookAt ? new SiteRecord.Placement.Looked(3, AT) : null),
            List.of(),
            from,
            SiteRecord.Look.NONE);
  }

  private static SiteRecord.Verdict verdict(boolean good, Instant at) {
    return new SiteRecord.Verdict(VERSION, good, "seen", "tove", at);
  }

  @Test
  void isNotGoodUntilSomebodyJudgesIt() {
    assertThat(came(true, null).condition()).isEqualTo(Condition.TO_LOOK_AT);
    assertThat(came(false, null).condition()).isEqualTo(Condition.GOOD);

    SiteRecord judged = came(true, null).judged(verdict(true, AT.plusSeconds(1)));
    assertThat(judged.condition()).isEqualTo(Condition.GOOD);
    assertThat(came(true, null).judged(verdict(false, AT.plusSeconds(1))).condition())
        .isEqualTo(Condition.JUDGED_BAD);
  }

  /** Values alone were given, and the host answers otherwise: the version is the same as before. */
  @Test
  void aRunThatBroughtNoVersionCountsTooAndSoDoesOnlyALaterWord() {
    SiteRecord good = came(false, null).judged(verdict(true, AT.plusSeconds(1)));
    SiteRecord found = good.withToLookAt(new SiteRecord.Placement.Looked(9, AT.plusSeconds(60)));

    assertThat(found.condition()).isEqualTo(Condition.TO_LOOK_AT);
    assertThat(found.placements()).hasSameSizeAs(good.placements());
    assertThat(found.judged(verdict(true, AT.plusSeconds(61))).condition())
        .isEqualTo(Condition.GOOD);
  }

  @Test
  void anEarlierWordIsNotAboutThisRun() {
    SiteRecord before =
        SiteRecord.none("fares", SiteKey.of("test/main")).judged(verdict(true, AT.minusSeconds(1)));

    assertThat(
            before
                .placed(
                    new SiteRecord.Placement(
                        VERSION, "run", 4L, AT, "ines", new SiteRecord.Placement.Looked(4, AT)),
                    List.of(),
                    null,
                    SiteRecord.Look.NONE)
                .condition())
        .isEqualTo(Condition.TO_LOOK_AT);
  }

  @Test
  void goingBackWithSomethingToLookAtSaysThatFirst() {
    assertThat(came(true, new SemVer("1.2.0")).condition()).isEqualTo(Condition.TO_LOOK_AT);
    assertThat(came(false, new SemVer("1.2.0")).condition()).isEqualTo(Condition.ROLLED_BACK);
  }

  @Test
  void aNewerRunWithoutItIsGoodAgain() {
    assertThat(
            came(true, null)
                .placed(
                    new SiteRecord.Placement(new SemVer("1.2.0"), "run", 5L, AT, "ines"),
                    List.of(),
                    null,
                    SiteRecord.Look.NONE)
                .condition())
        .isEqualTo(Condition.GOOD);
  }
}
