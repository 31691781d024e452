package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Calendars.ErrandView;

@Command(
    name = "errand",
    description = {
      "Versions on their way without anybody starting that: by a repeat, or because the link before"
          + " came.",
      "One that failed, or that is for people to decide, stops and says so."
    },
    footer = {"", "Examples:", "  plenzo errand list --waiting", "  plenzo errand stop ER-3"})
final class ErrandCommand extends Group {
  @Command(name = "list", description = "All of them, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--waiting", description = "Only those that are on their way.")
          boolean waiting) {
    out()
        .list(
            "errands",
            api()
                .list(
                    "/errands" + Api.query("application", app, "state", waiting ? "waiting" : null),
                    ErrandView.class),
            List.of("errand", "of", "to", "because", "by", "promotion", "run", "state", ""),
            e ->
                List.of(
                    e.number(),
                    e.application() + "@" + e.version(),
                    e.site(),
                    e.cause(),
                    e.by(),
                    e.promotion() == null ? "" : e.promotion(),
                    e.run() == null ? "" : e.run(),
                    e.state(),
                    e.sentence()));
  }

  @Command(
      name = "stop",
      description = "Stops one; a promotion that was prepared for it stays as it is.")
  void stop(@Parameters(paramLabel = "ERRAND") String number) {
    ErrandView e =
        api().post("/errands/" + Api.encode(number) + "/stop", Map.of(), ErrandView.class);
    if (out().json()) {
      out().document("errand", e);
      return;
    }
    out()
        .line(
            e.number()
                + " is stopped"
                + (e.promotion() == null ? "." : "; " + e.promotion() + " stays as it is."));
  }
}
