package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Ways back and going back. */
public interface Rollbacks {
  record Ways(
      String application,
      String site,
      boolean production,
      @Nullable String present,
      List<WayOption> ways,
      Promotions.MayView may) {}

  /**
   * Lost is −1 when it cannot be known; run and at are those of the backup. Unreachable: it cannot
   * be used because the site did not answer.
   */
  record WayOption(
      String way,
      boolean possible,
      String why,
      boolean unreachable,
      @Nullable String version,
      @Nullable String run,
      @Nullable Instant at,
      Promotions.CountsView counts,
      long lost,
      String lossSentence,
      List<Loss> losses,
      boolean covered,
      String coveredBy,
      @Nullable String fingerprint,
      @Nullable String fullFingerprint,
      List<String> findings) {}

  /** What is rows written since, rows or values. */
  record Loss(String place, String what, long count) {}

  /**
   * Confirm is the application's name when rows are lost; version is the one to go back to by
   * earlier-version, null for the last good one.
   */
  record StartRollback(
      String application,
      String site,
      String way,
      @Nullable String version,
      String reason,
      String expect,
      @Nullable String confirm) {}

  /** The run is null when the plan waits for approval. */
  record Started(String promotion, @Nullable String run, List<Promotions.GateView> gates) {}
}
