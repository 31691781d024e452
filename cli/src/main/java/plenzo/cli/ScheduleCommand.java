package plenzo.cli;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Calendars.NewSchedule;
import plenzo.api.Calendars.ScheduleView;
import plenzo.api.Promotions.PromotionView;

@Command(
    name = "schedule",
    description = {
      "Runs that start by themselves: the plan that was agreed and no other, by the rights of whoever"
          + " scheduled it.",
      "Each is looked at again every day, a day, two hours and a quarter of an hour before. What"
          + " moved is said; at its time it is refused then, with the reason."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo schedule add P-7 --at 2026-12-01T22:00",
      "  plenzo schedule add P-7 --next-window",
      "  plenzo schedule add P-8 --after P-7",
      "  plenzo schedule withdraw SC-1"
    })
final class ScheduleCommand extends Group {
  @Command(name = "list", description = "All of them, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--promotion") @Nullable String promotion) {
    out()
        .list(
            "schedules",
            api()
                .list(
                    "/schedules" + Api.query("application", app, "promotion", promotion),
                    ScheduleView.class),
            List.of(
                "schedule", "of", "version", "at", "starts", "by", "state", "what became of it"),
            s ->
                List.of(
                    s.number(),
                    s.promotion(),
                    s.application() + "@" + s.version(),
                    s.site(),
                    s.after() == null ? out().time(s.at()) : "after " + s.after(),
                    s.by(),
                    s.state(),
                    s.sentence()));
  }

  @Command(
      name = "add",
      description = "Lets an agreed promotion's run start at a time, or after another one's.")
  void add(
      @Parameters(paramLabel = "PROMOTION") String promotion,
      @Option(
              names = "--at",
              paramLabel = "TIME",
              description = "In the stage's time zone, 2026-12-01T22:00, or with an offset.")
          @Nullable String at,
      @Option(names = "--next-window", description = "The first moment at which the stage is open.")
          boolean next,
      @Option(
              names = "--after",
              paramLabel = "PROMOTION",
              description = "When the run of this promotion is done; refused when it is not done.")
          @Nullable String after) {
    if ((at == null ? 0 : 1) + (next ? 1 : 0) + (after == null ? 0 : 1) != 1) {
      throw Failed.usage("Say one of --at, --next-window and --after.");
    }
    PromotionView p =
        Cases.settled(this, api().get("/promotions/" + Api.encode(promotion), PromotionView.class));
    String stage = p.goal().site().split("/")[0];
    String zone = stage(stage).zone();
    String fingerprint = p.plan() == null ? "" : p.plan().fingerprint();
    String sentence =
        "Lets the run of "
            + p.number()
            + " start by itself: "
            + p.goal().version()
            + " of "
            + p.goal().application()
            + " to "
            + p.goal().site()
            + ", "
            + DifferenceText.written(p.compared().counts())
            + ".";
    List<String> lost = p.compared().takesAway();
    String expect =
        lost.isEmpty()
            ? RunText.expected(this, sentence, stage, p.goal().production(), fingerprint)
            : RunText.losing(
                this,
                sentence + " Takes away " + String.join("; ", lost) + ".",
                "application",
                p.goal().application(),
                stage,
                fingerprint);
    ScheduleView s =
        api()
            .post(
                "/promotions/" + Api.encode(promotion) + "/schedule",
                new NewSchedule(
                    at == null ? null : Times.of(at, zone), Objects.requireNonNull(expect), after),
                ScheduleView.class);
    if (out().json()) {
      out().document("schedule", s);
      return;
    }
    out()
        .line(
            s.number()
                + ": the run of "
                + s.promotion()
                + " ("
                + s.application()
                + "@"
                + s.version()
                + " to "
                + s.site()
                + ") starts "
                + (s.after() == null
                    ? Times.said(s.at(), zone) + " " + zone
                    : "when the run of " + s.after() + " is done")
                + ". What moves until then is said: plenzo schedule list --promotion "
                + s.promotion());
  }

  @Command(name = "withdraw", description = "Takes it back; the promotion stays as it is.")
  void withdraw(@Parameters(paramLabel = "SCHEDULE") String number) {
    ScheduleView s =
        api().post("/schedules/" + Api.encode(number) + "/withdraw", Map.of(), ScheduleView.class);
    if (out().json()) {
      out().document("schedule", s);
      return;
    }
    out().line(s.number() + " is withdrawn; " + s.promotion() + " stays as it is.");
  }
}
