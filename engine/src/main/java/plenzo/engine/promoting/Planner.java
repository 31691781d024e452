package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.comparison.Decision;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.impact.Finding;
import plenzo.core.locking.Locked;
import plenzo.core.manual.Asked;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.plan.WaysBack;
import plenzo.core.plan.step.PlanCase;
import plenzo.core.plan.step.PlannedStep;
import plenzo.core.probe.Probe;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.target.Connector;
import plenzo.core.target.SiteDelta;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.setup.Targets;

/** Turns a comparison into the ordered steps that will be taken, and their fingerprint. */
final class Planner {
  private final Targets targets;
  private final List<Targets.At> ats;
  private final Promotion p;
  private final Version version;

  Planner(Targets targets, List<Targets.At> ats, Promotion p, Version version) {
    this.targets = targets;
    this.ats = ats;
    this.p = p;
    this.version = version;
  }

  /** What a plan is made from, beside the promotion itself. */
  record Facts(
      SemVer present,
      List<ComponentResult> components,
      Map<String, String> fitted,
      List<Finding> findings,
      SiteDelta delta,
      List<TableName> keyless,
      List<String> held,
      Map<String, Long> bindings,
      boolean valuesKnown,
      List<Probe> probes,
      List<Plan.Condition> gates,
      Map<String, Decision> decisions,
      List<Asked> manual,
      int minutesBefore,
      Locked locked,
      Set<Connector.Capability> hostCan) {}

  Plan plan(Facts facts) {
    PlanCase about =
        new PlanCase(
            p.site(),
            version.number().text(),
            ats.stream().map(at -> place(at, facts.hostCan())).toList(),
            facts.delta(),
            facts.probes().stream().map(Probe::name).toList(),
            facts.manual(),
            facts.minutesBefore(),
            facts.locked());
    List<Plan.Step> steps = PlannedStep.plan(about);
    List<String> statements = new ArrayList<>();
    ats.stream()
        .filter(at -> at.holder() == Holder.DATABASE)
        .forEach(at -> statements.addAll(targets.tables(at).statements(facts.delta().tables())));
    List<Plan.WayBack> back =
        p.valuesOnly()
            ? WaysBack.afterValues(facts.valuesKnown())
            : !p.brings()
                ? WaysBack.afterRollback(facts.keyless(), facts.held())
                : WaysBack.afterVersion(facts.present(), facts.keyless(), facts.held());
    int noReturn =
        steps.stream()
            .filter(s -> s.act() == Act.SWITCH)
            .mapToInt(Plan.Step::number)
            .findFirst()
            .orElse(steps.size());
    Plan open =
        new Plan(
            steps,
            statements,
            noReturn,
            back,
            facts.gates(),
            facts.locked(),
            new Fingerprint(Digest.of("")));
    return open.covered(PlanFingerprint.of(open, p, version, facts, doors(ats)));
  }

  private static List<String> doors(List<Targets.At> ats) {
    return ats.stream()
        .filter(at -> at.target().doors().any())
        .map(
            at ->
                "KEPT_OUT "
                    + at.id()
                    + " "
                    + String.join(",", at.target().doors().names())
                    + (at.target().doors().end() ? " ended" : ""))
        .toList();
  }

  private PlanCase.Place place(Targets.At at, Set<Connector.Capability> hostCan) {
    Set<Connector.Capability> can = new TreeSet<>(targets.connector(at).capabilities());
    if (at.holder() == Holder.HOST) {
      can.addAll(hostCan);
    }
    return new PlanCase.Place(
        at.id(),
        at.holder(),
        at.target().key(),
        can,
        !at.target().scratch().isEmpty(),
        at.target().doors());
  }
}
