package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.Grant;
import plenzo.api.People.Grants;
import plenzo.api.People.PersonView;

@Command(
    name = "role",
    description = "Who may do what, per stage and application.",
    footer = {
      "",
      "Examples:",
      "  plenzo role list bram",
      "  plenzo role grant bram approve look --stage production --app fares"
    })
final class RoleCommand extends Group {
  @Command(name = "list", description = "Rights of a person.")
  void list(@Parameters(paramLabel = "NAME") String login) {
    out()
        .list(
            "grants",
            find(login).grants(),
            List.of("right", "stage", "application"),
            g -> List.of(g.right(), g.stage(), g.application()));
  }

  private PersonView find(String login) {
    return api().all("/people", PersonView.class).stream()
        .filter(p -> p.login().equals(login))
        .findFirst()
        .orElseThrow(
            () -> Failed.notFound("There is no person \"" + login + "\".", "plenzo user list"));
  }

  @Command(
      name = "grant",
      description =
          "Gives rights: look, author, prepare, approve, judge, run, go-back, operate, see-values, administer, audit.")
  void grant(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(paramLabel = "RIGHT", arity = "1..*") List<String> rights,
      @Option(names = "--stage", defaultValue = "*") String stage,
      @Option(names = "--app", defaultValue = "*") String app) {
    PersonView was = find(login);
    List<Grant> all = new ArrayList<>(was.grants());
    rights.forEach(r -> all.add(new Grant(r, stage, app)));
    save(was, all);
  }

  @Command(name = "revoke", description = "Takes rights away.")
  void revoke(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(paramLabel = "RIGHT", arity = "1..*") List<String> rights,
      @Option(names = "--stage", defaultValue = "*") String stage,
      @Option(names = "--app", defaultValue = "*") String app) {
    PersonView was = find(login);
    save(
        was,
        was.grants().stream()
            .filter(
                g ->
                    !(rights.contains(g.right())
                        && g.stage().equals(stage)
                        && g.application().equals(app)))
            .toList());
  }

  private void save(PersonView was, List<Grant> all) {
    PersonView p =
        api()
            .put(
                "/people/" + Api.encode(was.login()) + "/grants",
                new Grants(all.stream().distinct().toList(), was.revision()),
                PersonView.class);
    out().line(p.login() + " has " + p.grants().size() + " rights.");
  }
}
