package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.Grant;
import plenzo.api.People.Grants;
import plenzo.api.People.HeldRole;
import plenzo.api.People.PersonView;
import plenzo.api.People.RightView;
import plenzo.api.People.RoleChange;
import plenzo.api.People.RoleView;

@Command(
    name = "role",
    description = "Who may do what, per stage and application.",
    footer = {
      "",
      "Examples:",
      "  plenzo role list",
      "  plenzo role list bram",
      "  plenzo role grant bram approver --stage production --app fares",
      "  plenzo role define night-watch --shown \"Night watch\" look go-back"
    })
final class RoleCommand extends Group {
  @Command(name = "list", description = "The roles there are, or what a person has.")
  void list(@Parameters(paramLabel = "NAME", arity = "0..1") @Nullable String login) {
    if (login == null) {
      out()
          .list(
              "roles",
              roles(),
              List.of("role", "shown", "rights"),
              r -> List.of(r.key(), r.name(), String.join(" ", r.rights())));
      return;
    }
    PersonView p = find(login);
    out()
        .list(
            "grants",
            Stream.concat(
                    p.roles().stream()
                        .map(h -> new Grant("role " + h.role(), h.stage(), h.application())),
                    p.grants().stream())
                .toList(),
            List.of("right", "stage", "application"),
            g -> List.of(g.right(), g.stage(), g.application()));
  }

  @Command(name = "rights", description = "Every right that can be given, and what it lets one do.")
  void rights() {
    out()
        .list(
            "rights",
            api().list("/rights", RightView.class),
            List.of("right", "may"),
            r -> List.of(r.right(), r.words()));
  }

  private List<RoleView> roles() {
    return api().list("/roles", RoleView.class);
  }

  private PersonView find(String login) {
    return api().get("/people/" + Api.encode(login), PersonView.class);
  }

  @Command(
      name = "grant",
      description = "Gives roles (\"role list\") or single rights.",
      footer = {
        "",
        "Rights (\"role rights\" says what each lets one do):",
        "  look, author, prepare, approve, judge, run, go-back, operate, see-values,",
        "  hand-out, bring-in, administer, audit",
        "",
        "Examples:",
        "  plenzo role grant bram approver --stage production --app fares",
        "  plenzo role grant ines prepare run go-back --app fares"
      })
  void grant(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(paramLabel = "ROLE|RIGHT", arity = "1..*") List<String> names,
      @Option(
              names = "--stage",
              defaultValue = "*",
              description = "Where; every stage when left out.")
          String stage,
      @Option(
              names = "--app",
              defaultValue = "*",
              description = "For which; every application when left out.")
          String app) {
    PersonView was = find(login);
    List<String> known = roles().stream().map(RoleView::key).toList();
    List<Grant> grants = new ArrayList<>(was.grants());
    List<HeldRole> held = new ArrayList<>(was.roles());
    for (String name : names) {
      if (known.contains(name)) {
        held.add(new HeldRole(name, stage, app));
      } else {
        grants.add(new Grant(name, stage, app));
      }
    }
    save(was, grants, held);
  }

  @Command(name = "revoke", description = "Takes roles or rights away.")
  void revoke(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(paramLabel = "ROLE|RIGHT", arity = "1..*") List<String> names,
      @Option(
              names = "--stage",
              defaultValue = "*",
              description = "As \"role list NAME\" shows it.")
          String stage,
      @Option(names = "--app", defaultValue = "*", description = "As \"role list NAME\" shows it.")
          String app) {
    PersonView was = find(login);
    List<Grant> grants = new ArrayList<>(was.grants());
    List<HeldRole> held = new ArrayList<>(was.roles());
    for (String name : names) {
      boolean had =
          grants.remove(new Grant(name, stage, app)) | held.remove(new HeldRole(name, stage, app));
      if (!had) {
        throw Failed.notFound(
            login + " does not have " + name + " there.", "plenzo role list " + login);
      }
    }
    save(was, grants, held);
  }

  private void save(PersonView was, List<Grant> grants, List<HeldRole> roles) {
    PersonView p =
        api()
            .put(
                "/people/" + Api.encode(was.login()) + "/grants",
                new Grants(
                    grants.stream().distinct().toList(),
                    roles.stream().distinct().toList(),
                    was.revision()),
                PersonView.class);
    if (out().json()) {
      out().document("user", p);
    } else {
      out().line(p.login() + " has " + PeopleText.has(p) + ".");
    }
  }

  @Command(name = "define", description = "Makes a role, or changes it for everybody who holds it.")
  void define(
      @Parameters(paramLabel = "ROLE") String key,
      @Parameters(paramLabel = "RIGHT", arity = "1..*") List<String> rights,
      @Option(names = "--shown", description = "Its name; the key when left out.")
          @Nullable String shown) {
    RoleView was = roles().stream().filter(r -> r.key().equals(key)).findFirst().orElse(null);
    String name = shown != null ? shown : was != null ? was.name() : key;
    RoleView r =
        api()
            .put(
                "/roles/" + Api.encode(key),
                new RoleChange(name, rights, was == null ? null : was.revision()),
                RoleView.class);
    if (out().json()) {
      out().document("role", r);
    } else {
      out().line("The role " + r.key() + " gives " + String.join(", ", r.rights()) + ".");
    }
  }

  @Command(name = "remove", description = "Removes a role that nobody holds.")
  void remove(@Parameters(paramLabel = "ROLE") String key) {
    api().delete("/roles/" + Api.encode(key), Void.class);
    out().line("Removed.");
  }
}
