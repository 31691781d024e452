package plenzo.core.history;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/**
 * One event that people look back on. Entries form a chain: each carries the hash of the one
 * before, so that nobody can edit the past unseen. Names of people are not in the chain but beside
 * it, so that they can be blanked.
 *
 * @param event stable word, for example "sealed" or "run done"
 * @param actor as people read it
 * @param text as people read it
 * @param chained what the hash is over in place of actor and text; null where it is over themselves
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
    String hash,
    @Nullable Chained chained) {

  /** With signs in place of the names of people: {@link Names}. */
  public record Chained(String actor, String text) {}

  /** One whose hash is over what people read. */
  public HistoryEntry(
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
    this(
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
        hash,
        null);
  }

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

  /**
   * The entry behind another one.
   *
   * @param names what stands in the chain in place of the names of people
   */
  public static HistoryEntry after(long sequence, String before, Instant at, Event e, Names names) {
    Chained signs = new Chained(names.sign(e.actor()), names.signs(e.text()));
    Chained chained =
        signs.actor().equals(e.actor()) && signs.text().equals(e.text()) ? null : signs;
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
            "",
            chained);
    return new HistoryEntry(
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
        open.computedHash(),
        chained);
  }

  /** What the hash is over: everything but itself. */
  private List<@Nullable Object> members() {
    return Arrays.asList(
        "sequence",
        sequence,
        "at",
        at.toString(),
        "actor",
        chained == null ? actor : chained.actor(),
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
        chained == null ? text : chained.text(),
        "before",
        before);
  }

  /** SHA-256 over the canonical JSON of everything but the hash itself, as it is in the chain. */
  public String computedHash() {
    return Digest.of(Json.object(members().toArray()).canonical()).hex();
  }

  /** One line of JSON, as it is in the chain, with its hash. */
  public String line() {
    List<@Nullable Object> all = new ArrayList<>(members());
    all.add("hash");
    all.add(hash);
    return Json.object(all.toArray()).canonical();
  }

  /**
   * An entry of such a line: actor and text are those of the chain.
   *
   * @throws IllegalArgumentException when it is none
   */
  public static HistoryEntry ofLine(String line) {
    Json.Obj j = Json.parseObject(line);
    return new HistoryEntry(
        number(j, "sequence").orElseThrow(() -> new IllegalArgumentException("No number")),
        Instant.parse(j.text("at")),
        j.text("actor"),
        j.text("event"),
        j.findText("application"),
        j.findText("stage"),
        j.findText("site"),
        j.findText("version"),
        number(j, "promotion").orElse(null),
        number(j, "run").orElse(null),
        j.text("text"),
        j.text("before"),
        j.text("hash"));
  }

  private static Optional<Long> number(Json.Obj j, String name) {
    return j.find(name) instanceof Json.Num n ? Optional.of(n.value()) : Optional.empty();
  }

  /** Whether actor and text are what the chain has, with the names that are known for its signs. */
  public boolean readsAs(Names names) {
    return chained == null
        || actor.equals(names.shown(chained.actor())) && text.equals(names.shown(chained.text()));
  }
}
