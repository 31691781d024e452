package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Releases: versions of several applications promoted as one. */
public interface Releases {
  /** Members are versions such as fares@2.4.0, one an application. */
  record SaveRelease(String title, List<String> members) {}

  record ReleaseView(
      String key,
      String title,
      List<String> members,
      String by,
      Instant at,
      List<ReleaseCase> cases,
      int revision) {}

  /**
   * A release at a site.
   *
   * @param skipped members that were there already
   * @param fingerprint over the plans of all members; null while one is being compared
   * @param closed what still stands in the way of starting
   * @param may whether the caller may approve, start and withdraw it now, and why not
   */
  record ReleaseCase(
      String site,
      boolean production,
      String state,
      String sentence,
      String preparedBy,
      Instant preparedAt,
      @Nullable String startedBy,
      @Nullable String fingerprint,
      @Nullable String fullFingerprint,
      List<ReleaseMember> members,
      List<String> skipped,
      List<String> closed,
      Map<String, Promotions.MayView> may) {}

  /**
   * In the order in which they run.
   *
   * @param takesAway what its run takes away, in words; starting asks for the release's key then
   */
  record ReleaseMember(
      String promotion,
      String version,
      String title,
      @Nullable String present,
      String state,
      Promotions.CountsView counts,
      long blockers,
      long risks,
      List<String> takesAway,
      List<String> approvedBy,
      List<String> approvers,
      @Nullable String run) {}

  /**
   * @param path key of the path by which every member goes; left out for the first of each
   *     application's that goes there
   */
  record TakeRelease(String site, @Nullable String path, @Nullable String notes) {}

  record AgreeRelease(String site, String fingerprint, @Nullable String comment) {}

  record StartRelease(String site, String fingerprint) {}

  record WithdrawRelease(String site, String reason) {}
}
