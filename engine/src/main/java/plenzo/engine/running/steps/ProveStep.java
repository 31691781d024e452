package plenzo.engine.running.steps;

import java.util.Objects;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.running.Proof;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;

/** Restores the backup elsewhere and compares it. */
final class ProveStep implements Step {
  private final Proof proof;

  ProveStep(Proof proof) {
    this.proof = proof;
  }

  @Override
  public Act act() {
    return Act.PROVE;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Run.Backup backup = Objects.requireNonNull(c.now().backup());
    BackupFile file = new BackupFile(c.tools().files(), backup.file());
    String found;
    try {
      found = proof.prove(c, file, backup);
    } catch (IllegalStateException | IllegalArgumentException e) {
      throw RunStopped.because("The backup is not good: " + e.getMessage());
    }
    c.book().change(c.number(), r -> r.withBackup(backup.proven(found)));
    return "The backup is " + found;
  }

  /** The scratch place that a run may have left. */
  @Override
  public void undo(RunContext c) {
    proof.forget(c);
  }
}
