package plenzo.core.promotion;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

class PromotionTest {
  private static final Promotion PROMOTION =
      Promotion.opened(
              7,
              Promotion.Goal.of("fares", new SemVer("2.4.0"), new SiteKey("production", "main")),
              new Promotion.Prepared("ines", Instant.EPOCH, ""))
          .change()
          .state(PromotionState.READY)
          .moved(List.of("what moved"))
          .done();

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
