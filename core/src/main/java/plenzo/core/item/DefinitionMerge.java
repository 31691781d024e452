package plenzo.core.item;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.ThreeLists;
import plenzo.core.json.Json;

/**
 * A definition with what either side moved since both last agreed. Of a member that both moved to
 * different values, and of a list of unnamed items whose length changed and of which both moved one
 * stretch (which item is which cannot be told then), somebody says which side is taken; else there
 * is no such definition.
 */
public final class DefinitionMerge {
  /** Behind a component: one member of its definition, by its path. */
  public static final String MEMBER = "#member/";

  private final Map<String, Decision> members;
  private boolean clash;

  private DefinitionMerge(Map<String, Decision> members) {
    this.members = members;
  }

  public static Optional<Json> both(Json base, Json present, Json incoming) {
    return both(base, present, incoming, Map.of());
  }

  /**
   * @param members what was decided of members that both moved, by their paths as {@link
   *     ItemDifference} names them
   */
  public static Optional<Json> both(
      Json base, Json present, Json incoming, Map<String, Decision> members) {
    DefinitionMerge merge = new DefinitionMerge(members);
    Json merged = merge.of("", base, present, incoming);
    return merge.clash ? Optional.empty() : Optional.ofNullable(merged);
  }

  /** Null where there is no such member. */
  private @Nullable Json of(
      String path, @Nullable Json base, @Nullable Json present, @Nullable Json incoming) {
    if (Objects.equals(present, incoming) || Objects.equals(base, incoming)) {
      return present;
    }
    if (Objects.equals(base, present)) {
      return incoming;
    }
    if (base instanceof Json.Obj b
        && present instanceof Json.Obj p
        && incoming instanceof Json.Obj i) {
      return Json.object(members(path, b.members(), p.members(), i.members()));
    }
    if (base instanceof Json.Arr b
        && present instanceof Json.Arr p
        && incoming instanceof Json.Arr i) {
      return items(path, b, p, i);
    }
    return decided(path, present, incoming);
  }

  /** The side that somebody chose: of the member itself, or alike of all that lies in it. */
  private @Nullable Json decided(String path, @Nullable Json present, @Nullable Json incoming) {
    Set<Decision> said = new HashSet<>();
    members.forEach(
        (at, decision) -> {
          if (at.equals(path) || at.startsWith(path + "/")) {
            said.add(decision);
          }
        });
    if (said.size() != 1) {
      clash = true;
      return null;
    }
    return said.contains(Decision.TAKE_INCOMING) ? incoming : present;
  }

  private Map<String, Json> members(
      String path, Map<String, Json> base, Map<String, Json> present, Map<String, Json> incoming) {
    Set<String> names = new LinkedHashSet<>(present.keySet());
    names.addAll(incoming.keySet());
    Map<String, Json> out = new LinkedHashMap<>();
    for (String name : names) {
      Json merged =
          of(
              ItemDifference.join(path, name),
              base.get(name),
              present.get(name),
              incoming.get(name));
      if (merged != null) {
        out.put(name, merged);
      }
    }
    return out;
  }

  private @Nullable Json items(String path, Json.Arr base, Json.Arr present, Json.Arr incoming) {
    Map<String, Json> b = named(base.items());
    Map<String, Json> p = named(present.items());
    Map<String, Json> i = named(incoming.items());
    if (b != null && p != null && i != null) {
      return new Json.Arr(List.copyOf(members(path, b, p, i).values()));
    }
    int size = base.items().size();
    if (size != present.items().size() || size != incoming.items().size()) {
      List<ThreeLists.Stretch<Json>> stretches =
          ThreeLists.of(base.items(), present.items(), incoming.items());
      return stretches.stream().anyMatch(ThreeLists.Stretch::clashes)
          ? decided(path, present, incoming)
          : ThreeLists.both(stretches, s -> null).map(Json.Arr::new).orElse(null);
    }
    List<Json> out = new ArrayList<>();
    for (int n = 0; n < size; n++) {
      String at = ItemDifference.join(path, String.valueOf(n));
      Json merged = of(at, base.items().get(n), present.items().get(n), incoming.items().get(n));
      if (merged != null) {
        out.add(merged);
      }
    }
    return new Json.Arr(out);
  }

  /** Items by their names; null when one has none, or two have the same. */
  private static @Nullable Map<String, Json> named(List<Json> items) {
    Map<String, Json> out = new LinkedHashMap<>();
    for (Json item : items) {
      String name = item instanceof Json.Obj o ? o.findText("name") : null;
      if (name == null || out.put(name, item) != null) {
        return null;
      }
    }
    return out;
  }
}
