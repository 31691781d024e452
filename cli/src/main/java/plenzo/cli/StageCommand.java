package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;

@Command(
    name = "stage",
    description = "The places that versions travel through.",
    footer = {
      "",
      "Examples:",
      "  plenzo stage list",
      "  plenzo stage new production --name Production --role production --position 2"
    })
final class StageCommand extends Group {
  @Command(name = "list", description = "All stages, in order.")
  void list() {
    out()
        .list(
            "stages",
            api().list("/stages", StageView.class),
            List.of("stage", "name", "role", "sites", "hand edits"),
            s ->
                List.of(
                    out().site(s.key(), s.role().equals("production")),
                    s.name(),
                    s.role(),
                    String.join(", ", s.sites().stream().map(SiteView::key).toList()),
                    s.driftCloses() ? "close it" : "are reported"));
  }

  @Command(name = "new", description = "Registers a stage.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(names = "--role", required = true, description = "development, test or production.")
          String role,
      @Option(names = "--position", defaultValue = "0") int position,
      @Option(
              names = "--zone",
              defaultValue = "UTC",
              description = "Time zone, such as Europe/Oslo.")
          String zone,
      @Option(
              names = "--drift-closes",
              description = "A site that differs from its record takes no version until settled.")
          boolean drift) {
    StageView s =
        api()
            .put(
                "/stages/" + Api.encode(key),
                new StageView(key, name, role, position, zone, drift, List.of(), 0),
                StageView.class);
    out().line("Stage " + s.key() + " is registered.");
  }

  @Command(
      name = "change",
      description = {
        "Changes what a stage is called and what a hand edit does; what is not named stays.",
        "What promotions must pass is asked by the legs of paths: plenzo path gates."
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(
              names = "--drift-closes",
              arity = "1",
              paramLabel = "true|false",
              description = "A site that differs from its record takes no version until settled.")
          @Nullable Boolean drift) {
    StageView s =
        api().list("/stages", StageView.class).stream()
            .filter(x -> x.key().equals(key))
            .findFirst()
            .orElseThrow(() -> Failed.usage("There is no stage \"" + key + "\"."));
    StageView next =
        api()
            .put(
                "/stages/" + Api.encode(key),
                new StageView(
                    key,
                    name == null ? s.name() : name,
                    s.role(),
                    s.position(),
                    s.zone(),
                    drift == null ? s.driftCloses() : drift,
                    s.sites(),
                    s.revision()),
                StageView.class);
    if (out().json()) {
      out().document("stage", next);
      return;
    }
    out()
        .line(
            "Stage "
                + key
                + ": "
                + next.name()
                + (next.driftCloses()
                    ? "; a site that differs takes no version until that is settled."
                    : "; drift is reported."));
  }
}
