package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;
import plenzo.engine.setup.Targets;

/** The conditions that a promotion must pass, judged whenever somebody asks. */
public final class Gates {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;

  Gates(Tools tools, Targets targets, CaseWork work) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
  }

  /** In words, as the plan lists them. */
  static List<String> inForce(Stage stage, Promotion p) {
    List<String> out = new ArrayList<>();
    if (stage.approvals() > 0) {
      out.add(
          stage.approvals()
              + (stage.approvals() == 1 ? " approval" : " approvals")
              + " by others than who prepared it");
    }
    if (stage.needsVerdict() && !p.rollback()) {
      out.add("judged good at the stage before");
    }
    out.add(stage.production() ? "no blocker, every risk accepted" : "no blocker");
    out.add("connections tested green");
    return out;
  }

  /** Who may approve: the right at the destination, and not who prepared it. */
  public List<String> approvers(Promotion p) {
    return tools.keeper().read(kept -> kept.people().all()).stream()
        .filter(
            x ->
                x.may(Right.APPROVE, p.site().stage(), p.application())
                    && !x.login().equals(p.preparedBy()))
        .map(Person::login)
        .sorted()
        .toList();
  }

  /** Why it may not run now; rights of every approver are judged again (decision D8). */
  public List<String> closed(Promotion p) {
    List<String> out = new ArrayList<>();
    Stage stage = targets.stage(p.site());
    long blockers = p.findings().stream().filter(f -> f.severity() == Severity.BLOCKER).count();
    if (blockers > 0) {
      out.add(blockers + (blockers == 1 ? " blocker" : " blockers") + " to put right");
    }
    long risks =
        p.findings().stream()
            .filter(f -> f.severity() == Severity.RISK && f.accepted() == null)
            .count();
    if (risks > 0 && stage.production() && !agreedBefore(p)) {
      out.add(risks + (risks == 1 ? " risk" : " risks") + " to accept");
    }
    // going back inside what was agreed is not stopped by a red test (decision D11)
    String red = agreedBefore(p) ? "" : targets.notGreen(p.site());
    if (!red.isEmpty()) {
      out.add(red);
    }
    if (stage.needsVerdict() && !p.rollback()) {
      work.path(p.application()).before(stage.key()).ifPresent(before -> verdict(p, before, out));
    }
    List<String> may = approvers(p);
    long yes =
        p.approvals().stream()
            .filter(a -> a.counts() && may.contains(a.by()))
            .map(Promotion.Approval::by)
            .distinct()
            .count();
    List<String> no =
        p.approvals().stream()
            .filter(Promotion.Approval::rejects)
            .map(Promotion.Approval::by)
            .distinct()
            .toList();
    if (!no.isEmpty()) {
      out.add("rejected by " + String.join(", ", no));
    } else if (yes < stage.approvals() && !agreedBefore(p)) {
      out.add("approval " + yes + " of " + stage.approvals());
    }
    return out;
  }

  /** Going back inside the agreed ceilings needs no further approval (decision D11). */
  private static boolean agreedBefore(Promotion p) {
    return p.rollback() && p.coveredBy() != null;
  }

  private void verdict(Promotion p, String before, List<String> out) {
    boolean good =
        tools
            .keeper()
            .read(
                kept ->
                    kept.sites().list(new Kept.Filter(p.application(), before, null, null, 100, 0)))
            .stream()
            .anyMatch(r -> r.verdict(p.version()).filter(SiteRecord.Verdict::good).isPresent());
    if (!good) {
      out.add(p.version() + " is not judged good in " + before + " yet");
    }
  }
}
