package plenzo.engine.kit;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.LongFunction;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.target.Access;
import plenzo.core.target.Aside;
import plenzo.core.target.Delta;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsConnector;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.Probe;
import plenzo.core.target.RunMark;
import plenzo.core.target.RunSeen;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;

/** Application hosts in memory, one an address: definitions, inputs, maintenance, questions. */
public final class ScriptedItems implements ItemsConnector {
  private final Map<String, Place> places = new HashMap<>();

  /** One host. */
  public static final class Place {
    public final Script script = new Script();
    public final Marks marks = new Marks();
    public final Map<String, String> inputs = new TreeMap<>();

    /** When definitions were changed last; those that are missing are not told. */
    public final Map<ComponentKey, Instant> changed = new TreeMap<>();

    public final Map<String, String> answers = new TreeMap<>();
    public boolean maintenance;

    /** What must be refreshed after a switch; null where nothing is kept. */
    public @Nullable String keeps;

    /** Runs that had it refreshed. */
    public final List<Long> refreshed = new ArrayList<>();

    /** What people are told before they are kept out; null when nothing is. */
    public @Nullable String announced;

    /** What people who come meanwhile read. */
    public String notice = "";

    /** Whether definitions are tried there in places of their own. */
    public boolean spaces;

    public long people;
    public final List<ItemsLooking.Work.Item> running = new ArrayList<>();
    private final Map<ComponentKey, String> texts = new TreeMap<>();
    private final Map<ComponentKey, Integer> revisions = new TreeMap<>();
    private final Map<Long, Map<ComponentKey, @Nullable String>> before = new HashMap<>();
    private final Map<Long, Map<ComponentKey, Integer>> wrote = new HashMap<>();
    private int next = 1;

    /** What runs left there. */
    public final List<Leftover> leftovers = new ArrayList<>();

    /** Puts a definition there, as somebody else does. */
    public Place put(String key, String json) {
      ComponentKey k = ComponentKey.of(key);
      texts.put(k, Json.parse(json).canonical());
      revisions.put(k, next++);
      return this;
    }

    public @Nullable String text(String key) {
      return texts.get(ComponentKey.of(key));
    }

    public String state() {
      return texts + "\n" + inputs + "\n" + maintenance;
    }
  }

  public Place at(String host) {
    return places.computeIfAbsent(host, h -> new Place());
  }

  @Override
  public String sort() {
    return "host";
  }

  @Override
  public Kind.Holder holder() {
    return Kind.Holder.HOST;
  }

  @Override
  public Set<Capability> capabilities() {
    return Set.of(Capability.UNDO, Capability.MAINTENANCE, Capability.ACTIVATION, Capability.PROBE);
  }

  @Override
  public List<Probe> test(Access access, Trial trial) {
    return List.of(new Probe("reach", true, "answers", ""));
  }

  @Override
  public ItemsLooking look(Access access) {
    Place place = at(access);
    place.script.call(Script.At.LOOK);
    return new Look(place);
  }

  @Override
  public ItemsChanging change(Access access) {
    Place place = at(access);
    place.script.call(Script.At.CHANGE);
    return new Change(place, run -> new Space(access, "proof-" + run));
  }

  private Place at(Access access) {
    String space = access.options().get("space");
    if (space == null) {
      return at(access.host());
    }
    Place place = places.get(access.host() + "/" + space);
    if (place == null) {
      throw Script.failed("there is no place " + space);
    }
    return place;
  }

  /** Names of the places of their own of a host. */
  public List<String> spaces(String host) {
    return places.keySet().stream()
        .filter(k -> k.startsWith(host + "/"))
        .map(k -> k.substring(host.length() + 1))
        .sorted()
        .toList();
  }

  @Override
  public Aside aside(Access changing, long rehearsal) {
    return new Space(changing, "rehearsal-" + rehearsal);
  }

  private final class Space implements Aside {
    private final Access outside;
    private final String name;

    Space(Access outside, String name) {
      this.outside = outside;
      this.name = name;
    }

    private String key() {
      return outside.host() + "/" + name;
    }

    private Place made() {
      Place place = new Place();
      places.put(key(), place);
      at(outside.host()).script.call(Script.At.SCRATCH);
      return place;
    }

    @Override
    public Access inside() {
      return outside.with(Map.of("space", name));
    }

    @Override
    public void fill(ItemsLooking from, Map<ComponentKey, Digest> pieces, Runnable each) {
      Place place = made();
      Place host = at(outside.host());
      place.texts.putAll(host.texts);
      place.revisions.putAll(host.revisions);
      place.inputs.putAll(host.inputs);
      place.answers.putAll(host.answers);
      place.next = host.next;
    }

    List<ComponentKey> restored(Map<ComponentKey, Digest> pieces, ItemsDelta.Source source) {
      Place place = made();
      List<ComponentKey> wrong = new ArrayList<>();
      pieces.forEach(
          (key, content) -> {
            try (InputStream in = source.open(key.kind(), content)) {
              byte[] bytes = in.readAllBytes();
              place.put(key.toString(), new String(bytes, StandardCharsets.UTF_8));
              if (!ContentDigest.of(key.kind(), bytes).equals(content)) {
                wrong.add(key);
              }
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
      return wrong;
    }

    @Override
    public void drop() {
      at(outside.host()).script.call(Script.At.DROPPED);
      places.remove(key());
    }
  }

  @Override
  public String makeReady(Access access) {
    return "nothing to do";
  }

  private static final class Look implements ItemsLooking {
    private final Place place;

    Look(Place place) {
      this.place = place;
    }

    @Override
    public List<Leftover> leftovers() {
      return List.copyOf(place.leftovers);
    }

    @Override
    public Optional<TargetIdentity> identity() {
      return Optional.ofNullable(place.marks.identity);
    }

    @Override
    public String instance() {
      return "scripted host";
    }

    @Override
    public Optional<SemVer> release() {
      return Optional.empty();
    }

    @Override
    public List<RunSeen> runs(int limit) {
      return place.marks.runs(limit);
    }

    @Override
    public LastChange lastChange(ComponentKey key) {
      return new LastChange(null, place.changed.get(key));
    }

    @Override
    public void inventory(String scope, Consumer<ItemSeen> sink) {
      place.texts.forEach(
          (key, text) -> {
            if (key.name().startsWith(scope + ".")) {
              byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
              sink.accept(
                  new ItemSeen(
                      key,
                      ContentDigest.of(key.kind(), bytes),
                      bytes.length,
                      "r" + place.revisions.get(key),
                      true,
                      null,
                      List.of(),
                      ""));
            }
          });
    }

    @Override
    public InputStream read(ComponentKey key) {
      String text = place.texts.get(key);
      if (text == null) {
        throw Script.failed(key + " is not there");
      }
      return new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
    }

    @Override
    public Work work() {
      return new Work(place.running, place.people, place.maintenance);
    }

    @Override
    public boolean refreshes() {
      return place.keeps != null;
    }

    @Override
    public boolean spaces() {
      return place.spaces;
    }

    @Override
    public Limits limits(String scope) {
      return Limits.NONE;
    }

    @Override
    public String probe(String question) {
      place.script.call(Script.At.PROBE);
      String answer = place.answers.get(question);
      if (answer == null) {
        throw Script.failed("it does not know " + question);
      }
      return answer;
    }

    @Override
    public void cut() {}

    @Override
    public void close() {}
  }

  private static final class Change implements ItemsChanging {
    private final Place place;
    private final LongFunction<Space> proofs;

    Change(Place place, LongFunction<Space> proofs) {
      this.place = place;
      this.proofs = proofs;
    }

    @Override
    public List<ComponentKey> restoreAside(
        long run, Map<ComponentKey, Digest> pieces, ItemsDelta.Source source, Runnable each) {
      Space proof = proofs.apply(run);
      List<ComponentKey> wrong = proof.restored(pieces, source);
      proof.drop();
      return wrong;
    }

    @Override
    public void forgetAside(long run) {
      if (place.spaces) {
        proofs.apply(run).drop();
      }
    }

    @Override
    public void clear(Leftover leftover) {
      place.leftovers.remove(leftover);
    }

    @Override
    public void declare(TargetIdentity identity, String lookingAccount) {
      place.marks.identity = identity;
    }

    @Override
    public void claim() {}

    @Override
    public void prepare(long run, Delta delta, Watch watch) {
      place.script.call(Script.At.PREPARE);
    }

    @Override
    public void switchOver(RunMark mark, Delta asked, Watch watch) {
      place.script.call(Script.At.SWITCH);
      ItemsDelta delta = (ItemsDelta) asked;
      List<String> moved = new ArrayList<>();
      for (ItemsDelta.Change c : delta.changes()) {
        Integer revision = place.revisions.get(c.key());
        if (!Objects.equals(revision == null ? null : "r" + revision, c.seal())) {
          moved.add(c.key().toString());
        }
      }
      if (!moved.isEmpty()) {
        throw new SwitchRefused(SwitchRefused.Why.MOVED, "A definition moved", moved);
      }
      place.marks.apply(mark);
      try {
        watch.beforeCommit();
      } catch (RuntimeException e) {
        place.marks.takeBack(mark);
        throw e;
      }
      Map<ComponentKey, @Nullable String> before = new TreeMap<>();
      Map<ComponentKey, Integer> wrote = new TreeMap<>();
      for (ItemsDelta.Change c : delta.changes()) {
        before.put(c.key(), place.texts.get(c.key()));
        Digest incoming = c.incoming();
        if (incoming == null) {
          place.texts.remove(c.key());
          place.revisions.remove(c.key());
        } else {
          place.texts.put(c.key(), text(delta, c.key().kind(), incoming));
          wrote.put(c.key(), place.next);
          place.revisions.put(c.key(), place.next++);
        }
      }
      place.before.put(mark.run(), before);
      place.wrote.put(mark.run(), wrote);
      delta
          .bindings()
          .forEach(
              (name, b) -> {
                if (b.value() == null) {
                  place.inputs.remove(name);
                } else {
                  place.inputs.put(name, b.value());
                }
              });
      place.script.call(Script.At.SWITCHED);
    }

    private static String text(ItemsDelta delta, Kind kind, Digest content) {
      try (InputStream in = delta.source().open(kind, content)) {
        return new String(in.readAllBytes(), StandardCharsets.UTF_8);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }

    @Override
    public Settled settle(RunMark mark, List<String> sessions) {
      place.script.call(Script.At.SETTLE);
      return place.marks.settle(mark);
    }

    @Override
    public void undo(RunMark mark) {
      place.script.call(Script.At.UNDO);
      Map<ComponentKey, @Nullable String> before = place.before.get(mark.run());
      if (before == null) {
        return;
      }
      for (ComponentKey key : before.keySet()) {
        Integer wrote = Objects.requireNonNull(place.wrote.get(mark.run())).get(key);
        if (!Objects.equals(wrote, place.revisions.get(key))) {
          throw new SwitchRefused(
              SwitchRefused.Why.MOVED, "It was changed since", List.of(key.toString()));
        }
      }
      before.forEach(
          (key, text) -> {
            if (text == null) {
              place.texts.remove(key);
              place.revisions.remove(key);
            } else {
              place.texts.put(key, text);
              place.revisions.put(key, place.next++);
            }
          });
      place.before.remove(mark.run());
    }

    @Override
    public Refreshed refresh(long run) {
      place.script.call(Script.At.REFRESH);
      place.refreshed.add(run);
      return new Refreshed(List.of(String.valueOf(place.keeps)), List.of("sign in again"));
    }

    @Override
    public void announce(String notice, @Nullable Instant at) {
      place.announced = at == null ? null : notice;
      place.script.call(Script.At.ANNOUNCE);
    }

    @Override
    public void maintenance(boolean on, long run, Doors doors, String notice) {
      place.script.call(Script.At.MAINTENANCE);
      place.announced = null;
      place.maintenance = on;
      place.notice = on ? notice : place.notice;
    }

    @Override
    public void activation(ComponentKey key, boolean active) {}

    @Override
    public void discard(long run) {
      place.script.call(Script.At.DISCARD);
    }

    @Override
    public String session() {
      return "";
    }

    @Override
    public void abort() {}

    @Override
    public void cut() {}

    @Override
    public void close() {}
  }
}
