package plenzo.engine.running.steps;

import plenzo.core.manual.Handed;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunPaused;
import plenzo.engine.running.RunStopped;

/**
 * Waits for what people do outside Plenzo: the run is paused until somebody says what came of it.
 */
record ByHandStep(Act act, Phase phase) implements Step {
  @Override
  public boolean withoutChanges() {
    return true; // people do it for the version, whatever Plenzo has to write
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Handed handed = c.now().steps().get(step.number() - 1).requireManual();
    Handed.Word word = handed.word();
    if (word != null && handed.over()) {
      return word.words();
    }
    if (word != null && phase == Phase.BEFORE) {
      throw RunStopped.because(
          "Step " + step.number() + " by hand, " + handed.asked().words() + ": " + word.words());
    }
    throw RunPaused.forWork(step);
  }
}
