package plenzo.cli;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.Grant;
import plenzo.api.People.Grants;
import plenzo.api.People.Invitation;
import plenzo.api.People.MadeToken;
import plenzo.api.People.Me;
import plenzo.api.People.NewToken;
import plenzo.api.People.Password;
import plenzo.api.People.PersonView;
import plenzo.api.People.SignIn;

/** Signing in, people, rights, tokens. */
final class PeopleCommands {
  private PeopleCommands() {}

  @Command(
      name = "login",
      description = "Signs in and keeps a token for this server.",
      footer = {
        "",
        "Examples:",
        "  plenzo login --name ines",
        "  plenzo login --name ines --password-stdin < file",
        "  plenzo login --token-stdin < file"
      })
  static final class Login extends Group {
    @Option(names = "--name", description = "Your sign-in name.")
    @Nullable String name;

    @Option(names = "--password-stdin", description = "Read the password from standard input.")
    boolean passwordStdin;

    @Option(
        names = "--new-password-stdin",
        description =
            "Change the first password: standard input has the old and the new one, a line each.")
    boolean newPassword;

    @Option(names = "--token-stdin", description = "Read a token from standard input.")
    boolean tokenStdin;

    @Override
    public void run() {
      String server = top().address();
      String token;
      if (tokenStdin) {
        token = top().standardInput();
      } else {
        String login = name != null ? name : top().canAsk() ? top().ask("Name: ") : "";
        if (login.isEmpty()) {
          throw Failed.usage("Say who you are.", "plenzo login --name NAME");
        }
        token = signIn(server, login);
      }
      Me me = new Api(server, Optional.of(token), null, null).get("/session", Me.class);
      top().settings().remember(server, token);
      out()
          .line(
              "Signed in at "
                  + server
                  + " as "
                  + me.login()
                  + " ("
                  + me.name()
                  + ") until "
                  + out().time(me.until())
                  + ".");
    }

    private String password() {
      java.io.Console console = System.console();
      if (passwordStdin || newPassword || console == null) {
        return top().standardInput();
      }
      char[] typed = console.readPassword("Password: ");
      return typed == null ? "" : new String(typed);
    }

    /** Signs in like a browser, has a token made, and signs out. */
    private String signIn(String server, String login) {
      String given = password();
      String old = given.lines().findFirst().orElse("");
      try {
        HttpClient http = Api.HTTP;
        HttpResponse<String> in =
            send(http, server, "POST", "/session", new SignIn(login, old), null, null);
        Me me = Api.JSON.readValue(in.body(), Me.class);
        String cookie = in.headers().firstValue("Set-Cookie").orElse("").split(";")[0];
        if (newPassword) {
          send(
              http,
              server,
              "PUT",
              "/session/password",
              new Password(old, given.lines().skip(1).findFirst().orElse("")),
              cookie,
              me.csrf());
        }
        HttpResponse<String> made =
            send(http, server, "POST", "/tokens", new NewToken("command line"), cookie, me.csrf());
        send(http, server, "DELETE", "/session", null, cookie, me.csrf());
        return Api.JSON.readValue(made.body(), MadeToken.class).secret();
      } catch (java.io.IOException e) {
        throw new Failed(
            Failed.NOT_REACHABLE,
            "NOT_REACHABLE",
            "Plenzo at " + server + " cannot be reached.",
            List.of("Is it running? Another server: --server URL"),
            "");
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new Failed(130, "INTERRUPTED", "Interrupted.", List.of(), "");
      }
    }

    private static HttpResponse<String> send(
        HttpClient http,
        String server,
        String method,
        String path,
        @Nullable Object body,
        @Nullable String cookie,
        @Nullable String csrf)
        throws java.io.IOException, InterruptedException {
      HttpRequest.Builder r =
          HttpRequest.newBuilder(URI.create(server + "/api/v1" + path))
              .header("Content-Type", "application/json")
              .header("Idempotency-Key", UUID.randomUUID().toString());
      if (cookie != null) {
        r.header("Cookie", cookie).header("X-Plenzo-Csrf", String.valueOf(csrf));
      }
      r.method(
          method,
          body == null
              ? HttpRequest.BodyPublishers.noBody()
              : HttpRequest.BodyPublishers.ofString(Api.JSON.writeValueAsString(body)));
      HttpResponse<String> response = http.send(r.build(), HttpResponse.BodyHandlers.ofString());
      if (response.statusCode() >= 300) {
        plenzo.api.Failure f = Api.JSON.readValue(response.body(), plenzo.api.Failure.class);
        throw new Failed(
            response.statusCode() == 401
                ? Failed.NOT_SIGNED_IN
                : response.statusCode() == 403 ? Failed.NOT_ALLOWED : Failed.USAGE,
            f.code(),
            f.detail(),
            f.next(),
            f.requestId());
      }
      return response;
    }
  }

  @Command(
      name = "logout",
      description = "Forgets the token of this server and revokes it there.",
      footer = {"", "Examples:", "  plenzo logout"})
  static final class Logout extends Group {
    @Override
    public void run() {
      api().delete("/session", Void.class);
      top().settings().remember(top().address(), null);
      out().line("Signed out at " + top().address() + ".");
    }
  }

  @Command(
      name = "whoami",
      description = "Person, server, rights, how long still valid.",
      footer = {"", "Examples:", "  plenzo whoami"})
  static final class Whoami extends Group {
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
              out().time(me.until()));
      out()
          .table(
              List.of("right", "stage", "application"),
              me.grants().stream()
                  .map(g -> List.of(g.right(), g.stage(), g.application()))
                  .toList());
    }
  }

  @Command(
      name = "config",
      description = "Settings and where each comes from.",
      footer = {"", "Examples:", "  plenzo config show"})
  static final class Config extends Group {
    @Command(name = "show", description = "Shows them.")
    void show(@Option(names = "--origin", description = "And where from.") boolean origin) {
      Settings.From from = top().settings().server(top().server);
      out()
          .table(
              List.of("setting", "value", "origin"),
              List.of(List.of("server", from.value(), from.origin())));
    }
  }

  @Command(
      name = "user",
      description = "People who can sign in.",
      footer = {
        "",
        "Examples:",
        "  plenzo user list",
        "  plenzo user invite bram --shown \"Bram Okafor, business owner\" < password.txt"
      })
  static final class User extends Group {
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

  @Command(
      name = "role",
      description = "Who may do what, per stage and application.",
      footer = {
        "",
        "Examples:",
        "  plenzo role list bram",
        "  plenzo role grant bram approve look --stage production --app fares"
      })
  static final class Role extends Group {
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
      return api().list("/people", PersonView.class).stream()
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
      List<Grant> all = new ArrayList<>(find(login).grants());
      rights.forEach(r -> all.add(new Grant(r, stage, app)));
      save(login, all);
    }

    @Command(name = "revoke", description = "Takes rights away.")
    void revoke(
        @Parameters(paramLabel = "NAME") String login,
        @Parameters(paramLabel = "RIGHT", arity = "1..*") List<String> rights,
        @Option(names = "--stage", defaultValue = "*") String stage,
        @Option(names = "--app", defaultValue = "*") String app) {
      save(
          login,
          find(login).grants().stream()
              .filter(
                  g ->
                      !(rights.contains(g.right())
                          && g.stage().equals(stage)
                          && g.application().equals(app)))
              .toList());
    }

    private void save(String login, List<Grant> all) {
      PersonView p =
          api()
              .put(
                  "/people/" + Api.encode(login) + "/grants",
                  new Grants(all.stream().distinct().toList()),
                  PersonView.class);
      out().line(p.login() + " has " + p.grants().size() + " rights.");
    }
  }

  @Command(
      name = "token",
      description = "Tokens of your own for machines.",
      footer = {"", "Examples:", "  plenzo token list", "  plenzo token new \"build server\""})
  static final class Token extends Group {
    @Command(name = "list", description = "Your tokens.")
    void list() {
      out()
          .list(
              "tokens",
              api().list("/tokens", plenzo.api.People.Token.class),
              List.of("id", "label", "until"),
              t -> List.of(t.id(), t.label(), out().time(t.expiresAt())));
    }

    @Command(name = "new", description = "Makes one; it is told once.")
    void make(@Parameters(paramLabel = "LABEL") String label) {
      MadeToken t = api().post("/tokens", new NewToken(label), MadeToken.class);
      if (out().json()) {
        out().document("token", t);
      } else {
        out().line(t.secret());
        out().note("Told once. Valid until " + out().time(t.expiresAt()) + ".");
      }
    }

    @Command(name = "revoke", description = "Ends one.")
    void revoke(@Parameters(paramLabel = "ID") String id) {
      api().delete("/tokens/" + Api.encode(id), Void.class);
      out().line("Revoked.");
    }
  }
}
