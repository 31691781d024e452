package plenzo.core.history;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/**
 * One event that people look back on. Entries form a chain: each carries the hash of the one
 * before, so that nobody can edit the past unseen.
 *
 * @param event stable word, for example "sealed" or "run done"
 */
public record HistoryEntry(
    long sequence,
    Instant at,
    String actor,
    String event,
    @Nullable String application,
    @Nullable String stage,
    @Nullable String site,
    @Nullable String version,
    @Nullable Long promotion,
    @Nullable Long run,
    String text,
    String before,
    String hash) {

  /** The hash that the first entry carries as the one before. */
  public static final String START = "0".repeat(64);

  /** What happened, before it has its place in the chain. */
  public record Event(
      String actor,
      String event,
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String version,
      @Nullable Long promotion,
      @Nullable Long run,
      String text) {
    public static Event of(String actor, String event, String text) {
      return new Event(actor, event, null, null, null, null, null, null, text);
    }
  }

  public static HistoryEntry after(long sequence, String before, Instant at, Event e) {
    HistoryEntry open =
        new HistoryEntry(
            sequence,
            at,
            e.actor(),
            e.event(),
            e.application(),
            e.stage(),
            e.site(),
            e.version(),
            e.promotion(),
            e.run(),
            e.text(),
            before,
            "");
    return open.hashed();
  }

  private HistoryEntry hashed() {
    return new HistoryEntry(
        sequence,
        at,
        actor,
        event,
        application,
        stage,
        site,
        version,
        promotion,
        run,
        text,
        before,
        computedHash());
  }

  /** SHA-256 over the canonical JSON of everything but the hash itself. */
  public String computedHash() {
    return Digest.of(
            Json.object(
                    "sequence",
                    sequence,
                    "at",
                    at.toString(),
                    "actor",
                    actor,
                    "event",
                    event,
                    "application",
                    application,
                    "stage",
                    stage,
                    "site",
                    site,
                    "version",
                    version,
                    "promotion",
                    promotion,
                    "run",
                    run,
                    "text",
                    text,
                    "before",
                    before)
                .canonical())
        .hex();
  }
}
