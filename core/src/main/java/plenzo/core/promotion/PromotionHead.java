package plenzo.core.promotion;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Fingerprint;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * What a list says of a promotion or rollback: short, however much it compares.
 *
 * @param release key of the release that it belongs to, null when it stands alone
 * @param present the version that was there at the last comparison, null when there was none
 * @param fingerprint of its plan, null before the first
 */
public record PromotionHead(
    long number,
    String application,
    SemVer version,
    SiteKey site,
    PromotionState state,
    Purpose purpose,
    @Nullable String release,
    String preparedBy,
    Instant preparedAt,
    @Nullable SemVer present,
    @Nullable Fingerprint fingerprint) {
  public static PromotionHead of(Promotion p) {
    return new PromotionHead(
        p.number(),
        p.application(),
        p.version(),
        p.site(),
        p.state(),
        p.purpose(),
        p.release(),
        p.preparedBy(),
        p.preparedAt(),
        p.present(),
        p.plan() == null ? null : p.plan().fingerprint());
  }

  public String shown() {
    return "P-" + number;
  }
}
