package plenzo.cli;

import picocli.CommandLine.Command;

@Command(
    name = "logout",
    description = "Forgets the token of this server and revokes it there.",
    footer = {"", "Examples:", "  plenzo logout"})
final class LogoutCommand extends Group {
  @Override
  public void run() {
    api().delete("/session", Void.class);
    top().settings().remember(top().address(), null);
    out().line("Signed out at " + top().address() + ".");
  }
}
