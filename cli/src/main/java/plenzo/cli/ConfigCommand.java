package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

@Command(
    name = "config",
    description = "Settings and where each comes from.",
    footer = {"", "Examples:", "  plenzo config show"})
final class ConfigCommand extends Group {
  @Command(name = "show", description = "Shows them.")
  void show(@Option(names = "--origin", description = "And where from.") boolean origin) {
    Settings.From from = top().settings().server(top().server);
    out()
        .table(
            List.of("setting", "value", "origin"),
            List.of(List.of("server", from.value(), from.origin())));
  }
}
