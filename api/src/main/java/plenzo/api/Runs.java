package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Runs and backups. */
public interface Runs {
  record Start(String expect) {}

  record RunView(
      String number,
      String promotion,
      String application,
      String version,
      @Nullable String before,
      String site,
      String stageName,
      boolean production,
      String state,
      boolean ended,
      String startedBy,
      Instant queuedAt,
      @Nullable Instant startedAt,
      @Nullable Instant endedAt,
      @Nullable Instant noReturnAt,
      Promotions.MayView mayAbort,
      boolean rollback,
      List<RunStepView> steps,
      int noReturnStep,
      long rowsDone,
      long rowsToDo,
      @Nullable String sentence,
      @Nullable BackupView backup,
      int place,
      @Nullable Double usualSeconds,
      String fingerprint) {}

  record RunStepView(
      int number,
      String name,
      String state,
      @Nullable Instant began,
      @Nullable Instant ended,
      @Nullable String note,
      @Nullable Double usualSeconds) {}

  record BackupView(
      String name,
      long bytes,
      long rows,
      List<String> tables,
      List<String> pieces,
      String digest,
      String proof,
      Instant at,
      String run,
      String site) {}

  record LogView(List<String> lines) {}
}
