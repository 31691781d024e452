package plenzo.engine.content;

import java.util.List;
import java.util.Optional;
import plenzo.core.table.Renaming;
import plenzo.core.version.Ancestry;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;

/** What has other names in one version than in another, as both came to be. */
public final class VersionNames {
  /** Versions that are known. */
  public interface Known {
    Version version(String application, SemVer number);

    Ancestry ancestry(String application);
  }

  private final Contents contents;
  private final Known known;

  public VersionNames(Contents contents, Known known) {
    this.contents = contents;
    this.known = known;
  }

  /** Of those that are sealed. */
  public static VersionNames ofSealed(Tools tools, Contents contents) {
    return new VersionNames(
        contents,
        new Known() {
          @Override
          public Version version(String application, SemVer number) {
            return tools.keeper().read(kept -> kept.versions().get(application, number));
          }

          @Override
          public Ancestry ancestry(String application) {
            return new Ancestry(tools.keeper().read(kept -> kept.versions().list(application)));
          }
        });
  }

  /** A version beside the one that it was drafted from. */
  public interface Step {
    void from(Version before, Version version);
  }

  /** Every version after a base to one that descends from it, the oldest first. */
  public void eachSince(Ancestry ancestry, String application, SemVer base, SemVer to, Step step) {
    List<VersionHead> line =
        ancestry.line(to).stream().takeWhile(v -> !v.number().equals(base)).toList();
    Version before = known.version(application, base);
    for (int n = line.size() - 1; n >= 0; n--) {
      Version v = known.version(application, line.get(n).number());
      step.from(before, v);
      before = v;
    }
  }

  /** From one version to another; empty where they have none in common, or one is not known. */
  public Optional<Renaming> find(String application, SemVer from, SemVer to) {
    if (from.equals(to)) {
      return Optional.of(Renaming.NONE);
    }
    Ancestry ancestry = known.ancestry(application);
    return ancestry
        .base(to, from)
        .map(VersionHead::number)
        .map(
            base ->
                renamed(ancestry, application, base, from)
                    .inverse()
                    .then(renamed(ancestry, application, base, to)));
  }

  /** From a version to one that descends from it. */
  public Renaming renamed(Ancestry ancestry, String application, SemVer base, SemVer to) {
    Renaming[] out = {Renaming.NONE};
    eachSince(
        ancestry,
        application,
        base,
        to,
        (before, v) -> out[0] = contents.taking(v, out[0].then(v.renamedSince(before))));
    return out[0].isEmpty() ? out[0] : contents.leaving(known.version(application, base), out[0]);
  }

  /** From a version to the one that was drafted from it. */
  public Renaming step(Version before, Version version) {
    return contents.leaving(before, contents.taking(version, version.renamedSince(before)));
  }
}
