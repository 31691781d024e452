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
                    out().time(s.at()),
                    s.by(),
                    s.state(),
                    s.sentence()));
  }

  @Command(name = "add", description = "Lets an agreed promotion's run start at a time.")
  void add(
      @Parameters(paramLabel = "PROMOTION") String promotion,
      @Option(
              names = "--at",
              paramLabel = "TIME",
              description = "In the stage's time zone, 2026-12-01T22:00, or with an offset.")
          @Nullable String at,
      @Option(names = "--next-window", description = "The first moment at which the stage is open.")
          boolean next) {
    if ((at == null) != next) {
      throw Failed.usage("Say one of --at and --next-window.");
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
                    at == null ? null : Times.of(at, zone), Objects.requireNonNull(expect)),
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
                + Times.said(s.at(), zone)
                + " "
                + zone
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
