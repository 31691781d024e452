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
            List.of("what", "where", "version", "at", "still open", "next"),
            w ->
                List.of(
                    w.what(),
                    w.link(),
                    w.application() + "@" + w.version(),
                    w.site(),
                    w.sentence(),
                    next(w)));
  }

  /** The command that shows it. */
  private static String next(WaitingView w) {
    String there = w.application() + "@" + w.site();
    return switch (w.link()) {
      case "ways-back" -> "plenzo rollback ways " + there;
      case "drift" -> "plenzo drift show " + there;
      case "maintenance" -> "plenzo maintenance show " + w.site();
      default ->
          w.link().startsWith("W-")
              ? "plenzo wave show " + w.link()
              : w.link().startsWith("release ")
                  ? "plenzo release show " + w.link().substring("release ".length())
                  : w.link().startsWith("R-")
                      ? "plenzo run show " + w.link()
                      : "plenzo promotion show " + w.link();
    };
  }
}
