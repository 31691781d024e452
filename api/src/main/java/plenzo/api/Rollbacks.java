package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
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
   *
   * @param way earlier-values, earlier-version or backup; the first only where values came last
   * @param run whose backup is put back, or whose values are taken back
   * @param writes what is written to: directory, host, database, in the order of the switches
   * @param gives values that the host would be given
   * @param touched what is written, the first hundred components
   * @param more how many others are written
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
      List<String> writes,
      long lost,
      String lossSentence,
      List<Loss> losses,
      boolean covered,
      String coveredBy,
      @Nullable String fingerprint,
      @Nullable String fullFingerprint,
      List<String> findings,
      List<ObstacleView> obstacles,
      List<Promotions.GivesView> gives,
      List<TouchedView> touched,
      int more) {}

  /** A component that a way back writes, with its rows or parts that go, change or come again. */
  record TouchedView(String component, long removed, long changed, long added) {}

  /**
   * What the version being left brought and something else uses by now, what people changed since,
   * or what does not fit the structure that comes back.
   *
   * @param at what a choice for all of it is sent under
   * @param count rows or parts of it
   * @param chosen keep or take-incoming, null while nothing was chosen for all of it
   * @param rows some of the rows, for who may see values
   */
  record ObstacleView(
      String at,
      long count,
      String sentence,
      List<OfferView> offers,
      @Nullable String chosen,
      List<UsedRowView> rows) {}

  /**
   * @param choice keep or take-incoming
   * @param loses rows and values of others that go with it, −1 when they are counted only with what
   *     the whole way loses
   */
  record OfferView(String choice, String words, long loses) {}

  /**
   * @param at what a choice for it alone is sent under
   * @param chosen for it alone or for all; null when neither was
   */
  record UsedRowView(String at, String key, String usedBy, @Nullable String chosen) {}

  /**
   * Brings in again what was saved.
   *
   * @param lines the saved file: table, key, column, value
   */
  record BringInSaved(String application, String site, String lines, @Nullable String notes) {}

  /**
   * @param notTaken what does not fit, row by row with the reason
   */
  record BroughtIn(String promotion, List<String> notTaken) {}

  /** What is rows written since, rows or values. */
  record Loss(String place, String what, long count) {}

  /**
   * Confirm is the application's name when rows are lost; version is the one to go back to by
   * earlier-version, null for the last good one. Choices are keep or take-incoming by the place of
   * an obstacle or of one of its rows.
   */
  record StartRollback(
      String application,
      String site,
      String way,
      @Nullable String version,
      String reason,
      String expect,
      @Nullable String confirm,
      @Nullable Map<String, String> choices) {}

  /** The run is null when the plan waits for approval. */
  record Started(String promotion, @Nullable String run, List<Promotions.GateView> gates) {}

  /**
   * The ways back of every site of a stage that a version came to.
   *
   * @param leaving the version that is left; null when no site has one
   * @param sites all of the stage; those that the version never came to stay as they are
   */
  record StageWays(
      String application,
      String stage,
      boolean production,
      @Nullable String leaving,
      List<SiteWays> sites,
      List<StageWay> ways,
      Promotions.MayView may) {}

  /**
   * @param leaves whether the version that is left came there
   */
  record SiteWays(String site, @Nullable String present, boolean leaves, List<WayOption> ways) {}

  /**
   * One way for all sites that leave the version.
   *
   * @param why why it cannot be used, with the first site that closes it
   * @param lost of all sites, −1 when it cannot be known
   * @param fingerprint over the plans of all sites, as people see it
   */
  record StageWay(
      String way,
      boolean possible,
      String why,
      long lost,
      boolean covered,
      @Nullable String fingerprint,
      @Nullable String fullFingerprint) {}

  /**
   * Goes back at every site that a version came to; version is where to, null for the last good.
   */
  record StartStageRollback(
      String application,
      String stage,
      @Nullable String leaving,
      String way,
      @Nullable String version,
      String reason,
      String expect,
      @Nullable String confirm,
      @Nullable Map<String, String> choices) {}

  /**
   * What came of one site.
   *
   * @param problem why nothing was opened or started there; empty when it was
   */
  record SiteStarted(
      String site,
      @Nullable String promotion,
      @Nullable String run,
      List<Promotions.GateView> gates,
      String problem) {}
}
