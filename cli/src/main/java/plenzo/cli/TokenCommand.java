package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.People.MadeToken;
import plenzo.api.People.NewToken;
import plenzo.api.People.Only;

@Command(
    name = "token",
    description = "Tokens of your own for machines.",
    footer = {
      "",
      "Examples:",
      "  plenzo token list",
      "  plenzo token new \"build server\" --right look --right prepare --stage test --app fares --days 30"
    })
final class TokenCommand extends Group {
  @Command(name = "list", description = "Your tokens.")
  void list() {
    out()
        .list(
            "tokens",
            api().list("/tokens", plenzo.api.People.Token.class),
            List.of("id", "label", "only", "until"),
            t -> List.of(t.id(), t.label(), PeopleText.only(t.only()), out().time(t.expiresAt())));
  }

  @Command(
      name = "new",
      description =
          "Makes one; it is told once. It may what you may, or less: each option narrows it, and a narrowed token cannot make others.")
  void make(
      @Parameters(paramLabel = "LABEL", description = "What it is for.") String label,
      @Option(names = "--right", paramLabel = "RIGHT", description = "Only this; can be repeated.")
          @Nullable List<String> rights,
      @Option(names = "--stage", description = "Only there; can be repeated.")
          @Nullable List<String> stages,
      @Option(names = "--app", description = "Only for this application; can be repeated.")
          @Nullable List<String> apps,
      @Option(names = "--days", description = "How long it holds; 90 at most, and if left out.")
          @Nullable Integer days) {
    Only only = new Only(orNone(rights), orNone(stages), orNone(apps));
    MadeToken t = api().post("/tokens", new NewToken(label, only, days), MadeToken.class);
    if (out().json()) {
      out().document("token", t);
    } else {
      out().line(t.secret());
      out().note("Told once. Valid until " + out().time(t.expiresAt()) + ".");
    }
  }

  private static List<String> orNone(@Nullable List<String> given) {
    return given == null ? List.of() : given;
  }

  @Command(name = "revoke", description = "Ends one.")
  void revoke(@Parameters(paramLabel = "ID") String id) {
    api().delete("/tokens/" + Api.encode(id), Void.class);
    out().line("Revoked.");
  }
}
