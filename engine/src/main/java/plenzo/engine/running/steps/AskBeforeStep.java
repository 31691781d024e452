package plenzo.engine.running.steps;

import java.util.Map;
import plenzo.core.plan.Plan.Act;
import plenzo.core.probe.Answer;
import plenzo.core.run.RunStep;
import plenzo.core.words.Words;
import plenzo.engine.running.RunContext;

/** Asks the running system before anything changes; the answers are kept with the run. */
final class AskBeforeStep implements Step {
  @Override
  public Act act() {
    return Act.ASK_BEFORE;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Map<String, Answer> said = Asking.ask(c);
    c.book().change(c.number(), r -> r.answeredBefore(said));
    return Words.count(said.size(), "answer") + " kept";
  }
}
