package plenzo.engine.promoting;

import java.time.Duration;
import java.util.Objects;
import java.util.stream.Collectors;
import plenzo.core.gate.Approvals;
import plenzo.core.gate.Gate;
import plenzo.core.gate.GateReport;
import plenzo.core.keeping.Kept;
import plenzo.core.may.CaseMay;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Urgency;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;

/**
 * Promotions that cannot wait: some gates are passed, and a yes is owed for it afterwards. What is
 * owed stands on the site until it has come.
 */
public final class Emergencies {
  private final Tools tools;
  private final Promotions promotions;

  public Emergencies(Tools tools, Promotions promotions) {
    this.tools = tools;
    this.promotions = promotions;
  }

  /** A person's word that it cannot wait. */
  public Promotion declare(Person by, long number, String reason) {
    Promotion p = promotions.able(by, number, CaseMay.Deed.EMERGENCY);
    if (reason.isBlank()) {
      throw Problem.invalid(
          "REASON", "An emergency needs a reason: why it cannot wait.", "/reason");
    }
    Urgency said =
        Objects.requireNonNullElse(p.urgency(), Urgency.NONE)
            .and(new Urgency.Said(by.login(), tools.now(), reason));
    return tools
        .keeper()
        .write(
            kept -> {
              Promotions.update(kept, promotions.settle(p.change().urgency(said).done()));
              kept.note(Promotions.event(by, "emergency declared", p, reason), tools.now());
              return kept.promotions().find(String.valueOf(number)).orElseThrow();
            });
  }

  /** The same with the hour by which the owed yes must come, if its run passes approvals now. */
  public Promotion begun(Promotion p) {
    Urgency urgency = p.urgency();
    // whoever said yes before knew what else was passed
    if (urgency == null || !promotions.gates(p).owes(Approvals.class)) {
      return p;
    }
    Emergency leg = Objects.requireNonNull(promotions.leg(p).emergency());
    return p.change()
        .urgency(urgency.begun(tools.now().plus(Duration.ofHours(leg.hours()))))
        .done();
  }

  /** Whether it still owes its yes. */
  public boolean owed(Promotion p) {
    return tools
        .keeper()
        .read(kept -> kept.sites().find(p.application() + "@" + p.site()))
        .filter(r -> r.owed().stream().anyMatch(o -> o.promotion() == p.number()))
        .isPresent();
  }

  /** "approval 0 of 1; …": what a run passes, for its history. */
  public String passed(Promotion p) {
    return promotions.gates(p).owed().stream().map(Gate::words).collect(Collectors.joining("; "));
  }

  /** What is owed once its version is at the site. */
  public static SiteRecord owing(SiteRecord record, Promotion p) {
    Urgency urgency = p.urgency();
    return urgency == null || urgency.until() == null
        ? record
        : record.owing(new SiteRecord.Owed(p.number(), urgency.until()));
  }

  /** After a yes that came late: once enough have, nothing is owed any more. */
  static void settle(Kept kept, Tools tools, Promotion p, GateReport now, String by) {
    SiteRecord record = kept.sites().find(p.application() + "@" + p.site()).orElse(null);
    if (record == null
        || now.owes(Approvals.class)
        || now.has(Approvals.class)
        || record.owed().stream().noneMatch(o -> o.promotion() == p.number())) {
      return;
    }
    kept.sites().replace(record.owingNoMore(p.number()));
    kept.note(Promotions.event(by, "owed yes given", p, "It owes nothing any more"), tools.now());
  }
}
