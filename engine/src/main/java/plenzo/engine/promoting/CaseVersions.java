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

/**
 * Versions as a case sees them, one that is not sealed among them when it is tried; and what lies
 * between two: names, removals and how values are worked out.
 */
final class CaseVersions {
  private final Tools tools;
  private final Contents contents;
  private final @Nullable Version trial;

  /**
   * @param trial a version that is not sealed and is treated as if it were; null for none
   */
  CaseVersions(Tools tools, Contents contents, @Nullable Version trial) {
    this.tools = tools;
    this.contents = contents;
    this.trial = trial;
  }

  private boolean isTrial(String application, SemVer number) {
    return trial != null
        && trial.application().equals(application)
        && trial.number().equals(number);
  }

  Version version(String application, SemVer number) {
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

  Ancestry ancestry(String application) {
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

  /** A version beside the one that it was drafted from. */
  private interface Step {
    void from(Version before, Version version);
  }

  /** Every version after a base to one that descends from it, the oldest first. */
  private void eachSince(Ancestry ancestry, String application, SemVer base, SemVer to, Step step) {
    List<VersionHead> line =
        ancestry.line(to).stream().takeWhile(v -> !v.number().equals(base)).toList();
    Version before = version(application, base);
    for (int n = line.size() - 1; n >= 0; n--) {
      Version v = version(application, line.get(n).number());
      step.from(before, v);
      before = v;
    }
  }

  /** What values are worked out from between a version and one that descends from it. */
  Conversions worked(Ancestry ancestry, String application, SemVer base, SemVer to) {
    Conversions[] out = {Conversions.NONE};
    eachSince(
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
    eachSince(ancestry, application, to, from, (before, v) -> steps.add(new Version[] {before, v}));
    Conversions since = Conversions.NONE;
    Conversions back = Conversions.NONE;
    for (int n = steps.size() - 1; n >= 0; n--) {
      Version before = steps.get(n)[0];
      Version v = steps.get(n)[1];
      Renaming names =
          contents.leaving(before, contents.taking(v, v.renamedSince(before))).inverse();
      since = since.renamed(names).and(v.conversionsSince(before).renamed(names));
      back = back.renamed(names).and(v.conversionsBackTo(before).reading(names));
    }
    return new ReturningIncoming.Undoing(since, back);
  }

  /** What has other names in one version than in another, as both came to be. */
  Renaming renaming(String application, SemVer from, SemVer to) {
    if (from.equals(to)) {
      return Renaming.NONE;
    }
    Ancestry ancestry = ancestry(application);
    SemVer base = ancestry.base(to, from).map(VersionHead::number).orElse(null);
    return base == null
        ? Renaming.NONE
        : renamed(ancestry, application, base, from)
            .inverse()
            .then(renamed(ancestry, application, base, to));
  }

  /** What was renamed from a version to one that descends from it. */
  private Renaming renamed(Ancestry ancestry, String application, SemVer base, SemVer to) {
    Renaming[] out = {Renaming.NONE};
    eachSince(
        ancestry,
        application,
        base,
        to,
        (before, v) -> out[0] = contents.taking(v, out[0].then(v.renamedSince(before))));
    return out[0].isEmpty() ? out[0] : contents.leaving(version(application, base), out[0]);
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
    Renaming whole = renamed(ancestry, p.application(), base.number(), p.version());
    for (VersionHead v : ancestry.line(p.version())) {
      if (v.number().equals(base.number())) {
        break;
      }
      if (v.removals().isEmpty()) {
        continue;
      }
      Renaming later = renamed(ancestry, p.application(), v.number(), p.version());
      for (Removal r : v.removals()) {
        out.add(
            r.ofOlder()
                ? r.named(olderSince(ancestry, p, base, v.number())).named(whole)
                : r.named(later));
      }
    }
    return out;
  }

  /** From the names of a version, with those of what it took the names of, to those of a base. */
  private Renaming olderSince(Ancestry ancestry, Promotion p, Version base, SemVer number) {
    Version v = version(p.application(), number);
    Version parent = version(p.application(), Objects.requireNonNull(v.head().parent()));
    Renaming step = contents.leaving(parent, contents.taking(v, v.renamedSince(parent)));
    return step.inverse()
        .then(renamed(ancestry, p.application(), base.number(), parent.number()).inverse());
  }
}
