package plenzo.store;

import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Purpose;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

/**
 * What lists show of a promotion, as its table holds it.
 *
 * @param way its purpose: null for one that brings a version
 */
public record PromotionRow(
    long ordinal,
    String id,
    String application,
    String version,
    String stage,
    String site,
    String state,
    @Nullable String way,
    @Nullable String release,
    String preparedBy,
    OffsetDateTime preparedAt,
    @Nullable String present,
    @Nullable String fingerprint) {
  static PromotionRow of(Promotion promotion) {
    PromotionHead p = PromotionHead.of(promotion);
    return new PromotionRow(
        0,
        String.valueOf(p.number()),
        p.application(),
        p.version().text(),
        p.site().stage(),
        p.site().site(),
        p.state().code(),
        p.purpose() == Purpose.VERSION ? null : p.purpose().code(),
        p.release(),
        p.preparedBy(),
        p.preparedAt().atOffset(ZoneOffset.UTC),
        p.present() == null ? null : p.present().text(),
        p.fingerprint() == null ? null : p.fingerprint().digest().hex());
  }

  PromotionHead head() {
    return new PromotionHead(
        Long.parseLong(id),
        application,
        new SemVer(version),
        new SiteKey(stage, site),
        PromotionState.of(state),
        way == null ? Purpose.VERSION : Purpose.of(way),
        release,
        preparedBy,
        preparedAt.toInstant(),
        present == null ? null : new SemVer(present),
        fingerprint == null ? null : new Fingerprint(new Digest(fingerprint)));
  }
}
