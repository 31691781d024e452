package plenzo.connectors.host;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.item.Definition;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;
import plenzo.hostprotocol.HostProtocol;

/** Reads what a host holds. */
final class HostLooking implements ItemsLooking {
  /** Documents whose digest is kept (guess: far above hosts in use). */
  private static final int MOST_KNOWN = 100_000;

  private final HostCalls calls;
  private final Map<String, Known> known;
  private final HostProtocol.Identity who;

  /** Who changed what last and when, as the last inventory told it. */
  private final Map<ComponentKey, LastChange> changes = new HashMap<>();

  HostLooking(HostCalls calls, Map<String, Known> known) {
    this.calls = calls;
    this.known = known;
    this.who = calls.get("/identity", HostProtocol.Identity.class);
  }

  /** Digest, size and refusal of a document. */
  record Known(Digest digest, long size, String refusal) {}

  static @Nullable TargetIdentity identity(HostProtocol.@Nullable Marker m) {
    try {
      return m == null
          ? null
          : new TargetIdentity(
              m.service(), m.stage(), m.site(), m.target(), Instant.parse(m.since()));
    } catch (DateTimeException e) {
      throw HostCalls.foreign("GET /identity", " (/marker/since is no time)", e);
    }
  }

  @Override
  public boolean refreshes() {
    return Boolean.TRUE.equals(who.refreshes());
  }

  @Override
  public boolean spaces() {
    return Boolean.TRUE.equals(who.spaces());
  }

  @Override
  public Optional<TargetIdentity> identity() {
    return Optional.ofNullable(identity(who.marker()));
  }

  @Override
  public String instance() {
    return who.instance();
  }

  @Override
  public Optional<SemVer> release() {
    String told = who.release();
    try {
      return told == null ? Optional.empty() : Optional.of(new SemVer(told));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  @Override
  public List<RunSeen> runs(int limit) {
    return calls
        .find("/runs?limit=" + limit, HostProtocol.Ran.class)
        .map(HostProtocol.Ran::runs)
        .orElse(List.of())
        .stream()
        .map(
            r ->
                new RunSeen(
                    r.run(),
                    r.version(),
                    r.fingerprint(),
                    r.anchor() == null ? null : Anchor.of(r.anchor())))
        .toList();
  }

  @Override
  public List<Leftover> leftovers() {
    List<Leftover> out = new ArrayList<>();
    calls
        .find("/prepared", HostProtocol.PreparedRuns.class)
        .map(HostProtocol.PreparedRuns::runs)
        .orElse(List.of())
        .forEach(
            run -> out.add(new Leftover(Leftover.Sort.PREPARED, "prepared/R-" + run, run, null)));
    if (spaces()) {
      calls
          .get("/spaces", HostProtocol.Spaces.class)
          .spaces()
          .forEach(name -> HostSpace.leftover(name).ifPresent(out::add));
    }
    return out;
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    return changes.getOrDefault(key, LastChange.UNKNOWN);
  }

  @Override
  public void inventory(String scope, Consumer<ItemSeen> sink) {
    HostProtocol.Inventory all =
        calls.get("/inventory?scope=" + HostCalls.part(scope), HostProtocol.Inventory.class);
    if (known.size() > MOST_KNOWN) {
      known.clear();
    }
    for (HostProtocol.Component c : all.components()) {
      ComponentKey key = key(c);
      if (!key.kind().definition() || !c.name().startsWith(scope + ".")) {
        continue;
      }
      Known k =
          known.computeIfAbsent(
              who.instance() + "|" + key + "|" + c.revision(), x -> read(key, document(key)));
      changes.put(key, new LastChange(c.changedBy(), time(c.changedAt())));
      sink.accept(
          new ItemSeen(
              key,
              k.digest(),
              k.size(),
              c.revision(),
              c.active(),
              c.visible(),
              c.unbound(),
              k.refusal()));
    }
  }

  private static @Nullable Instant time(@Nullable String told) {
    try {
      return told == null ? null : Instant.parse(told);
    } catch (DateTimeException e) {
      throw HostCalls.foreign("GET /inventory", ": \"" + told + "\" is no time", e);
    }
  }

  private static ComponentKey key(HostProtocol.Component c) {
    try {
      return new ComponentKey(Kind.of(c.kind()), c.name());
    } catch (IllegalArgumentException e) {
      throw HostCalls.foreign("GET /inventory", ": " + e.getMessage(), e);
    }
  }

  private static Known read(ComponentKey key, String text) {
    try {
      byte[] canonical = canonical(key, text);
      return new Known(ContentDigest.of(key.kind(), canonical), canonical.length, "");
    } catch (IllegalArgumentException e) {
      byte[] raw = text.getBytes(StandardCharsets.UTF_8);
      return new Known(
          ContentDigest.of(key.kind(), raw), raw.length, String.valueOf(e.getMessage()));
    }
  }

  private static byte[] canonical(ComponentKey key, String text) {
    if (text.length() > Definition.LONGEST) {
      throw new IllegalArgumentException("The document of " + key + " is longer than 1 MiB");
    }
    Json json = Json.parse(text);
    Definition.of(key, json);
    return json.canonical().getBytes(StandardCharsets.UTF_8);
  }

  private String document(ComponentKey key) {
    return calls
        .get(
            "/components/" + key.kind().code() + "/" + HostCalls.part(key.name()),
            HostProtocol.Document.class)
        .text();
  }

  @Override
  public InputStream read(ComponentKey key) {
    return new ByteArrayInputStream(canonical(key, document(key)));
  }

  @Override
  public Work work() {
    HostProtocol.Work w = calls.get("/work", HostProtocol.Work.class);
    return new Work(
        w.running().stream()
            .map(i -> new Work.Item(i.id(), i.what(), i.person(), i.component()))
            .toList(),
        w.people(),
        w.maintenance());
  }

  @Override
  public Limits limits(String scope) {
    return Limits.NONE;
  }

  @Override
  public String probe(String question) {
    return calls
        .call("POST", "/probe", new HostProtocol.Probe(question), HostProtocol.Answer.class)
        .answer();
  }

  @Override
  public void cut() {
    calls.cut();
  }

  @Override
  public void close() {}
}
