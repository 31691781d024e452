package plenzo.cli;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Deputies.DeputyView;
import plenzo.api.Deputies.NameDeputy;

@Command(
    name = "deputy",
    description =
        "Who stands in for whom, for a span; a yes then reads \"bram for ines\", and both count as"
            + " one.",
    footer = {
      "",
      "Examples:",
      "  plenzo deputy name bram --until 2026-12-24",
      "  plenzo deputy name bram --for ines --role change-board --stage production --until 2026-12-24 --reason \"Ines is ill\""
    })
final class DeputyCommand extends Group {
  @Command(name = "list", description = "All of them, and those that were over within 30 days.")
  void list() {
    out()
        .list(
            "deputies",
            api().pages("/deputies", DeputyView.class, out().wanted()),
            List.of("deputy", "who", "for", "as", "stage", "from", "until", "state", "reason"),
            d ->
                List.of(
                    d.number(),
                    d.deputy(),
                    d.of(),
                    d.role().isEmpty() ? "approver and tester" : d.role(),
                    d.stage().equals("*") ? "every one" : d.stage(),
                    out().time(d.from()),
                    out().time(d.until()),
                    d.state().replace('-', ' '),
                    d.reason()));
  }

  @Command(
      name = "name",
      description = {
        "Names somebody who stands in for you; for somebody else, whoever administers does, with a"
            + " reason.",
        "Without a role it is what may be approved and judged; the right to administer is never"
            + " lent."
      })
  void name(
      @Parameters(paramLabel = "LOGIN") String deputy,
      @Option(names = "--for", paramLabel = "LOGIN", description = "Yourself, when left out.")
          @Nullable String of,
      @Option(names = "--role", description = "The role that is stood in for.")
          @Nullable String role,
      @Option(names = "--stage", description = "Every stage, when left out.")
          @Nullable String stage,
      @Option(names = "--from", paramLabel = "TIME", description = "Now, when left out.")
          @Nullable String from,
      @Option(
              names = "--until",
              required = true,
              paramLabel = "TIME",
              description = "A day, to its end, or a time such as 2026-12-24T18:00:00Z.")
          String until,
      @Option(names = "--reason") @Nullable String reason) {
    DeputyView made =
        api()
            .post(
                "/deputies",
                new NameDeputy(
                    of,
                    deputy,
                    role,
                    stage,
                    from == null ? null : time(from, 0),
                    time(until, 1),
                    reason),
                DeputyView.class);
    if (out().json()) {
      out().document("deputy", made);
      return;
    }
    out()
        .line(
            made.number()
                + ": "
                + made.deputy()
                + " stands in for "
                + made.of()
                + " from "
                + out().time(made.from())
                + " until "
                + out().time(made.until())
                + ".");
  }

  /** A day stands for its beginning, or so many days later. */
  static Instant time(String text, int days) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).plusDays(days).atStartOfDay(ZoneId.systemDefault()).toInstant();
    } catch (DateTimeParseException e) {
      throw Failed.usage(
          "\""
              + text
              + "\" is no day such as 2026-12-24, and no time such as 2026-12-24T18:00:00Z.");
    }
  }

  @Command(name = "end", description = "Ends it now: what was said by who stood in falls.")
  void end(@Parameters(paramLabel = "DEPUTY") String number) {
    DeputyView d =
        api().post("/deputies/" + Api.encode(number) + "/end", Map.of(), DeputyView.class);
    out().line(d.deputy() + " stands in for " + d.of() + " no more.");
  }
}
