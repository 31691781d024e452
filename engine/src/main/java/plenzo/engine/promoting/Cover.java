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
    Run last = tools.keeper().read(kept -> kept.lastRun(record)).orElse(null);
    if (last == null
        || record.verdict(record.present()).filter(SiteRecord.Verdict::good).isPresent()) {
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
}
