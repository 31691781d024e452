package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Calendars.NewRepeat;
import plenzo.api.Calendars.RepeatView;

@Command(
    name = "repeat",
    description = {
      "The newest good version of an application goes to a stage again and again, by the rights of"
          + " whoever said so.",
      "Its run waits for every gate; what takes something away is left to people. What was missed"
          + " is said and not caught up. Into production only where the path's leg says so:"
          + " plenzo path gates PATH STAGE --onward run."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo repeat add fares --to test --daily 02:30",
      "  plenzo repeat add fares --to test --rule \"FREQ=WEEKLY;BYDAY=MO,TH;BYHOUR=22;BYMINUTE=0\"",
      "  plenzo repeat end RP-1"
    })
final class RepeatCommand extends Group {
  @Command(name = "list", description = "All of them, newest first.")
  void list(@Option(names = "--app") @Nullable String app) {
    out()
        .list(
            "repeats",
            api().list("/repeats" + Api.query("application", app), RepeatView.class),
            List.of("repeat", "of", "to", "rule", "next", "by", "state", "what came of it"),
            r ->
                List.of(
                    r.number(),
                    r.application(),
                    r.stage(),
                    r.rule(),
                    r.next() == null ? "" : out().time(r.next()),
                    r.by(),
                    r.state(),
                    r.sentence()));
  }

  @Command(name = "add", description = "Lets it go there again and again.")
  void add(
      @Parameters(paramLabel = "APP") String app,
      @Option(names = "--to", required = true, paramLabel = "STAGE") String stage,
      @Option(
              names = "--daily",
              paramLabel = "HH:MM",
              description = "Each day at that time, in the stage's time zone.")
          @Nullable String daily,
      @Option(
              names = "--rule",
              paramLabel = "RULE",
              description =
                  "When, as an iCalendar recurrence (RFC 5545), every hour at most; UNTIL and"
                      + " COUNT end it.")
          @Nullable String rule,
      @Option(
              names = "--path",
              description = "By which path; the first that goes there if left out.")
          @Nullable String path,
      @Option(
              names = "--until",
              paramLabel = "TIME",
              description = "When it is over; in a year if left out.")
          @Nullable String until) {
    if ((daily == null) == (rule == null)) {
      throw Failed.usage("Say one of --daily and --rule.");
    }
    String zone = stage(stage).zone();
    RepeatView r =
        api()
            .post(
                "/repeats",
                new NewRepeat(
                    app,
                    stage,
                    path,
                    rule == null ? daily(String.valueOf(daily)) : rule,
                    until == null ? null : Times.of(until, zone)),
                RepeatView.class);
    said(
        r,
        r.number()
            + ": the newest good version of "
            + r.application()
            + " goes to "
            + r.stage()
            + ", for the first time "
            + (r.next() == null ? "" : Times.said(r.next(), zone))
            + " "
            + zone
            + ".");
  }

  private static String daily(String time) {
    if (!time.matches("([01][0-9]|2[0-3]):[0-5][0-9]")) {
      throw Failed.usage("Say the time as 02:30; got \"" + time + "\".");
    }
    return "FREQ=DAILY;BYHOUR="
        + Integer.parseInt(time.substring(0, 2))
        + ";BYMINUTE="
        + Integer.parseInt(time.substring(3));
  }

  @Command(name = "end", description = "Ends one; what is on its way goes on.")
  void end(@Parameters(paramLabel = "REPEAT") String number) {
    RepeatView r =
        api().post("/repeats/" + Api.encode(number) + "/end", Map.of(), RepeatView.class);
    said(r, r.number() + " is ended: plenzo errand list shows what is on its way.");
  }

  private void said(RepeatView r, String line) {
    if (out().json()) {
      out().document("repeat", r);
    } else {
      out().line(line);
    }
  }
}
