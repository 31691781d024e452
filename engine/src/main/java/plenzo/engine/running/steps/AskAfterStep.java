package plenzo.engine.running.steps;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import plenzo.core.plan.Plan.Act;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Judged;
import plenzo.core.probe.Probe;
import plenzo.core.probe.WhenFailed;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunStep;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunGoesBack;
import plenzo.engine.running.RunPaused;

/**
 * Asks the running system the same again. An answer is "as expected" only when both were given and
 * compared; whatever is missing is something to look at.
 */
final class AskAfterStep implements Step {
  @Override
  public Act act() {
    return Act.ASK_AFTER;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public boolean withoutChanges() {
    return false; // none was asked for before, so there is nothing to compare with
  }

  @Override
  public boolean again(RunContext c) {
    return !c.now().recorded() && !c.now().course().answersSettled();
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Map<String, Answer> before = Asking.toCompareWith(c);
    Map<String, Answer> now;
    try {
      now = Asking.ask(c);
    } catch (TargetFailed e) {
      return decided(c, step, "The site could not be asked: " + e.getMessage());
    }
    Map<String, Judged> judged = new LinkedHashMap<>();
    List<String> odd = new ArrayList<>();
    for (Probe probe : Asking.questions(c)) {
      Answer was = before.get(probe.name());
      Answer there = now.get(probe.name());
      Judged is =
          c.promotion().bringsBack()
              ? Judged.back(probe, was, there)
              : Judged.of(probe, was, there);
      judged.put(probe.name(), is);
      c.say("\"" + probe.name() + "\" " + is.words());
      if (!is.passed()) {
        odd.add(probe.name() + " " + is.words());
      }
    }
    Map<String, Answer> said = now;
    c.book().change(c.number(), r -> r.answeredAfter(said, judged));
    if (odd.isEmpty()) {
      return Judged.words(judged.values());
    }
    return decided(c, step, String.join("; ", odd));
  }

  /** What the plan says about an answer that is not as it should be. */
  private static String decided(RunContext c, RunStep step, String note) {
    Promotion p = c.promotion();
    WhenFailed does = p.brings() ? c.work().paths().leg(p).whenFailed() : WhenFailed.LOOK;
    if (does == WhenFailed.PAUSE) {
      throw RunPaused.forAnswers(step, note);
    }
    if (does == WhenFailed.BACK) {
      throw new RunGoesBack(step, note);
    }
    c.toLookAt(note);
    return note;
  }
}
