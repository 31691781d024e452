package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import plenzo.core.keeping.Kept;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Stage;
import plenzo.core.target.TargetId;

/** Set-up that an unfinished run stands on stays as it is until the run has ended. */
final class RunsOn {
  private RunsOn() {}

  private static List<Run> unfinished(Kept kept) {
    List<Run> out = new ArrayList<>();
    for (RunState s : List.of(RunState.QUEUED, RunState.RUNNING, RunState.PAUSED)) {
      out.addAll(kept.runs().list(Kept.Filter.state(s.code())));
    }
    return out;
  }

  private static Problem refused(Run run, String what) {
    return Problem.stopped(
        "RUN_STANDS_ON_IT",
        run.shown() + " has not ended, and it was planned on " + what + ".",
        "plenzo run show " + run.shown());
  }

  /** Refuses that a target goes, or is reached over another connection. */
  static void refuse(Kept kept, Stage old, Stage next) {
    for (Run run : unfinished(kept)) {
      if (!run.site().stage().equals(old.key())) {
        continue;
      }
      Stream<TargetId> planned =
          run.goal().targets().isEmpty()
              ? old.site(run.site().site()).stream()
                  .flatMap(s -> s.targets().stream())
                  .map(Stage.Target::requireId)
              : run.goal().targets().stream().map(Run.Place::id);
      planned.forEach(
          id -> {
            Stage.Target was = target(old, run, id);
            Stage.Target is = target(next, run, id);
            boolean same =
                was == null
                    || is != null
                        && was.changing().equals(is.changing())
                        && was.looking().equals(is.looking());
            if (!same) {
              throw refused(run, id.text());
            }
          });
    }
  }

  private static Stage.@org.jspecify.annotations.Nullable Target target(
      Stage stage, Run run, TargetId id) {
    return stage.site(run.site().site()).stream()
        .flatMap(s -> s.targets().stream())
        .filter(t -> t.requireId().equals(id))
        .findFirst()
        .orElse(null);
  }

  /** Refuses that a connection leads elsewhere. */
  static void refuse(Kept kept, String stage, String connection) {
    for (Run run : unfinished(kept)) {
      boolean used =
          run.site().stage().equals(stage)
              && kept.stages().find(stage).stream()
                  .flatMap(s -> s.site(run.site().site()).stream())
                  .flatMap(s -> s.targets().stream())
                  .anyMatch(
                      t -> List.of(t.looking(), t.changing(), t.scratch()).contains(connection));
      if (used) {
        throw refused(run, "the connection " + stage + "/" + connection);
      }
    }
  }
}
