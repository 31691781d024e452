package plenzo.engine.running.steps;

import java.io.UncheckedIOException;
import java.util.Objects;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.setup.SiteLook;

/** Adds to the backup what people changed between it and the moment when they were kept out. */
final class AddMovedStep implements Step {
  @Override
  public Act act() {
    return Act.ADD_MOVED;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  /** What is changed by hand while it is paused joins the backup too. */
  @Override
  public boolean again(RunContext c) {
    return c.changesNothingYet();
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Run.Backup before = Objects.requireNonNull(c.now().backup());
    Run.Backup now;
    try (SiteLook look = c.targets().look(c.run().site())) {
      BackUpStep.room(c, look);
      now =
          new BackupFile(c.tools().files(), before.file())
              .addMoved(look.tables(), before, c.tools().now(), rows -> c.alive());
    } catch (UncheckedIOException e) {
      throw RunStopped.because(
          "What moved could not be added to the backup: "
              + e.getMessage()
              + (e.getCause() == null ? "" : " (" + e.getCause().getMessage() + ")"));
    } catch (IllegalStateException | IllegalArgumentException e) {
      throw RunStopped.because(String.valueOf(e.getMessage()));
    }
    if (now.equals(before)) {
      return "Nothing moved since the backup";
    }
    c.book().change(c.number(), r -> r.withBackup(now));
    return "The backup is " + now.proof();
  }
}
