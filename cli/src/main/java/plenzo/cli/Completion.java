package plenzo.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Writes a script by which a shell completes commands, options and names. */
@Command(
    name = "completion",
    description = "Prints a completion script for bash, zsh or fish; names come from the server.",
    footer = {
      "",
      "Examples:",
      "  source <(plenzo completion bash)",
      "  source <(plenzo completion zsh)",
      "  plenzo completion fish | source"
    })
final class Completion implements Runnable {
  @CommandLine.Spec CommandLine.Model.CommandSpec spec;

  @Parameters(paramLabel = "SHELL", description = "bash, zsh or fish.")
  String shell;

  Completion() {
    spec = CommandLine.Model.CommandSpec.create();
    shell = "";
  }

  @Override
  public void run() {
    try {
      spec.commandLine().getOut().print(Completing.script(shell));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
