package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.AccessKeyView;
import plenzo.api.People.BlankedView;
import plenzo.api.People.BlankingView;
import plenzo.api.People.ChangePerson;
import plenzo.api.People.Invitation;
import plenzo.api.People.PersonView;
import plenzo.api.People.ResetPassword;

@Command(
    name = "user",
    description = "People who can sign in.",
    footer = {
      "",
      "Examples:",
      "  plenzo user list",
      "  plenzo user writes-as sanna sanna@morrowick.example",
      "  plenzo user invite bram --shown \"Bram Okafor, business owner\" < password.txt"
    })
final class UserCommand extends Group {
  @Command(name = "list", description = "Everybody.")
  void list(
      @Option(
              names = "--find",
              paramLabel = "LETTERS",
              description = "Those whose name or full name has these letters.")
          @Nullable String find) {
    out()
        .list(
            "users",
            api().pages("/people" + Api.query("find", find), PersonView.class, out().wanted()),
            List.of("name", "shown", "state", "rights"),
            p ->
                List.of(
                    p.login(),
                    p.name(),
                    p.disabled()
                        ? "disabled"
                        : p.mustChangePassword() ? "must change the password" : "",
                    PeopleText.has(p)));
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

  @Command(name = "change", description = "Changes how somebody is shown.")
  void change(
      @Parameters(paramLabel = "NAME") String login,
      @Option(names = "--shown", required = true, description = "Full name.") String shown) {
    change(login, new ChangePerson(shown, null, null), " is now shown as " + shown + ".");
  }

  @Command(
      name = "disable",
      description = "Keeps somebody out; their sessions and tokens end at once.")
  void disable(@Parameters(paramLabel = "NAME") String login) {
    change(login, new ChangePerson(null, true, null), " can no longer sign in.");
  }

  @Command(name = "enable", description = "Lets somebody in again, with their old password.")
  void enable(@Parameters(paramLabel = "NAME") String login) {
    change(login, new ChangePerson(null, false, null), " can sign in again.");
  }

  @Command(
      name = "writes-as",
      description = {
        "Says under which addresses somebody writes in repositories, all of them anew; none takes"
            + " them away.",
        "So the author of a commit is known as that person where author and approver are two"
            + " people; each author whom nobody is known to be asks for one approver more."
      })
  void writesAs(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(index = "1..*", arity = "0..*", paramLabel = "ADDRESS") List<String> addresses) {
    List<String> all = addresses == null ? List.of() : addresses;
    change(
        login,
        new ChangePerson(null, null, all),
        all.isEmpty()
            ? " writes in repositories as nobody known."
            : " writes in repositories as " + String.join(", ", all) + ".");
  }

  private void change(String login, ChangePerson asked, String words) {
    PersonView p = api().put("/people/" + Api.encode(login), asked, PersonView.class);
    say(p, words);
  }

  private void say(PersonView p, String words) {
    if (out().json()) {
      out().document("user", p);
    } else {
      out().line(p.login() + words);
    }
  }

  @Command(
      name = "blank",
      description = {
        "Takes every name of somebody who left out of the history and the records, for good.",
        "Without --yes it says what that would come to. A second administrator must agree: plenzo"
            + " proposal agree. The chain of the history stays unbroken."
      })
  void blank(@Parameters(paramLabel = "NAME") String login) {
    String path = "/people/" + Api.encode(login);
    BlankingView v = api().get(path + "/blanking", BlankingView.class);
    if (out().json() && !top().yes) {
      out().document("blanking", v);
      return;
    }
    if (!out().json()) {
      out().line("Names: " + String.join(", ", v.names()));
      v.inTheWay().forEach(w -> out().line("In the way: " + w));
      v.keeps().forEach(k -> out().line("Keeps them: " + k));
    }
    if (top().yes) {
      blanked(api().post(path + "/blank", Map.of(), BlankedView.class));
    } else if (v.inTheWay().isEmpty()) {
      out().line("Nothing is done yet. Next: plenzo user blank " + login + " --yes");
    }
  }

  private void blanked(BlankedView b) {
    if (out().json()) {
      out().document("blanked", b);
    } else {
      out()
          .line(
              "Read otherwise now: in the history "
                  + b.entries()
                  + ", of the records "
                  + b.records()
                  + (b.unsigned() == 0
                      ? "."
                      : ". Of before, keeping the name: " + b.unsigned() + "."));
    }
  }

  @Command(
      name = "reset-password",
      description =
          "Gives somebody a password for once, from standard input; their sessions and tokens end.")
  void resetPassword(@Parameters(paramLabel = "NAME") String login) {
    PersonView p =
        api()
            .post(
                "/people/" + Api.encode(login) + "/password",
                new ResetPassword(top().standardInput()),
                PersonView.class);
    say(p, " must change it at the next sign-in.");
  }

  @Command(name = "keys", description = "Where somebody is signed in, and their tokens.")
  void keys(@Parameters(paramLabel = "NAME") String login) {
    out()
        .list(
            "keys",
            api().list("/people/" + Api.encode(login) + "/keys", AccessKeyView.class),
            List.of("id", "sort", "label", "only", "since", "until"),
            k ->
                List.of(
                    k.id(),
                    k.token() ? "token" : "session",
                    k.label(),
                    PeopleText.only(k.only()),
                    out().time(k.createdAt()),
                    out().time(k.expiresAt())));
  }

  @Command(name = "end-key", description = "Ends a session or a token.")
  void endKey(
      @Parameters(paramLabel = "NAME") String login,
      @Parameters(paramLabel = "ID", description = "As \"user keys\" shows it.") String id) {
    api().delete("/people/" + Api.encode(login) + "/keys/" + Api.encode(id), Void.class);
    out().line("It ended.");
  }
}
