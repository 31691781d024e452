package plenzo.core.promotion;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

class PromotionTest {
  private static final Promotion PROMOTION =
      new Promotion(
          7,
          "fares",
          new SemVer("2.4.0"),
          new SiteKey("production", "main"),
          null,
          null,
          null,
          null,
          PromotionState.READY,
          "ines",
          Instant.EPOCH,
          "",
          null,
          null,
          List.of(),
          0,
          List.of(),
          Map.of(),
          Map.of(),
          java.util.Set.of(),
          null,
          List.of(),
          List.of("what moved"),
          null,
          null,
          null,
          3);

  private static Promotion.Approval word(String by, boolean yes, String plan) {
    return new Promotion.Approval(by, yes, plan, "", Instant.EPOCH, null);
  }

  @Test
  void countsAPersonsNewestWordOnAPlan() {
    Promotion said =
        PROMOTION
            .said(word("bram", false, "a"))
            .said(word("edda", true, "a"))
            .said(word("bram", true, "a"));

    assertThat(said.approvals())
        .filteredOn(Promotion.Approval::counts)
        .extracting(Promotion.Approval::by)
        .containsExactly("edda", "bram");
    assertThat(said.approvals()).noneMatch(Promotion.Approval::rejects).hasSize(3);
    assertThat(said.moved()).as("what moved was seen").isEmpty();
  }

  @Test
  void keepsWhatWasSaidOfAnotherPlanAsItWas() {
    Promotion said =
        PROMOTION
            .said(word("bram", true, "a").fallen("PEAK: amount changed here"))
            .said(word("bram", true, "b"));

    assertThat(said.approvals().get(0).voidBecause()).isEqualTo("PEAK: amount changed here");
    assertThat(said.approvals().get(1).counts()).isTrue();
  }
}
