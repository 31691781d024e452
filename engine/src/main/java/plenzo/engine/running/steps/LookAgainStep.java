package plenzo.engine.running.steps;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.gate.GateReport;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunStep;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Compares once more: what the plan touches must not have moved, and every gate must be open. */
final class LookAgainStep implements Step {
  /** How many of a target's newest runs are asked for (guess: numbers go on without gaps). */
  private static final int SEEN = 50;

  @Override
  public Act act() {
    return Act.LOOK_AGAIN;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public boolean withoutChanges() {
    return true;
  }

  @Override
  public boolean again(RunContext c) {
    return c.changesNothingYet();
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Promotion p = c.promotion();
    CaseWork.Outcome out = c.work().work(p);
    if (!out.plan().fingerprint().digest().hex().equals(c.run().fingerprint())) {
      List<String> moved = new ArrayList<>(out.plan().asksOtherwiseThan(p.requirePlan()));
      if (p.comparison() != null) {
        moved.addAll(c.work().comparer().moved(p.comparison(), p.components(), out.compared(), 20));
      }
      throw RunStopped.because(
          "Something moved since the plan was agreed",
          moved.isEmpty()
              ? List.of("The findings, decisions or bindings of the plan changed")
              : moved);
    }
    Promotion looked = p.change().compared(c.work().look(out)).coveredBy(out.coveredBy()).done();
    GateReport gates = c.work().gates().report(looked);
    if (!gates.passed()) {
      throw RunStopped.because("A gate is closed again: " + gates.words());
    }
    c.tools()
        .keeper()
        .writeAgain(
            kept -> {
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions()
                  .replace(
                      now.change().compared(looked.look()).coveredBy(looked.coveredBy()).done());
              return null;
            });
    if (p.comparison() != null) {
      c.work().comparer().files().remove(p.comparison());
    }
    neverRan(c);
    c.work().foreseen(c.number(), out);
    c.work().firstCarried(p, c.number(), out);
    c.book().rows(c.number(), 0, out.delta().writes());
    c.found(out.delta());
    return "Nothing moved since the plan was agreed";
  }

  /** A target that remembers this run before it began was changed by records that are gone. */
  private static void neverRan(RunContext c) {
    try (SiteLook look = c.targets().look(c.run().site())) {
      for (Targets.At at : c.targets().all(c.run().site())) {
        if (look.runs(at.holder(), SEEN).stream().anyMatch(r -> r.run() == c.number())) {
          throw RunStopped.because(
              at.shown()
                  + " remembers a run "
                  + c.run().shown()
                  + " already: Plenzo's records are older than it is");
        }
      }
    }
  }
}
