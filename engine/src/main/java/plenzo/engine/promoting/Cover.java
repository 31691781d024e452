package plenzo.engine.promoting;

import org.jspecify.annotations.Nullable;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;

/**
 * Whether the approvals of the last run cover a rollback (decision D11). Worked out anew after
 * every comparison and every decision, because what it loses may have changed with it (decision
 * D25).
 */
final class Cover {
  private final Tools tools;

  Cover(Tools tools) {
    this.tools = tools;
  }

  /**
   * @param loss rows and values that the rollback loses as it stands
   * @return the promotion whose approvals cover it, null when none do
   */
  @Nullable String of(Promotion p, SiteRecord record, long loss) {
    Run last =
        tools
            .keeper()
            .read(
                kept ->
                    p.valuesOnly()
                        ? kept.runs().find(String.valueOf(p.backupOf()))
                        : kept.lastRun(record))
            .orElse(null);
    if (last == null || judgedGood(p, record, last)) {
      return null;
    }
    Promotion ran =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(last.promotion())))
            .orElseThrow();
    boolean undoesIt = p.version().text().equals(last.before());
    boolean inside =
        ran.plan() != null
            && ran.plan().waysBack().stream()
                .anyMatch(w -> w.way() == p.way() && w.possible() && loss <= w.ceiling());
    return undoesIt && inside ? ran.shown() : null;
  }

  /**
   * Values come to a version that may have been judged before: only a later word ends the cover.
   */
  private static boolean judgedGood(Promotion p, SiteRecord record, Run last) {
    return record
        .verdict(record.present())
        .filter(SiteRecord.Verdict::good)
        .filter(
            v ->
                !p.valuesOnly()
                    || last.times().endedAt() != null && v.at().isAfter(last.times().endedAt()))
        .isPresent();
  }
}
