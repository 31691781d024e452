package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.PathView;

@Command(
    name = "path",
    description = "The stages that versions travel, and where they come from.",
    footer = {
      "",
      "Examples:",
      "  plenzo path list",
      "  plenzo path new ordinary --name Ordinary --source development --leg test --leg production",
      "  plenzo path new received --name Received --leg trial --leg production",
      "  plenzo path change ordinary --leg test --leg trial --leg production"
    })
final class PathCommand extends Group {
  @Command(name = "list", description = "All paths.")
  void list() {
    out()
        .list(
            "paths",
            api().list("/paths", PathView.class),
            List.of("path", "name", "source", "stages"),
            p ->
                List.of(
                    p.key(),
                    p.name(),
                    p.source() == null ? "packages" : p.source(),
                    String.join(", ", p.legs())));
  }

  @Command(name = "new", description = "Lays a path.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(
              names = "--source",
              description =
                  "Stage in which applications are edited; leave it out where every version comes"
                      + " as a package.")
          @Nullable String source,
      @Option(names = "--leg", required = true, description = "A stage, in order; repeatable.")
          List<String> legs) {
    said(api().post("/paths", new PathView(key, name, source, legs, null), PathView.class));
  }

  @Command(
      name = "change",
      description = {
        "Lets versions travel otherwise from now on; what is not named stays.",
        "Refused while a promotion to a stage that is left out is open."
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--source") @Nullable String source,
      @Option(names = "--no-source", description = "Versions come as packages alone.") boolean none,
      @Option(names = "--leg", description = "All stages anew, in order; repeatable.")
          @Nullable List<String> legs) {
    if (none && source != null) {
      throw Failed.usage("Name a source, or say --no-source.");
    }
    PathView old =
        api().list("/paths", PathView.class).stream()
            .filter(p -> p.key().equals(key))
            .findFirst()
            .orElseThrow(
                () -> Failed.notFound("There is no path \"" + key + "\".", "plenzo path list"));
    said(
        api()
            .put(
                "/paths/" + Api.encode(key),
                new PathView(
                    key,
                    name == null ? old.name() : name,
                    none ? null : source == null ? old.source() : source,
                    legs == null ? old.legs() : legs,
                    old.revision()),
                PathView.class));
  }

  private void said(PathView p) {
    if (out().json()) {
      out().document("path", p);
      return;
    }
    out()
        .line(
            "Path "
                + p.key()
                + " goes "
                + (p.source() == null ? "" : "from " + p.source() + " ")
                + "to "
                + String.join(", ", p.legs())
                + (p.source() == null ? "; versions come as packages." : "."));
  }
}
