package plenzo.engine.promoting;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Application;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;
import plenzo.engine.setup.Targets;

/** By which path and leg cases go, and what is asked of them there. */
public final class CasePaths {
  private final Tools tools;
  private final Targets targets;

  CasePaths(Tools tools, Targets targets) {
    this.tools = tools;
    this.targets = targets;
  }

  Application application(String key) {
    return tools.keeper().read(kept -> kept.application(key));
  }

  public Stage stage(SiteKey site) {
    return targets.stage(site);
  }

  /** The path by which it goes; the application's ordinary one when its own is no more. */
  public Path path(Promotion p) {
    List<Path> paths = paths(p.application());
    return paths.stream()
        .filter(path -> path.key().equals(p.path()))
        .findFirst()
        .or(() -> paths.stream().filter(x -> x.leg(p.site().stage()).isPresent()).findFirst())
        .orElse(paths.get(0));
  }

  /** What is asked of it; one approval where its stage is on no path any more. */
  public Leg leg(Promotion p) {
    return path(p)
        .leg(p.site().stage())
        .orElse(Leg.open(p.site().stage()).asking(new Leg.Quorum("", 1)));
  }

  /** The paths that its versions may travel, the ordinary one first. */
  private List<Path> paths(String application) {
    return tools
        .keeper()
        .read(
            kept ->
                kept.application(application).paths().stream()
                    .flatMap(key -> kept.paths().find(key).stream())
                    .toList());
  }

  /**
   * The path by which a case of the application goes to a site.
   *
   * @param asked key of the path, null for the first of the application's that goes there
   * @throws Problem when there is none, or that one does not go there
   */
  public Path requireLeg(String application, SiteKey site, @Nullable String asked) {
    List<Path> paths = paths(application);
    List<Path> named = paths.stream().filter(p -> asked == null || p.key().equals(asked)).toList();
    if (named.isEmpty()) {
      throw Problem.invalid(
          "NOT_ITS_PATH",
          application
              + " does not travel the path \""
              + asked
              + "\"; its paths are "
              + String.join(", ", paths.stream().map(Path::key).toList())
              + ".",
          "/path");
    }
    Path by =
        named.stream()
            .filter(p -> p.leg(site.stage()).isPresent())
            .findFirst()
            .orElseThrow(
                () ->
                    Problem.invalid(
                        "NOT_ON_PATH",
                        "The path of "
                            + application
                            + " goes to "
                            + named.stream()
                                .map(p -> String.join(", ", p.stages()))
                                .collect(java.util.stream.Collectors.joining("; another to "))
                            + ", not to "
                            + site.stage()
                            + ".",
                        "/site"));
    targets.all(site);
    return by;
  }
}
