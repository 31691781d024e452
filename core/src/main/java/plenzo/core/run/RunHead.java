package plenzo.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.promotion.Purpose;
import plenzo.core.stage.SiteKey;

/**
 * What a list says of a run.
 *
 * @param before the version that was there, null when there was none
 * @param proof of its backup, null when it made none
 */
public record RunHead(
    long number,
    long promotion,
    String application,
    String version,
    @Nullable String before,
    SiteKey site,
    RunState state,
    Purpose purpose,
    String startedBy,
    Instant queuedAt,
    @Nullable Instant startedAt,
    @Nullable Instant endedAt,
    @Nullable String proof) {
  public static RunHead of(Run r, Purpose purpose) {
    Run.Backup backup = r.backup();
    return new RunHead(
        r.number(),
        r.promotion(),
        r.application(),
        r.version(),
        r.before(),
        r.site(),
        r.state(),
        purpose,
        r.startedBy(),
        r.queuedAt(),
        r.startedAt(),
        r.endedAt(),
        backup == null ? null : backup.proof());
  }

  public String shown() {
    return "R-" + number;
  }

  public String promotionShown() {
    return "P-" + promotion;
  }
}
