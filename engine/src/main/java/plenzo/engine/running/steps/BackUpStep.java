package plenzo.engine.running.steps;

import java.io.UncheckedIOException;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.words.Words;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.setup.SiteLook;

/** Copies everything that the run can touch. */
final class BackUpStep implements Step {
  /** Room that must be left beside the backup (rules A). */
  private static final long ROOM = 256L << 20;

  @Override
  public Act act() {
    return Act.BACK_UP;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Run run = c.run();
    String name =
        run.site().stage()
            + "-"
            + run.site().site()
            + "-"
            + run.application()
            + "-"
            + c.tools().now().toString().substring(0, 19).replace(":", "")
            + "Z";
    Run.Backup backup;
    try (SiteLook look = c.targets().look(run.site())) {
      room(c, look);
      backup =
          new BackupFile(c.tools().files(), "backup/R-" + c.number())
              .write(look, c.delta(), name, c.tools().now(), rows -> c.alive());
    } catch (UncheckedIOException e) {
      throw RunStopped.because(
          "The backup could not be written: "
              + e.getMessage()
              + (e.getCause() == null ? "" : " (" + e.getCause().getMessage() + ")"));
    } catch (IllegalStateException | IllegalArgumentException e) {
      throw RunStopped.because(String.valueOf(e.getMessage()));
    }
    c.book().change(c.number(), r -> r.withBackup(backup));
    return "Backup " + name + ": " + contents(backup);
  }

  static void room(RunContext c, SiteLook look) {
    TablesDelta tables = c.delta().tables();
    long needed = ROOM + (tables.isEmpty() ? 0 : bytes(look.tables(), tables));
    if (c.tools().files().room() < needed) {
      throw RunStopped.because(
          "There is no room for a backup: "
              + (c.tools().files().room() >> 20)
              + " MB are free where Plenzo keeps its files, "
              + (needed >> 20)
              + " MB are needed");
    }
  }

  /** What the tables take at the target, which is more than their rows take as CSV. */
  private static long bytes(TablesLooking looking, TablesDelta delta) {
    return delta.touched().stream()
        .map(delta.renaming()::before)
        .filter(t -> looking.table(t).isPresent())
        .mapToLong(t -> looking.answer(Question.of(Question.Type.BYTES, t)).count())
        .sum();
  }

  private static String contents(Run.Backup backup) {
    StringBuilder out = new StringBuilder();
    if (!backup.tables().isEmpty()) {
      out.append(Words.count(backup.rows(), "row"))
          .append(" of ")
          .append(Words.count(backup.tables().size(), "table"))
          .append(", ");
    }
    if (!backup.pieces().isEmpty()) {
      out.append(
          Words.count(
                  backup.pieces().size(),
                  backup.tables().isEmpty() ? "component" : "other component")
              + ", ");
    }
    return out.append(Words.count(backup.bytes(), "byte")).toString();
  }
}
