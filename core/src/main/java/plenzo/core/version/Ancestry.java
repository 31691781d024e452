package plenzo.core.version;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;

/** Who was drafted from whom, over all versions of one application. */
public final class Ancestry {
  private final Map<SemVer, Version> versions = new LinkedHashMap<>();

  public Ancestry(List<Version> all) {
    all.forEach(v -> versions.put(v.number(), v));
  }

  /** The version and everything it descends from, newest first. */
  public List<Version> line(SemVer number) {
    List<Version> out = new ArrayList<>();
    Version v = versions.get(number);
    while (v != null && out.size() <= versions.size()) {
      out.add(v);
      v = v.parent() == null ? null : versions.get(v.parent());
    }
    return out;
  }

  /** The newest version that both descend from; a version is its own ancestor. */
  public Optional<Version> base(SemVer incoming, SemVer present) {
    List<Version> other = line(present);
    return line(incoming).stream().filter(other::contains).findFirst();
  }

  public boolean descends(SemVer number, SemVer ancestor) {
    return line(number).stream().anyMatch(v -> v.number().equals(ancestor));
  }

  /** Removals of the incoming version and of every skipped one after the base (decision D2). */
  public Set<Removal> removalsSince(SemVer incoming, @Nullable Version base) {
    Set<Removal> out = new LinkedHashSet<>();
    for (Version v : line(incoming)) {
      if (base != null && v.number().equals(base.number())) {
        break;
      }
      out.addAll(v.removals());
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
