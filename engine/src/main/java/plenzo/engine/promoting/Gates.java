package plenzo.engine.promoting;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Openings;
import plenzo.core.evidence.Evidence;
import plenzo.core.evidence.TestReport;
import plenzo.core.gate.Gate;
import plenzo.core.gate.GateCase;
import plenzo.core.gate.GateReport;
import plenzo.core.keeping.Kept;
import plenzo.core.may.CaseMay;
import plenzo.core.may.Duties;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Urgency;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.run.Run;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.Written;
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
    Leg leg = work.paths().leg(p);
    return new GateCase(
        p,
        stage,
        leg,
        roles(p, approvers(p)),
        before(p, leg),
        leg.task().isEmpty()
            ? List.of()
            : work.versions().head(p.application(), p.version()).tasks(),
        declared(p),
        owed(p),
        stage.driftCloses() ? Math.max(0, work.record(p.application(), p.site()).drift()) : 0,
        targets.notGreen(p.site()),
        leg.asksRehearsal() ? rehearsal(p) : null,
        duties(p).strangers(),
        openings(tools, stage, p.application()).closed(tools.now()).orElse(null),
        tools.now());
  }

  /** When runs of an application may start at a stage. */
  public static Openings openings(Tools tools, Stage stage, String application) {
    List<Freeze> freezes =
        tools.keeper().read(kept -> kept.freezes().list(Kept.Filter.all().stage(stage.key())));
    return new Openings(
        stage.name(), ZoneId.of(stage.zone()), stage.windows(), freezes, application);
  }

  private @Nullable Rehearsal rehearsal(Promotion p) {
    return tools
        .keeper()
        .read(kept -> kept.rehearsals().list(Kept.Filter.at(p.application(), p.site())))
        .stream()
        .filter(r -> r.promotion() == p.number())
        .findFirst()
        .orElse(null);
  }

  /** Their right is judged again too, whenever somebody asks. */
  private Set<String> declared(Promotion p) {
    Urgency urgency = p.urgency();
    if (urgency == null) {
      return Set.of();
    }
    return everybody().stream()
        .filter(x -> urgency.saidBy(x.login()))
        .filter(x -> x.may(Right.RUN, p.site().stage(), p.application()))
        .map(Person::login)
        .collect(Collectors.toSet());
  }

  private List<Long> owed(Promotion p) {
    return work.record(p.application(), p.site()).owed().stream()
        .map(SiteRecord.Owed::promotion)
        .filter(n -> n != p.number())
        .toList();
  }

  private Map<String, Set<String>> roles(Promotion p, List<String> logins) {
    Map<String, Set<String>> out = new TreeMap<>();
    for (Person person : everybody()) {
      if (logins.contains(person.login())) {
        out.put(person.login(), person.rolesAt(p.site().stage(), p.application()));
      }
    }
    return out;
  }

  /** Looked at only where the leg asks about it. */
  private GateCase.@Nullable Before before(Promotion p, Leg leg) {
    if (!leg.verdict() && !leg.everySite() && leg.soakDays() == 0 && !leg.asksEvidence()) {
      return null;
    }
    String stage = work.paths().path(p).before(leg.stage()).orElse(null);
    if (stage == null) {
      return null;
    }
    List<SiteRecord> records =
        tools
            .keeper()
            .read(kept -> kept.sites().list(Kept.Filter.application(p.application()).stage(stage)));
    List<SiteRecord> there = records.stream().filter(r -> p.version().equals(r.present())).toList();
    Instant since =
        there.stream().flatMap(r -> r.presentSince().stream()).min(Instant::compareTo).orElse(null);
    List<String> without =
        tools.keeper().read(kept -> kept.stages().find(stage)).stream()
            .flatMap(s -> s.sites().stream())
            .map(s -> new SiteKey(stage, s.key()))
            .filter(s -> there.stream().noneMatch(r -> r.site().equals(s)))
            .map(SiteKey::toString)
            .toList();
    boolean good =
        records.stream()
            .anyMatch(r -> r.verdict(p.version()).filter(SiteRecord.Verdict::good).isPresent());
    TestReport report = leg.asksEvidence() ? report(p, stage) : null;
    return new GateCase.Before(
        stage,
        good,
        since,
        without,
        report != null && report.passed(),
        report == null ? "" : report.words());
  }

  /** The newest test report of the version that was given at a stage; null where none was. */
  private @Nullable TestReport report(Promotion p, String stage) {
    return tools
        .keeper()
        .read(kept -> kept.evidence().list(Kept.Filter.application(p.application()).stage(stage)))
        .stream()
        .filter(e -> e.version().equals(p.version()) && e.report() != null)
        .map(Evidence::report)
        .findFirst()
        .orElse(null);
  }

  /** Who did what, and what that keeps them from. */
  public Duties duties(Promotion p) {
    Written.Known made =
        p.brings()
            ? Written.madeBy(work.versions().head(p.application(), p.version()), everybody())
            : Written.Known.only(null);
    return new Duties(
        p, work.paths().leg(p), made, p.state() == PromotionState.DONE ? runner(p) : null);
  }

  private @Nullable String runner(Promotion p) {
    return tools.keeper().read(kept -> kept.runs().of(p.number())).stream()
        .map(Run::startedBy)
        .findFirst()
        .orElse(null);
  }

  /** Who may approve it. */
  public List<String> approvers(Promotion p) {
    return CaseMay.approvers(duties(p), everybody());
  }

  /** For whom the person approves it; null for themselves. */
  @Nullable String inFor(Person by, Promotion p) {
    return duties(p).free(by, Right.APPROVE, Apart.Duty.APPROVER).stream().findFirst().orElse(null);
  }

  /** What the person may do with it now. */
  public CaseMay may(Person by, Promotion p) {
    return new CaseMay(duties(p), by, report(p), everybody());
  }

  private List<Person> everybody() {
    return tools.everybody();
  }
}
