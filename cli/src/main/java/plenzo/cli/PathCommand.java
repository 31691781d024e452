package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.PathView;

@Command(
    name = "path",
    description = "A source and the stages that versions travel from it.",
    footer = {
      "",
      "Examples:",
      "  plenzo path list",
      "  plenzo path new ordinary --name Ordinary --source development --leg test --leg production"
    })
final class PathCommand extends Group {
  @Command(name = "list", description = "All paths.")
  void list() {
    out()
        .list(
            "paths",
            api().list("/paths", PathView.class),
            List.of("path", "name", "source", "stages"),
            p -> List.of(p.key(), p.name(), p.source(), String.join(", ", p.legs())));
  }

  @Command(name = "new", description = "Lays a path.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(names = "--source", required = true) String source,
      @Option(names = "--leg", required = true) List<String> legs) {
    api().post("/paths", new PathView(key, name, source, legs), PathView.class);
    out().line("Path " + key + " goes from " + source + " to " + String.join(", ", legs) + ".");
  }
}
