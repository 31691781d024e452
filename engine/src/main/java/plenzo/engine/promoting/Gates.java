package plenzo.engine.promoting;

import java.util.HashSet;
import java.util.List;
import plenzo.core.gate.Gate;
import plenzo.core.gate.GateCase;
import plenzo.core.gate.GateReport;
import plenzo.core.keeping.Kept;
import plenzo.core.may.CaseMay;
import plenzo.core.person.Person;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;
import plenzo.engine.setup.Targets;

/** Reads what gates are judged by; what they say is core's. */
public final class Gates {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;

  Gates(Tools tools, Targets targets, CaseWork work) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
  }

  /** What is still open now; rights of every approver are judged again (decision D8). */
  public GateReport report(Promotion p) {
    return GateReport.of(facts(p));
  }

  /** What the plan falls under. */
  List<Plan.Condition> inForce(Promotion p) {
    return Gate.inForce(facts(p));
  }

  private GateCase facts(Promotion p) {
    Stage stage = targets.stage(p.site());
    String before = work.path(p.application()).before(stage.key()).orElse(null);
    return new GateCase(
        p,
        stage,
        new HashSet<>(approvers(p)),
        before,
        before != null && stage.needsVerdict() && good(p, before),
        stage.driftCloses() ? Math.max(0, work.record(p.application(), p.site()).drift()) : 0,
        targets.notGreen(p.site()));
  }

  private boolean good(Promotion p, String before) {
    return tools
        .keeper()
        .read(kept -> kept.sites().list(Kept.Filter.application(p.application()).stage(before)))
        .stream()
        .anyMatch(r -> r.verdict(p.version()).filter(SiteRecord.Verdict::good).isPresent());
  }

  /** Who may approve it. */
  public List<String> approvers(Promotion p) {
    return CaseMay.approvers(p, everybody());
  }

  /** What the person may do with it now. */
  public CaseMay may(Person by, Promotion p) {
    return new CaseMay(p, by, report(p), everybody());
  }

  private List<Person> everybody() {
    return tools.keeper().everybody();
  }
}
