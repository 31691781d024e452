package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Proposals.ProposalView;
import plenzo.api.Proposals.Word;

@Command(
    name = "proposal",
    description =
        "Changes of what guards production: gates, paths, roles and rights there. Two people make"
            + " them: who asks, and somebody else who administers.",
    footer = {
      "",
      "Examples:",
      "  plenzo proposal list --open",
      "  plenzo proposal agree CH-3 --note \"as talked about\"",
      "  plenzo proposal decline CH-3 --note \"not before the audit\""
    })
final class ProposalCommand extends Group {
  @Command(name = "list", description = "All of them, the newest first.")
  void list(@Option(names = "--open", description = "Only those that wait.") boolean open) {
    out()
        .list(
            "proposals",
            api()
                .pages(
                    "/proposals" + Api.query("state", open ? "open" : null),
                    ProposalView.class,
                    out().wanted()),
            List.of("change", "of", "what", "by", "asked", "state", "second"),
            p ->
                List.of(
                    p.number(),
                    p.what(),
                    p.words(),
                    p.by(),
                    out().time(p.at()),
                    words(p.state()),
                    p.second() == null ? String.join(" or ", p.seconds()) : p.second()));
  }

  /** A state as people read it. */
  static String words(String state) {
    return switch (state) {
      case "open" -> "waits for a second person";
      case "agreed" -> "made by two";
      case "alone" -> "made by one: nobody else administered";
      default -> state;
    };
  }

  @Command(name = "show", description = "What it changes, who asked for it, and what became of it.")
  void show(@Parameters(paramLabel = "CHANGE") String number) {
    told(api().get(path(number), ProposalView.class));
  }

  @Command(name = "agree", description = "Agrees as the second person, which makes the change.")
  void agree(
      @Parameters(paramLabel = "CHANGE") String number,
      @Option(names = "--note") @Nullable String note) {
    told(api().post(path(number) + "/agree", new Word(note), ProposalView.class));
  }

  @Command(name = "decline", description = "Says no as the second person; nothing is changed.")
  void decline(
      @Parameters(paramLabel = "CHANGE") String number,
      @Option(names = "--note", required = true, description = "Why.") String note) {
    told(api().post(path(number) + "/decline", new Word(note), ProposalView.class));
  }

  @Command(name = "withdraw", description = "Takes back what you asked for yourself.")
  void withdraw(
      @Parameters(paramLabel = "CHANGE") String number,
      @Option(names = "--note") @Nullable String note) {
    told(api().post(path(number) + "/withdraw", new Word(note), ProposalView.class));
  }

  private static String path(String number) {
    return "/proposals/" + Api.encode(number);
  }

  private void told(ProposalView p) {
    if (out().json()) {
      out().document("proposal", p);
      return;
    }
    out().line(p.number() + " of " + p.what() + " " + words(p.state()) + ".");
    out().line("    " + p.words());
    out().line("    for " + String.join(", ", p.stages()));
    out().line("asked for by " + p.by() + ", " + out().time(p.at()));
    if (p.second() != null && p.decidedAt() != null) {
      out()
          .line(
              p.state()
                  + " by "
                  + p.second()
                  + ", "
                  + out().time(p.decidedAt())
                  + (p.note().isBlank() ? "" : ": " + p.note()));
    }
    if (p.state().equals("open")) {
      out()
          .line(
              "Nothing is changed yet. "
                  + (p.mayDecide().allowed()
                      ? "You may: plenzo proposal agree " + p.number()
                      : p.mayDecide().why()
                          + (p.seconds().isEmpty()
                              ? ""
                              : " Who may: " + String.join(", ", p.seconds()) + ".")));
    }
  }
}
