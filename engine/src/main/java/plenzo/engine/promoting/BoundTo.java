package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.manual.Asked;
import plenzo.core.plan.Plan;
import plenzo.core.probe.Probe;
import plenzo.core.probe.WhenFailed;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Closing;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.Connector;
import plenzo.core.version.Version;
import plenzo.engine.setup.Targets;

/** What a plan is bound to beside what it changes: gates, questions, and work by hand. */
public final class BoundTo {
  private final Targets targets;
  private final Gates gates;
  private final CasePaths paths;
  private final CaseVersions versions;

  BoundTo(Targets targets, Gates gates, CasePaths paths, CaseVersions versions) {
    this.targets = targets;
    this.gates = gates;
    this.paths = paths;
    this.versions = versions;
  }

  /** Those of an application's questions that can be asked at a site. */
  public List<Probe> questions(String application, SiteKey site) {
    Set<Kind.Holder> there =
        targets.all(site).stream()
            .map(Targets.At::holder)
            .collect(java.util.stream.Collectors.toSet());
    return paths.application(application).probes().stream()
        .filter(
            p ->
                switch (p.sort()) {
                  case HOST ->
                      targets
                          .find(site, Kind.Holder.HOST)
                          .filter(at -> targets.can(at, Connector.Capability.PROBE))
                          .isPresent();
                  case QUERY -> there.contains(Kind.Holder.DATABASE);
                  case FILE -> there.contains(Kind.Holder.DIRECTORY);
                  case PAGE -> true;
                })
        .toList();
  }

  /** The gates, and what an answer that is not as it should be comes to where that is not usual. */
  List<Plan.Condition> inForce(Promotion p) {
    List<Plan.Condition> out = new ArrayList<>(gates.inForce(p));
    Leg leg = paths.leg(p);
    if (p.brings() && !leg.closing().equals(Closing.USUAL)) {
      out.add(
          new Plan.Condition(
              "closing:"
                  + leg.closing().seconds()
                  + (leg.closing().before() == 0 ? "" : "/" + leg.closing().before() + "m")
                  + " "
                  + Digest.of(leg.closing().notice()).hex(),
              leg.closing().words()));
    }
    WhenFailed does = leg.whenFailed();
    if (p.brings() && does != WhenFailed.LOOK) {
      List<Probe> asked = questions(p.application(), p.site());
      out.add(
          new Plan.Condition(
              "when-failed:"
                  + does.code()
                  + asked.stream().map(q -> " " + q.code()).sorted().reduce("", String::concat),
              does.words()));
    }
    return out;
  }

  /** What people do around it: for the versions that come, on this leg, and in this case alone. */
  List<Asked> manual(Promotion p, @Nullable Version base) {
    List<Asked> out = new ArrayList<>();
    if (p.brings()) {
      out.addAll(
          versions
              .ancestry(p.application())
              .manualSince(p.version(), base == null ? null : base.head()));
      paths.leg(p).manual().forEach(m -> out.add(new Asked(m, "path " + paths.path(p).key())));
    }
    p.manual().forEach(m -> out.add(new Asked(m, p.shown())));
    return out;
  }
}
