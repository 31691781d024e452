package plenzo.engine.comparing;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.comparison.ThreeWay;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.object.SchemaObject;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.PartDifference;
import plenzo.core.target.TablesLooking;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.SiteLook;

/**
 * Compares files and definitions, each as a whole. What differs inside is shown; where both sides
 * moved different members or lines, it is worked out what both together would be.
 */
final class ItemsComparing {
  /**
   * Components whose inside is compared for people; beyond, size and digest say that it differs.
   */
  private static final int MOST_SHOWN = 200;

  private final SiteLook look;
  private final Incoming incoming;
  private final Contents contents;
  private final Map<ComponentKey, ItemSeen> present = new LinkedHashMap<>();
  private final Map<ComponentKey, SchemaObject> objects = new TreeMap<>();
  private final Map<ComponentKey, SchemaObject> comingObjects = new TreeMap<>();
  private final Map<ComponentKey, Digest> coming = new LinkedHashMap<>();
  private final List<ComponentKey> same = new ArrayList<>();
  private final Set<Holder> holders = EnumSet.noneOf(Holder.class);
  private int shown;

  /**
   * @param schemas all of the site's database: something in one may build on another
   * @param known components of which something is known: grants are looked for among them alone
   * @param contents takes what both sides together are, once somebody decided so
   */
  ItemsComparing(
      SiteLook look,
      String space,
      List<String> schemas,
      Incoming incoming,
      Collection<ComponentKey> known,
      Contents contents) {
    this.look = look;
    this.contents = contents;
    this.incoming = incoming;
    look.wholes(
        (holder, all) -> {
          holders.add(holder);
          all.inventory(space, seen -> present.put(seen.key(), seen));
        });
    look.findTables()
        .ifPresent(
            tables ->
                schemas.forEach(s -> tables.objects(s).forEach(o -> objects.put(o.key(), o))));
    Set<ComponentKey> asked =
        known.stream().filter(k -> k.kind() == Kind.GRANT).collect(Collectors.toSet());
    if (!asked.isEmpty()) {
      granted(space, asked);
    }
  }

  private void granted(String space, Set<ComponentKey> asked) {
    TablesLooking tables = look.findTables().orElse(null);
    if (tables == null) {
      return;
    }
    for (SchemaObject o : tables.granted(space)) {
      if (asked.contains(o.key())) {
        present.put(o.key(), TablesLooking.seen(o));
        objects.put(o.key(), o);
      }
    }
  }

  /** What the site holds, and what comes over it. */
  Compared.Items items(Collection<ComponentKey> known) {
    Set<ComponentKey> all = new HashSet<>(known);
    List<ComponentKey> only =
        present.keySet().stream().filter(k -> !all.contains(k)).sorted().toList();
    return new Compared.Items(
        present, objects, comingObjects, coming, same, only, holders, incoming);
  }

  /** Whether the site has a target for such a component at all. */
  boolean hasPlace(ComponentKey key) {
    return holders.contains(key.kind().holder());
  }

  /**
   * What is found of a component; nothing of a file that is the same, which is only counted.
   *
   * @param members what was decided of members that both sides moved, by their paths
   */
  Optional<ComponentResult> compare(
      ComponentKey key, @Nullable Decision decision, Map<String, Decision> members) {
    ItemSeen there = present.get(key);
    Digest now = there == null ? null : there.content();
    Digest next = incoming.item(key);
    if (next != null) {
      coming.put(key, next);
    }
    Difference d = difference(key, now, told(key, next, now));
    if (d == Difference.SAME && key.kind() == Kind.FILE) {
      same.add(key);
      return Optional.empty();
    }
    if (d == Difference.SAME) {
      return Optional.of(new ComponentResult(key, d, Counts.of(Map.of(d, 1L)), List.of(), ""));
    }
    if (next != null && key.kind().schemaObject()) {
      comingObjects.put(key, read(key, next));
    }
    boolean touches = d.writes() || d == Difference.CONFLICT;
    // of a file the third side is asked about a conflict alone: there may be very many of them
    boolean third = key.kind() != Kind.FILE || d == Difference.CONFLICT;
    Three three = three(key, there, next, third && !incoming.replaces());
    byte[] merged = d == Difference.CONFLICT ? three.both(key.kind(), members) : null;
    Digest both = merged == null ? null : ContentDigest.of(key.kind(), merged);
    if (merged != null && decision == Decision.TAKE_BOTH) {
      coming.put(key, contents.put(key.kind(), merged).digest());
    }
    PartDifference content =
        new PartDifference(
            PartDifference.Part.CONTENT,
            "",
            d,
            ++shown > MOST_SHOWN
                ? PieceDifference.sizes(three.present, three.incoming)
                : PieceDifference.between(key.kind(), three.base, three.present, three.incoming),
            both);
    return Optional.of(
        new ComponentResult(
            key,
            d,
            Counts.of(Map.of(d, 1L)),
            List.of(content),
            touches ? Digest.of(key + "\n" + now + "\n" + next).hex() : ""));
  }

  private SchemaObject read(ComponentKey key, Digest content) {
    try (InputStream in = incoming.contents().open(key.kind(), content)) {
      return SchemaObject.of(key, in.readAllBytes());
    } catch (IOException e) {
      throw new UncheckedIOException(key + " cannot be read", e);
    }
  }

  /**
   * Content in the words in which objects are told by now: what was recorded before may have those
   * that the server prints the first time.
   */
  private @Nullable Digest told(ComponentKey key, @Nullable Digest content, @Nullable Digest now) {
    return content == null || content.equals(now) || !key.kind().schemaObject()
        ? content
        : read(key, content).digest();
  }

  private Difference difference(ComponentKey key, @Nullable Digest now, @Nullable Digest next) {
    if (incoming.replaces()) {
      return ThreeWay.decide(
          incoming.leaves(key, "content/") ? next : now,
          now,
          next,
          !incoming.spares(key, "content/"),
          Digest::equals);
    }
    Digest base = told(key, incoming.baseItem(key), now);
    boolean removal =
        incoming.removesWhatBaseHas() ? base != null : incoming.removals(key).contains("content/");
    return ThreeWay.decide(base, now, next, removal, Digest::equals);
  }

  /** The sides of one component; each may be missing. */
  private record Three(
      PieceDifference.@Nullable Piece base,
      PieceDifference.@Nullable Piece present,
      PieceDifference.@Nullable Piece incoming) {
    byte @Nullable [] both(Kind kind, Map<String, Decision> members) {
      return base == null || present == null || incoming == null
          ? null
          : PieceDifference.both(kind, base, present, incoming, members);
    }
  }

  private Three three(
      ComponentKey key, @Nullable ItemSeen there, @Nullable Digest next, boolean third) {
    PieceDifference.Piece present =
        there == null
            ? null
            : new PieceDifference.Piece(there.content(), there.size(), () -> look.read(key));
    return new Three(
        third ? stored(key, incoming.baseItem(key)) : null, present, stored(key, next));
  }

  private PieceDifference.@Nullable Piece stored(ComponentKey key, @Nullable Digest content) {
    return content == null
        ? null
        : PieceDifference.Piece.stored(
            key.kind(),
            content,
            incoming.size(content),
            () -> incoming.contents().open(key.kind(), content));
  }
}
