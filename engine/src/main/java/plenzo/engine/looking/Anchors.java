package plenzo.engine.looking;

import java.util.List;
import java.util.Map;
import plenzo.core.history.Anchor;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.Looking;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TargetFailed;
import plenzo.core.trust.Parcel;
import plenzo.engine.Tools;
import plenzo.engine.setup.Targets;

/** Reads the heads of the history that runs wrote into targets and builds into packages. */
final class Anchors {
  /** Newest runs of a target that are asked for (guess: the newest tells most). */
  private static final int EACH = 100;

  private final Tools tools;
  private final Targets targets;

  Anchors(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  /**
   * @param out by where it was found
   * @param silent told of each target that does not answer
   */
  void read(Map<String, Anchor> out, List<String> silent) {
    for (Parcel p : tools.keeper().read(kept -> kept.parcels().all())) {
      Anchor anchor = p.anchor();
      if (anchor != null) {
        out.put("package " + p.id() + ", " + p.name(), anchor);
      }
    }
    for (Stage stage : tools.keeper().read(kept -> kept.stages().all())) {
      for (Stage.Site site : stage.sites()) {
        if (stage.role() != Stage.Role.DEVELOPMENT && !site.targets().isEmpty()) {
          targets.all(new SiteKey(stage.key(), site.key())).forEach(at -> read(at, out, silent));
        }
      }
    }
  }

  private void read(Targets.At at, Map<String, Anchor> out, List<String> silent) {
    try (Looking look = targets.look(at)) {
      for (RunSeen r : look.runs(EACH)) {
        Anchor anchor = r.anchor();
        if (anchor != null) {
          out.put(at.shown() + ", R-" + r.run(), anchor);
        }
      }
    } catch (TargetFailed | Problem e) {
      silent.add(at.shown() + ": " + e.getMessage());
    }
  }
}
