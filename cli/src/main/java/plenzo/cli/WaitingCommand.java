package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import plenzo.api.Standings.WaitingView;

@Command(
    name = "waiting",
    description = "What waits for you.",
    footer = {"", "Examples:", "  plenzo waiting"})
final class WaitingCommand extends Group {
  @Override
  public void run() {
    out()
        .list(
            "waiting",
            api().pages("/waiting", WaitingView.class, out().wanted()),
            List.of("what", "where", "version", "at", "still open"),
            w ->
                List.of(
                    w.what(),
                    w.link(),
                    w.application() + "@" + w.version(),
                    w.site(),
                    w.sentence()));
  }
}
