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
      "  plenzo stage new production --name Production --role production --approvals 1 --needs-verdict"
    })
final class StageCommand extends Group {
  @Command(name = "list", description = "All stages, in order.")
  void list() {
    out()
        .list(
            "stages",
            api().list("/stages", StageView.class),
            List.of("stage", "name", "role", "sites", "approvals"),
            s ->
                List.of(
                    out().site(s.key(), s.role().equals("production")),
                    s.name(),
                    s.role(),
                    String.join(", ", s.sites().stream().map(SiteView::key).toList()),
                    String.valueOf(s.approvals())));
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
              names = "--approvals",
              defaultValue = "0",
              description = "How many a promotion to here needs.")
          int approvals,
      @Option(
              names = "--needs-verdict",
              description = "A version must be judged good at the stage before.")
          boolean verdict,
      @Option(names = "--needs-proof", description = "A backup must be proven by restoring it.")
          boolean proof,
      @Option(
              names = "--drift-closes",
              description = "A site that differs from its record takes no version until settled.")
          boolean drift) {
    StageView s =
        api()
            .put(
                "/stages/" + Api.encode(key),
                new StageView(
                    key, name, role, position, zone, approvals, verdict, proof, drift, List.of(),
                    0),
                StageView.class);
    out().line("Stage " + s.key() + " is registered.");
  }

  @Command(
      name = "change",
      description = "Changes what a stage asks of promotions; what is not named stays.")
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--approvals") @Nullable Integer approvals,
      @Option(names = "--needs-verdict", arity = "1", paramLabel = "true|false")
          @Nullable Boolean verdict,
      @Option(names = "--needs-proof", arity = "1", paramLabel = "true|false")
          @Nullable Boolean proof,
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
                    approvals == null ? s.approvals() : approvals,
                    verdict == null ? s.needsVerdict() : verdict,
                    proof == null ? s.needsProof() : proof,
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
                + counted(next.approvals(), "approval")
                + (next.needsVerdict() ? ", a good verdict before" : "")
                + (next.needsProof() ? ", a proven backup" : "")
                + (next.driftCloses() ? ", closed by drift" : ", drift is reported")
                + ".");
  }
}
