package plenzo.core.item;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * A definition with what either side moved since both last agreed. There is none when both moved
 * one member to different values, or when a list of unnamed items changed its length on one side
 * and otherwise on the other: which item is which cannot be told then.
 */
public final class DefinitionMerge {
  private boolean clash;

  private DefinitionMerge() {}

  public static Optional<Json> both(Json base, Json present, Json incoming) {
    DefinitionMerge merge = new DefinitionMerge();
    Json merged = merge.of(base, present, incoming);
    return merge.clash ? Optional.empty() : Optional.ofNullable(merged);
  }

  /** Null where there is no such member. */
  private @Nullable Json of(@Nullable Json base, @Nullable Json present, @Nullable Json incoming) {
    if (Objects.equals(present, incoming) || Objects.equals(base, incoming)) {
      return present;
    }
    if (Objects.equals(base, present)) {
      return incoming;
    }
    if (base instanceof Json.Obj b
        && present instanceof Json.Obj p
        && incoming instanceof Json.Obj i) {
      return Json.object(members(b.members(), p.members(), i.members()));
    }
    if (base instanceof Json.Arr b
        && present instanceof Json.Arr p
        && incoming instanceof Json.Arr i) {
      return items(b.items(), p.items(), i.items());
    }
    clash = true;
    return null;
  }

  private Map<String, Json> members(
      Map<String, Json> base, Map<String, Json> present, Map<String, Json> incoming) {
    Set<String> names = new LinkedHashSet<>(present.keySet());
    names.addAll(incoming.keySet());
    Map<String, Json> out = new LinkedHashMap<>();
    for (String name : names) {
      Json merged = of(base.get(name), present.get(name), incoming.get(name));
      if (merged != null) {
        out.put(name, merged);
      }
    }
    return out;
  }

  private @Nullable Json items(List<Json> base, List<Json> present, List<Json> incoming) {
    Map<String, Json> b = named(base);
    Map<String, Json> p = named(present);
    Map<String, Json> i = named(incoming);
    if (b != null && p != null && i != null) {
      return new Json.Arr(List.copyOf(members(b, p, i).values()));
    }
    if (base.size() != present.size() || base.size() != incoming.size()) {
      clash = true;
      return null;
    }
    List<Json> out = new ArrayList<>();
    for (int n = 0; n < base.size(); n++) {
      Json merged = of(base.get(n), present.get(n), incoming.get(n));
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
