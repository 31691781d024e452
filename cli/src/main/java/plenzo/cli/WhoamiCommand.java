package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import plenzo.api.People.Me;

@Command(
    name = "whoami",
    description = "Person, server, rights, how long still valid.",
    footer = {"", "Examples:", "  plenzo whoami"})
final class WhoamiCommand extends Group {
  @Override
  public void run() {
    Me me = api().get("/session", Me.class);
    if (out().json()) {
      out().document("person", me);
      return;
    }
    out()
        .facts(
            "Person",
            me.login() + " (" + me.name() + ")",
            "Server",
            top().address() + ", version " + me.version(),
            "Until",
            out().time(me.until()),
            "Narrowed to",
            PeopleText.only(me.only()));
    out()
        .table(
            List.of("right", "stage", "application"),
            me.grants().stream().map(g -> List.of(g.right(), g.stage(), g.application())).toList());
  }
}
