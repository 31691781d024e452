package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.comparison.ThreeWay;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.PartDifference;
import plenzo.engine.setup.SiteLook;

/** Compares files and definitions, each as a whole; what differs inside is shown, not merged. */
final class ItemsComparing {
  /**
   * Components whose inside is compared for people; beyond, size and digest say that it differs.
   */
  private static final int MOST_SHOWN = 200;

  private final SiteLook look;
  private final Incoming incoming;
  private final Map<ComponentKey, ItemSeen> present = new LinkedHashMap<>();
  private final Map<ComponentKey, Digest> coming = new LinkedHashMap<>();
  private final List<ComponentKey> same = new ArrayList<>();
  private final Set<Holder> holders = EnumSet.noneOf(Holder.class);
  private int shown;

  ItemsComparing(SiteLook look, String space, Incoming incoming) {
    this.look = look;
    this.incoming = incoming;
    for (Holder holder : List.of(Holder.DIRECTORY, Holder.HOST)) {
      look.findItems(holder)
          .ifPresent(
              items -> {
                holders.add(holder);
                items.inventory(space, seen -> present.put(seen.key(), seen));
              });
    }
  }

  /** What the site holds, and what comes over it. */
  Compared.Items items(Collection<ComponentKey> known) {
    Set<ComponentKey> all = new HashSet<>(known);
    List<ComponentKey> only =
        present.keySet().stream().filter(k -> !all.contains(k)).sorted().toList();
    return new Compared.Items(present, coming, same, only, holders, incoming);
  }

  /** Whether the site has a target for such a component at all. */
  boolean hasPlace(ComponentKey key) {
    return holders.contains(key.kind().holder());
  }

  /** What is found of a component; nothing of a file that is the same, which is only counted. */
  Optional<ComponentResult> compare(ComponentKey key, @Nullable Decision decision) {
    ItemSeen there = present.get(key);
    Digest now = there == null ? null : there.content();
    Digest next = incoming.item(key);
    if (next != null) {
      coming.put(key, next);
    }
    Difference d = difference(key, now, next);
    if (d == Difference.SAME && key.kind() == Kind.FILE) {
      same.add(key);
      return Optional.empty();
    }
    boolean touches = d.writes() || d == Difference.CONFLICT;
    List<PartDifference> parts =
        d == Difference.SAME
            ? List.of()
            : List.of(
                new PartDifference(
                    PartDifference.Part.CONTENT, "", d, attributes(key, there, next)));
    return Optional.of(
        new ComponentResult(
            key,
            d,
            Counts.of(Map.of(d, 1L)),
            parts,
            touches ? Digest.of(key + "\n" + now + "\n" + next + "\n" + decision).hex() : ""));
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
    Digest base = incoming.baseItem(key);
    boolean removal =
        incoming.removesWhatBaseHas() ? base != null : incoming.removals(key).contains("content/");
    return ThreeWay.decide(base, now, next, removal, Digest::equals);
  }

  private List<AttributeDifference> attributes(
      ComponentKey key, @Nullable ItemSeen there, @Nullable Digest next) {
    PieceDifference.Piece was =
        there == null
            ? null
            : new PieceDifference.Piece(
                there.content(), there.size(), () -> look.items(key.kind().holder()).read(key));
    PieceDifference.Piece is =
        next == null
            ? null
            : PieceDifference.Piece.stored(
                key.kind(),
                next,
                incoming.size(next),
                () -> incoming.contents().open(key.kind(), next));
    return ++shown > MOST_SHOWN
        ? PieceDifference.sizes(was, is)
        : PieceDifference.between(key.kind(), was, is);
  }
}
