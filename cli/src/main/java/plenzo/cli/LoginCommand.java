package plenzo.cli;

import java.time.Duration;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import plenzo.api.People.MadeToken;
import plenzo.api.People.Me;
import plenzo.api.People.NewToken;
import plenzo.api.People.Password;
import plenzo.api.People.SignIn;

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
final class LoginCommand extends Group {
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
      Call.Answer in = send(server, "POST", "/session", new SignIn(login, old), null, null);
      Me me = Api.JSON.readValue(in.text(), Me.class);
      String cookie = Objects.requireNonNullElse(in.header("Set-Cookie"), "").split(";")[0];
      if (newPassword) {
        send(
            server,
            "PUT",
            "/session/password",
            new Password(old, given.lines().skip(1).findFirst().orElse("")),
            cookie,
            me.csrf());
      }
      Call.Answer made =
          send(
              server,
              "POST",
              "/tokens",
              new NewToken("command line", null, null),
              cookie,
              me.csrf());
      send(server, "DELETE", "/session", null, cookie, me.csrf());
      return Api.JSON.readValue(made.text(), MadeToken.class).secret();
    } catch (java.io.IOException e) {
      throw Failed.notReachable(server);
    }
  }

  private static Call.Answer send(
      String server,
      String method,
      String path,
      @Nullable Object body,
      @Nullable String cookie,
      @Nullable String csrf)
      throws java.io.IOException {
    Call.Answer answer =
        new Call(method, server + "/api/v1" + path, Duration.ofSeconds(30))
            .header("Content-Type", "application/json")
            .header("Idempotency-Key", UUID.randomUUID().toString())
            .header("Cookie", cookie)
            .header("X-Plenzo-Csrf", csrf)
            .send(body == null ? null : Api.JSON.writeValueAsString(body));
    if (answer.status() >= 300) {
      plenzo.api.Failure f = Api.JSON.readValue(answer.text(), plenzo.api.Failure.class);
      throw new Failed(
          answer.status() == 401
              ? Failed.NOT_SIGNED_IN
              : answer.status() == 403 ? Failed.NOT_ALLOWED : Failed.USAGE,
          f.code(),
          f.detail(),
          f.next(),
          f.requestId());
    }
    return answer;
  }
}
