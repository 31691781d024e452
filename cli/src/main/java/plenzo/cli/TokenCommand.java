package plenzo.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import plenzo.api.People.MadeToken;
import plenzo.api.People.NewToken;

@Command(
    name = "token",
    description = "Tokens of your own for machines.",
    footer = {"", "Examples:", "  plenzo token list", "  plenzo token new \"build server\""})
final class TokenCommand extends Group {
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
