package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Where things stand, what waits, and history. */
public interface Standings {
  record StandingView(
      Instant at,
      List<StageHead> stages,
      List<StandingLine> lines,
      int waiting,
      int goodInProduction,
      int inProduction) {}

  record StageHead(String key, String name, boolean production) {}

  record StandingLine(
      String application,
      String name,
      String owner,
      @Nullable String newest,
      String source,
      SourceView seen,
      List<StandingCell> cells) {}

  /**
   * What was last seen of an application's source.
   *
   * @param changed components that are in no version so
   * @param trouble why it could not be looked at, or why a tag became nothing
   * @param warning what people should know about its stored copies
   */
  record SourceView(
      @Nullable String against,
      long changed,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      String trouble,
      String warning) {}

  record StandingCell(
      String site,
      boolean production,
      @Nullable String version,
      String condition,
      String note,
      @Nullable String activity,
      String activityText,
      @Nullable String link,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      boolean judged,
      List<String> owes,
      int behind) {}

  record PastView(String application, String site, String version, String how, Instant since) {}

  record WaitingView(
      String what,
      String link,
      String site,
      String application,
      String version,
      String sentence,
      Instant since) {}

  record HistoryView(
      long sequence,
      Instant at,
      String actor,
      String event,
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String version,
      @Nullable String promotion,
      @Nullable String run,
      String text,
      String hash) {}

  record HistoryPage(List<HistoryView> items, @Nullable String next) {}

  record ChainView(long entries, String head, long broken) {}

  record RecordView(
      String application,
      String site,
      @Nullable String version,
      String condition,
      long drift,
      List<String> driftExamples,
      @Nullable Instant lookedAt,
      List<PlacementView> placements,
      List<VerdictView> verdicts,
      List<String> exceptions,
      @Nullable String lastGood) {}

  record PlacementView(String version, String how, @Nullable String run, Instant at, String by) {}

  record VerdictView(String version, boolean good, String reason, String by, Instant at) {}
}
