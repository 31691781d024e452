package plenzo.engine.promoting;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.keeping.Kept;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Tools;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Findings about the case rather than its content: identity, lineage, verdicts, other promotions.
 */
final class CaseRules {
  /** How many there are, beside those of the content. */
  static final int COUNT = 13;

  private final Tools tools;
  private final CaseWork work;

  CaseRules(Tools tools, CaseWork work) {
    this.tools = tools;
    this.work = work;
  }

  void check(
      Promotion p,
      Map<Targets.At, Optional<TargetIdentity>> identities,
      SiteLook look,
      SiteRecord record,
      Version version,
      @Nullable Version base,
      SiteDelta delta,
      List<Finding> out) {
    String place = p.site().toString();
    SemVer present = Objects.requireNonNull(record.present());
    identities.forEach((at, found) -> identity(at, found, out));
    identities.keySet().stream()
        .filter(at -> at.holder() == Kind.Holder.DATABASE)
        .filter(at -> at.target().scratch().isEmpty() && !delta.tables().isEmpty())
        .forEach(
            at ->
                out.add(
                    Finding.of(
                        "backup-not-proven",
                        at.stage().needsProof() ? Severity.BLOCKER : Severity.RISK,
                        place,
                        "There is no scratch place, so the backup is read back but not restored.",
                        0,
                        "Name a scratch connection for " + at.site(),
                        null)));
    if (delta.isEmpty()) {
      out.add(
          Finding.of(
              "nothing-to-do",
              Severity.NOTE,
              place,
              place
                  + " already equals "
                  + p.version()
                  + ". Promoting would change nothing but the record.",
              0,
              "",
              null));
    }
    if (p.rollback()) {
      return;
    }
    if (base == null) {
      out.add(
          Finding.of(
              "no-base",
              Severity.BLOCKER,
              place,
              p.version() + " and " + present + ", which is here, have no version in common.",
              1,
              "Draft the version from one that was here",
              null));
    } else {
      Version there = base.number().equals(present) ? base : work.version(p.application(), present);
      for (ComponentKey key : work.ancestry(p.application()).fixesLeftOut(version, there, base)) {
        out.add(
            Finding.of(
                "fix-left-out",
                Severity.BLOCKER,
                key.toString(),
                key
                    + " was changed by "
                    + present
                    + ", which is here, and "
                    + p.version()
                    + " does not have that change.",
                1,
                "Take " + key + " from " + present + " into a new version",
                null));
      }
    }
    if (p.version().compareTo(present) < 0) {
      out.add(
          Finding.of(
              "newer-there",
              Severity.RISK,
              place,
              present + ", which is here, is newer than " + p.version() + ".",
              1,
              "If it is meant as going back, use rollback",
              null));
    }
    needs(p, version, look, out);
    neededBy(p, out);
    judgedBad(p, out);
    otherOpen(p, version, out);
  }

  private void identity(Targets.At at, Optional<TargetIdentity> found, List<Finding> out) {
    TargetIdentity me = at.identity(tools.keeper().service(), tools.now());
    if (found.isPresent() && found.get().same(me)) {
      return;
    }
    String is =
        found
            .map(i -> "says it is " + i.shown() + " since " + i.since().toString().substring(0, 10))
            .orElse("has no marker");
    out.add(
        Finding.of(
            "wrong-identity",
            Severity.BLOCKER,
            at.holder() == Kind.Holder.DATABASE ? at.site().toString() : at.shown(),
            "This " + at.holder().word() + " " + is + ". Wrong address, or a copy?",
            1,
            "Correct the connection",
            null));
  }

  /** Other applications, and releases of servers, that the version needs at the same site. */
  private void needs(Promotion p, Version version, SiteLook look, List<Finding> out) {
    for (Need need : version.needs()) {
      Kind.Holder server = need.server();
      if (server != null) {
        server(p, need, look.release(server).orElse(null), out);
        continue;
      }
      SemVer there = work.record(need.application(), p.site()).present();
      if (there == null || !need.holds(there)) {
        Version comes = work.earlierInRelease(p).get(need.application());
        if (comes != null && need.holds(comes.number())) {
          out.add(
              Finding.of(
                  "needs-release",
                  Severity.NOTE,
                  p.site() + " " + need.application(),
                  p.version() + " needs " + need + ", which the release brings before it.",
                  1,
                  "",
                  null));
          continue;
        }
        out.add(
            Finding.of(
                "prerequisite-missing",
                Severity.BLOCKER,
                p.site() + " " + need.application(),
                p.version()
                    + " needs "
                    + need
                    + ", and "
                    + p.site()
                    + (there == null
                        ? " does not have it."
                        : " has " + need.application() + " " + there + "."),
                1,
                "Promote " + need.application() + " first",
                null));
      }
    }
  }

  private static void server(Promotion p, Need need, @Nullable SemVer there, List<Finding> out) {
    if (there != null && need.holds(there)) {
      return;
    }
    String word = need.application().substring("server/".length());
    out.add(
        Finding.of(
            "server-release",
            Severity.BLOCKER,
            p.site() + " " + word,
            p.version()
                + " needs a "
                + word
                + " of release "
                + need.range()
                + ", and that of "
                + p.site()
                + (there == null ? " does not tell its release." : " is " + there + "."),
            1,
            there == null
                ? "Seal it without this prerequisite, or let the server tell its release"
                : "Upgrade the " + word + " first",
            null));
  }

  /** Other applications at the site that need this one in another range. */
  private void neededBy(Promotion p, List<Finding> out) {
    for (SiteRecord other :
        tools
            .keeper()
            .read(
                kept ->
                    kept.sites()
                        .list(
                            new Kept.Filter(
                                null, p.site().stage(), p.site().site(), null, 1000, 0)))) {
      SemVer there = other.present();
      if (there == null || other.application().equals(p.application())) {
        continue;
      }
      work.head(other.application(), there).needs().stream()
          .filter(n -> n.application().equals(p.application()) && !n.holds(p.version()))
          .filter(n -> !replacedInRelease(p, other.application()))
          .forEach(
              n ->
                  out.add(
                      Finding.of(
                          "breaks-another",
                          Severity.BLOCKER,
                          p.site() + " " + other.application(),
                          other.application()
                              + " "
                              + there
                              + ", which is here, needs "
                              + n
                              + ", and "
                              + p.version()
                              + " is not in that range.",
                          1,
                          "Promote a version of " + other.application() + " that goes with it",
                          null)));
    }
  }

  /** Whether the release brings a version of the other application that goes with this one. */
  private boolean replacedInRelease(Promotion p, String application) {
    Version comes = work.inRelease(p).get(application);
    return comes != null
        && comes.needs().stream()
            .filter(n -> n.application().equals(p.application()))
            .allMatch(n -> n.holds(p.version()));
  }

  private void judgedBad(Promotion p, List<Finding> out) {
    for (SiteRecord r :
        tools.keeper().read(kept -> kept.sites().list(Kept.Filter.application(p.application())))) {
      r.verdict(p.version())
          .filter(v -> !v.good())
          .ifPresent(
              v ->
                  out.add(
                      Finding.of(
                          "judged-bad",
                          Severity.BLOCKER,
                          r.site().toString(),
                          p.version()
                              + " was judged bad at "
                              + r.site()
                              + " by "
                              + v.by()
                              + ": "
                              + v.reason(),
                          1,
                          "Seal a corrected version, or take the verdict back there",
                          null)));
    }
  }

  private void otherOpen(Promotion p, Version version, List<Finding> out) {
    for (Promotion o :
        tools
            .keeper()
            .read(
                kept -> kept.promotions().list(Kept.Filter.at(p.application(), p.site(), 1000)))) {
      if (o.number() != p.number()
          && (o.state() == PromotionState.READY
              || o.state() == PromotionState.AGREED
              || o.state() == PromotionState.RUNNING)) {
        long shared =
            work.version(o.application(), o.version()).entries().stream()
                .filter(e -> version.entry(e.key()).isPresent())
                .count();
        out.add(
            Finding.of(
                "other-open",
                Severity.NOTE,
                o.shown(),
                o.shown()
                    + " is open too: "
                    + o.version()
                    + " to "
                    + o.site()
                    + ", "
                    + shared
                    + " components in common.",
                shared,
                "Agree on the order",
                null));
      }
    }
  }
}
