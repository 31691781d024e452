package plenzo.store;

import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;
import plenzo.core.promotion.Purpose;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;

/**
 * What lists show of a run, as its table holds it.
 *
 * @param way the purpose of its promotion: null for one that brings a version
 */
public record RunRow(
    long ordinal,
    String id,
    String promotion,
    String application,
    String version,
    @Nullable String before,
    String stage,
    String site,
    String state,
    @Nullable String way,
    String startedBy,
    OffsetDateTime queuedAt,
    @Nullable OffsetDateTime startedAt,
    @Nullable OffsetDateTime endedAt,
    @Nullable String proof) {
  static RunRow of(Run r) {
    Run.Backup backup = r.backup();
    return new RunRow(
        0,
        String.valueOf(r.number()),
        String.valueOf(r.promotion()),
        r.application(),
        r.version(),
        r.before(),
        r.site().stage(),
        r.site().site(),
        r.state().code(),
        null,
        r.startedBy(),
        r.queuedAt().atOffset(ZoneOffset.UTC),
        at(r.startedAt()),
        at(r.endedAt()),
        backup == null ? null : backup.proof());
  }

  private static @Nullable OffsetDateTime at(@Nullable Instant when) {
    return when == null ? null : when.atOffset(ZoneOffset.UTC);
  }

  private static @Nullable Instant at(@Nullable OffsetDateTime when) {
    return when == null ? null : when.toInstant();
  }

  RunHead head() {
    return new RunHead(
        Long.parseLong(id),
        Long.parseLong(promotion),
        application,
        version,
        before,
        new SiteKey(stage, site),
        RunState.of(state),
        way == null ? Purpose.VERSION : Purpose.of(way),
        startedBy,
        queuedAt.toInstant(),
        at(startedAt),
        at(endedAt),
        proof);
  }
}
