package plenzo.core.version;

import static java.util.stream.Collectors.toSet;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.manual.Asked;

/** Who was drafted from whom, over all versions of one application. */
public final class Ancestry {
  private final Map<SemVer, VersionHead> versions = new LinkedHashMap<>();

  public Ancestry(List<VersionHead> all) {
    all.forEach(v -> versions.put(v.number(), v));
  }

  /** The version and everything it descends from, newest first. */
  public List<VersionHead> line(SemVer number) {
    List<VersionHead> out = new ArrayList<>();
    VersionHead v = versions.get(number);
    while (v != null && out.size() <= versions.size()) {
      out.add(v);
      v = v.parent() == null ? null : versions.get(v.parent());
    }
    return out;
  }

  /** The newest version that both descend from; a version is its own ancestor. */
  public Optional<VersionHead> base(SemVer incoming, SemVer present) {
    Set<SemVer> other = line(present).stream().map(VersionHead::number).collect(toSet());
    return line(incoming).stream().filter(v -> other.contains(v.number())).findFirst();
  }

  public boolean descends(SemVer number, SemVer ancestor) {
    return line(number).stream().anyMatch(v -> v.number().equals(ancestor));
  }

  /** Removals of the incoming version and of every skipped one after the base (decision D2). */
  public Set<Removal> removalsSince(SemVer incoming, @Nullable VersionHead base) {
    Set<Removal> out = new LinkedHashSet<>();
    for (VersionHead v : line(incoming)) {
      if (base != null && v.number().equals(base.number())) {
        break;
      }
      out.addAll(v.removals());
    }
    return out;
  }

  /**
   * What people do for the incoming version and for every skipped one after the base, the earliest
   * version's first (decision D2).
   */
  public List<Asked> manualSince(SemVer incoming, @Nullable VersionHead base) {
    List<Asked> out = new ArrayList<>();
    for (VersionHead v : line(incoming)) {
      if (base != null && v.number().equals(base.number())) {
        break;
      }
      out.addAll(0, v.manual().stream().map(m -> new Asked(m, v.ref())).toList());
    }
    return out;
  }

  /**
   * Components that the present version changed since the base and that the incoming one holds as
   * the base had them.
   */
  public List<ComponentKey> fixesLeftOut(Version incoming, Version present, Version base) {
    List<ComponentKey> out = new ArrayList<>();
    for (VersionEntry e : present.entries()) {
      Optional<VersionEntry> then = base.entry(e.key());
      Optional<VersionEntry> coming = incoming.entry(e.key());
      boolean changedThere = then.isEmpty() || !then.get().content().equals(e.content());
      if (changedThere
          && (coming.isEmpty() || !coming.get().content().equals(e.content()))
          && !descends(incoming.number(), present.number())) {
        out.add(e.key());
      }
    }
    return out;
  }
}
