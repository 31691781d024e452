package plenzo.cli;

import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Writes a script by which a shell completes commands and options. */
@Command(
    name = "completion",
    description = "Prints a completion script for bash or zsh.",
    footer = {
      "",
      "Examples:",
      "  source <(plenzo completion bash)",
      "  plenzo completion zsh > ~/.plenzo-completion && source ~/.plenzo-completion"
    })
final class Completion implements Runnable {
  @CommandLine.Spec CommandLine.Model.CommandSpec spec;

  @Parameters(paramLabel = "SHELL", description = "bash or zsh.")
  String shell;

  Completion() {
    spec = CommandLine.Model.CommandSpec.create();
    shell = "";
  }

  @Override
  public void run() {
    if (!shell.equals("bash") && !shell.equals("zsh")) {
      throw Failed.usage("Completion is written for bash or zsh; got \"" + shell + "\".");
    }
    spec.commandLine().getOut().print(AutoComplete.bash("plenzo", spec.root().commandLine()));
  }
}
