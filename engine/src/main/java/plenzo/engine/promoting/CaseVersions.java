package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.promotion.Promotion;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;
import plenzo.core.version.Ancestry;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.comparing.ReturningIncoming;
import plenzo.engine.content.Contents;
import plenzo.engine.content.VersionNames;

/**
 * Versions as a case sees them, one that is not sealed among them when it is tried; and what lies
 * between two: names, removals and how values are worked out.
 */
final class CaseVersions implements VersionNames.Known {
  private final Tools tools;
  private final VersionNames names;
  private final @Nullable Version trial;

  /**
   * @param trial a version that is not sealed and is treated as if it were; null for none
   */
  CaseVersions(Tools tools, Contents contents, @Nullable Version trial) {
    this.tools = tools;
    this.names = new VersionNames(contents, this);
    this.trial = trial;
  }

  private boolean isTrial(String application, SemVer number) {
    return trial != null
        && trial.application().equals(application)
        && trial.number().equals(number);
  }

  @Override
  public Version version(String application, SemVer number) {
    if (trial != null && isTrial(application, number)) {
      return trial;
    }
    return tools.keeper().read(kept -> kept.versions().get(application, number));
  }

  /** What is said of a version, without its components. */
  VersionHead head(String application, SemVer number) {
    if (trial != null && isTrial(application, number)) {
      return trial.head();
    }
    return tools.keeper().read(kept -> kept.versions().getHead(application, number));
  }

  @Override
  public Ancestry ancestry(String application) {
    List<VersionHead> all =
        new ArrayList<>(tools.keeper().read(kept -> kept.versions().list(application)));
    if (trial != null && trial.application().equals(application)) {
      all.add(trial.head());
    }
    return new Ancestry(all);
  }

  /** Versions that the release of a promotion brings to its site, by application. */
  Map<String, Version> inRelease(Promotion p) {
    return inRelease(p, /* earlier= */ false);
  }

  /** Those that run before this one. */
  Map<String, Version> earlierInRelease(Promotion p) {
    return inRelease(p, /* earlier= */ true);
  }

  private Map<String, Version> inRelease(Promotion p, boolean earlier) {
    String key = p.release();
    Map<String, Version> out = new java.util.TreeMap<>();
    if (key == null) {
      return out;
    }
    tools.keeper().read(kept -> kept.releases().find(key)).stream()
        .flatMap(r -> r.cases().stream())
        .filter(c -> c.promotions().contains(p.number()))
        .flatMap(
            c ->
                c.promotions().stream()
                    .limit(earlier ? c.promotions().indexOf(p.number()) : c.promotions().size()))
        .filter(n -> n != p.number())
        .map(n -> tools.keeper().read(kept -> kept.promotions().find(String.valueOf(n))))
        .flatMap(Optional::stream)
        .forEach(m -> out.put(m.application(), version(m.application(), m.version())));
    return out;
  }

  /** What values are worked out from between a version and one that descends from it. */
  Conversions worked(Ancestry ancestry, String application, SemVer base, SemVer to) {
    Conversions[] out = {Conversions.NONE};
    names.eachSince(
        ancestry,
        application,
        base,
        to,
        (before, v) ->
            out[0] = out[0].renamed(v.renamedSince(before)).and(v.conversionsSince(before)));
    return out[0];
  }

  /** What was worked out since an earlier version, and what works it back; by its names. */
  ReturningIncoming.Undoing undoing(String application, SemVer from, SemVer to) {
    Ancestry ancestry = ancestry(application);
    boolean descends =
        !from.equals(to)
            && ancestry.base(to, from).filter(base -> base.number().equals(to)).isPresent();
    if (!descends) {
      return ReturningIncoming.Undoing.NONE;
    }
    List<Version[]> steps = new ArrayList<>();
    names.eachSince(
        ancestry, application, to, from, (before, v) -> steps.add(new Version[] {before, v}));
    Conversions since = Conversions.NONE;
    Conversions back = Conversions.NONE;
    for (int n = steps.size() - 1; n >= 0; n--) {
      Version before = steps.get(n)[0];
      Version v = steps.get(n)[1];
      Renaming undone = names.step(before, v).inverse();
      since = since.renamed(undone).and(v.conversionsSince(before).renamed(undone));
      back = back.renamed(undone).and(v.conversionsBackTo(before).reading(undone));
    }
    return new ReturningIncoming.Undoing(since, back);
  }

  /** What has other names in one version than in another, as both came to be. */
  Renaming renaming(String application, SemVer from, SemVer to) {
    return names(application, from, to).orElse(Renaming.NONE);
  }

  /** The same; empty where they have no version in common, or one is not known. */
  Optional<Renaming> names(String application, SemVer from, SemVer to) {
    return names.find(application, from, to);
  }

  /**
   * What the version and every skipped one after the base take away, by the names that things have
   * in the version (decision D2).
   */
  Set<Removal> removals(Ancestry ancestry, Promotion p, @Nullable Version base) {
    Set<Removal> all = ancestry.removalsSince(p.version(), base == null ? null : base.head());
    if (base == null || all.isEmpty()) {
      return all;
    }
    Set<Removal> out = new LinkedHashSet<>();
    for (VersionHead v : ancestry.line(p.version())) {
      if (v.number().equals(base.number())) {
        break;
      }
      if (v.removals().isEmpty()) {
        continue;
      }
      Renaming later = names.renamed(ancestry, p.application(), v.number(), p.version());
      for (Removal r : v.removals()) {
        out.add(r.ofOlder() ? older(r, ancestry, p, base, v.number()) : r.named(later));
      }
    }
    return out;
  }

  /**
   * What went because another took its name has a name of its own in the base alone: from there it
   * is told by those of the version that comes.
   */
  private Removal older(Removal r, Ancestry ancestry, Promotion p, Version base, SemVer number) {
    Version v = version(p.application(), number);
    Version parent = version(p.application(), Objects.requireNonNull(v.head().parent()));
    Renaming toBase =
        names
            .step(parent, v)
            .inverse()
            .then(
                names.renamed(ancestry, p.application(), base.number(), parent.number()).inverse());
    return r.named(toBase)
        .named(names.renamed(ancestry, p.application(), base.number(), p.version()));
  }
}
