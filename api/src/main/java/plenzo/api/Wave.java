package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** One version to several sites of a stage, wave after wave. */
public interface Wave {
  /**
   * @param waves sites such as production/north, wave by wave; left out: each site of the stage in
   *     a wave of its own
   * @param between go-on, or word: the next wave waits for a person's yes
   * @param minutes that pass before the next wave begins
   * @param failures how many sites may fail before nothing more is begun
   */
  record PrepareWaves(
      String application,
      String version,
      String stage,
      @Nullable String path,
      @Nullable List<List<String>> waves,
      @Nullable String between,
      @Nullable Integer minutes,
      @Nullable Integer failures,
      @Nullable String notes) {}

  record AgreeWaves(String fingerprint, @Nullable String comment) {}

  record LeaveSite(String site, String reason) {}

  /**
   * @param state open, running, waiting, done, stopped or withdrawn
   * @param at index of the wave under way
   * @param goesOnAt when the next wave begins by itself
   * @param fingerprint over the plans of all sites; null while one is being compared
   * @param closed what still stands in the way of starting
   * @param there how many of its sites have the version by now
   * @param may approve, start, go-on, leave and withdraw: whether the caller may do it now
   */
  record WavesView(
      String number,
      String application,
      String version,
      String title,
      String stage,
      String stageName,
      boolean production,
      String state,
      String sentence,
      List<List<PartView>> waves,
      int at,
      String between,
      int minutes,
      int failures,
      @Nullable Instant goesOnAt,
      String preparedBy,
      Instant preparedAt,
      @Nullable String startedBy,
      @Nullable String fingerprint,
      @Nullable String fullFingerprint,
      List<String> closed,
      long there,
      long sites,
      List<LeftSite> left,
      Map<String, Promotions.MayView> may) {}

  /**
   * One site.
   *
   * @param came not-yet, there or failed
   */
  record PartView(
      String site,
      String promotion,
      @Nullable String present,
      String state,
      String came,
      Promotions.CountsView counts,
      long blockers,
      long risks,
      List<String> takesAway,
      List<String> approvedBy,
      List<String> approvers,
      @Nullable String run) {}

  /**
   * A site that was left for later.
   *
   * @param owed whether it still does not have the version
   */
  record LeftSite(String site, String by, Instant at, String reason, boolean owed) {}
}
