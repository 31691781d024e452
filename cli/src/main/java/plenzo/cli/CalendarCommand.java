package plenzo.cli;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Calendars.CalendarView;
import plenzo.api.Calendars.FeedMade;
import plenzo.api.Calendars.NewFeed;

@Command(
    name = "calendar",
    description = "Windows, freezes, runs that start by themselves, and runs that took place.",
    footer = {
      "",
      "Examples:",
      "  plenzo calendar show --stage production --days 28",
      "  plenzo calendar feed \"My phone\""
    })
final class CalendarCommand extends Group {
  /** One line. */
  record Line(Instant at, String stage, String what, String text) {}

  @Command(name = "show", description = "What is on, in order: the last week and the next two.")
  void show(
      @Option(names = "--stage") @Nullable String stage,
      @Option(names = "--days", defaultValue = "14", description = "How far ahead.") int days,
      @Option(names = "--back", defaultValue = "7", description = "How many days back.") int back) {
    Instant now = Instant.now();
    CalendarView c =
        api()
            .get(
                "/calendar"
                    + Api.query(
                        "from",
                        now.minus(Duration.ofDays(back)).toString(),
                        "until",
                        now.plus(Duration.ofDays(days)).toString(),
                        "stage",
                        stage),
                CalendarView.class);
    out()
        .list(
            "calendar",
            lines(c),
            List.of("when", "stage", "what", "text"),
            l -> List.of(out().time(l.at()), l.stage(), l.what(), l.text()));
  }

  @Command(
      name = "feed",
      description = {
        "Makes an address from which calendar programs read this, of what you may look at.",
        "It holds a secret that opens the calendar and nothing else, and is told once; it is among"
            + " your tokens: plenzo token revoke ID."
      })
  void feed(@Parameters(paramLabel = "LABEL", description = "What it is for.") String label) {
    FeedMade f = api().post("/calendar/feeds", new NewFeed(label), FeedMade.class);
    if (out().json()) {
      out().document("feed", f);
      return;
    }
    out().line(api().server() + f.address());
    out()
        .note(
            "Told once. Valid until "
                + out().time(f.expiresAt())
                + "; ended by plenzo token revoke "
                + f.id()
                + ".");
  }

  /** Everything that is on, by when it begins. */
  private List<Line> lines(CalendarView c) {
    List<Line> out = new ArrayList<>();
    c.stages()
        .forEach(
            s -> {
              s.windows()
                  .forEach(
                      w ->
                          out.add(
                              new Line(
                                  w.from(),
                                  s.stage(),
                                  "window",
                                  "until "
                                      + Times.said(w.until(), s.zone())
                                      + " "
                                      + s.zone()
                                      + (w.note() == null ? "" : "; " + w.note()))));
              s.freezes()
                  .forEach(
                      f ->
                          out.add(
                              new Line(
                                  f.from(),
                                  s.stage(),
                                  f.number(),
                                  (f.liftedBy() == null ? "frozen" : "was frozen, lifted")
                                      + " until "
                                      + Times.said(
                                          f.liftedAt() == null ? f.until() : f.liftedAt(), s.zone())
                                      + " "
                                      + s.zone()
                                      + ": "
                                      + f.reason())));
            });
    c.schedules()
        .forEach(
            s ->
                out.add(
                    new Line(
                        s.at(),
                        s.site(),
                        s.number(),
                        s.promotion()
                            + " "
                            + s.application()
                            + "@"
                            + s.version()
                            + " "
                            + s.state()
                            + (s.sentence().isEmpty() ? "" : ": " + s.sentence()))));
    c.repeats()
        .forEach(
            r ->
                out.add(
                    new Line(
                        r.at(),
                        r.stage(),
                        r.number(),
                        r.application() + ": the newest good version goes there")));
    c.clashes()
        .forEach(k -> out.add(new Line(k.at(), k.stage(), "clash", k.what() + " " + k.words())));
    c.runs()
        .forEach(
            r ->
                out.add(
                    new Line(
                        r.began(),
                        r.site(),
                        r.number(),
                        r.application()
                            + "@"
                            + r.version()
                            + " "
                            + r.state().replace(", n to", ", something to"))));
    out.sort(Comparator.comparing(Line::at));
    return out;
  }
}
