package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.Invitation;
import plenzo.api.People.PersonView;

@Command(
    name = "user",
    description = "People who can sign in.",
    footer = {
      "",
      "Examples:",
      "  plenzo user list",
      "  plenzo user invite bram --shown \"Bram Okafor, business owner\" < password.txt"
    })
final class UserCommand extends Group {
  @Command(name = "list", description = "Everybody.")
  void list() {
    out()
        .list(
            "users",
            api().list("/people", PersonView.class),
            List.of("name", "shown", "rights"),
            p -> List.of(p.login(), p.name(), String.valueOf(p.grants().size())));
  }

  @Command(
      name = "invite",
      description = "Adds a person; the first password comes from standard input.")
  void invite(
      @Parameters(paramLabel = "NAME") String login,
      @Option(names = "--shown", required = true, description = "Full name.") String shown,
      @Option(names = "--keep-password", description = "The person need not change it.")
          boolean keep) {
    PersonView p =
        api()
            .post(
                "/people",
                new Invitation(login, shown, top().standardInput(), !keep),
                PersonView.class);
    out().line(p.login() + " can sign in.");
  }
}
