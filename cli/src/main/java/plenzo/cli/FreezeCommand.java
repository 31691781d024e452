package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Calendars.FreezeHolds;
import plenzo.api.Calendars.FreezeView;
import plenzo.api.Calendars.LiftFreeze;
import plenzo.api.Calendars.NewFreeze;

@Command(
    name = "freeze",
    description = "Spans in which no version goes to a stage. Going back is never held.",
    footer = {
      "",
      "Examples:",
      "  plenzo freeze check production --from 2026-12-20T00:00 --until 2027-01-04T06:00",
      "  plenzo freeze add production --from 2026-12-20T00:00 --until 2027-01-04T06:00 --reason \"Year's end\"",
      "  plenzo freeze lift FZ-1 --reason \"Agreed with the harbour\""
    })
final class FreezeCommand extends Group {
  /** When, and what for. */
  static final class Span {
    @Parameters(paramLabel = "STAGE")
    String stage = "";

    @Option(
        names = "--from",
        required = true,
        paramLabel = "TIME",
        description = "In the stage's time zone, 2026-12-20T00:00, or with an offset.")
    String from = "";

    @Option(names = "--until", required = true, paramLabel = "TIME")
    String until = "";

    @Option(
        names = "--except",
        split = ",",
        paramLabel = "APP",
        description = "Applications that it does not hold.")
    @Nullable List<String> except;
  }

  private NewFreeze asked(Span s, String reason) {
    String zone = stage(s.stage).zone();
    return new NewFreeze(
        s.stage, Times.of(s.from, zone), Times.of(s.until, zone), reason, s.except);
  }

  @Command(name = "list", description = "All of them, newest first.")
  void list(@Parameters(paramLabel = "STAGE", arity = "0..1") @Nullable String stage) {
    out()
        .list(
            "freezes",
            api().list("/freezes" + Api.query("stage", stage), FreezeView.class),
            List.of("freeze", "stage", "from", "until", "reason", "but for", "by", "state"),
            f ->
                List.of(
                    f.number(),
                    f.stage(),
                    out().time(f.from()),
                    out().time(f.until()),
                    f.reason(),
                    String.join(", ", f.except()),
                    f.by(),
                    state(f)));
  }

  private static String state(FreezeView f) {
    return f.liftedBy() != null
        ? "lifted by " + f.liftedBy() + ": " + f.liftedReason()
        : f.over() ? "over" : "holds";
  }

  @Command(name = "check", description = "What a freeze would hold; nothing is changed.")
  void check(@picocli.CommandLine.Mixin Span span) {
    FreezeHolds holds = holds(asked(span, "check"));
    if (out().json()) {
      out().document("holds", holds);
      return;
    }
    told(holds);
  }

  private FreezeHolds holds(NewFreeze asked) {
    return api().post("/freezes/holds", asked, FreezeHolds.class);
  }

  private void told(FreezeHolds holds) {
    if (holds.promotions().isEmpty() && holds.schedules().isEmpty()) {
      out().line("It holds nothing that is open now.");
    }
    holds.promotions().forEach(p -> out().line("Holds " + p + "."));
    holds.schedules().forEach(s -> out().line("Refuses " + s + "."));
  }

  @Command(name = "add", description = "Freezes a stage; says first what that holds.")
  void add(
      @picocli.CommandLine.Mixin Span span,
      @Option(names = "--reason", required = true) String reason) {
    NewFreeze asked = asked(span, reason);
    if (!out().json()) {
      told(holds(asked));
    }
    FreezeView f = api().post("/freezes", asked, FreezeView.class);
    if (out().json()) {
      out().document("freeze", f);
      return;
    }
    out()
        .line(
            f.number()
                + ": "
                + f.stage()
                + " is frozen from "
                + out().time(f.from())
                + " to "
                + out().time(f.until())
                + ".");
  }

  @Command(name = "lift", description = "Ends one before its time.")
  void lift(
      @Parameters(paramLabel = "FREEZE") String number,
      @Option(names = "--reason", required = true) String reason) {
    FreezeView f =
        api()
            .post(
                "/freezes/" + Api.encode(number) + "/lift",
                new LiftFreeze(reason),
                FreezeView.class);
    if (out().json()) {
      out().document("freeze", f);
      return;
    }
    out().line(f.number() + " of " + f.stage() + " is lifted.");
  }
}
