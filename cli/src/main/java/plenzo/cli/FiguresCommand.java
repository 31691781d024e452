package plenzo.cli;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import plenzo.api.Records.FigureRow;
import plenzo.api.Records.FiguresView;

@Command(
    name = "figures",
    description = {
      "How often, how long, how long users were out, how many came back and why; of what you may"
          + " look at.",
      "Middle values are medians: one that there was."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo figures show --days 90 --by month",
      "  plenzo figures show --by application --app fares",
      "  plenzo figures backs --days 365",
      "  plenzo figures exceptions --days 90 --to exceptions.html"
    })
final class FiguresCommand extends Group {
  /** Of which span. */
  static final class Span {
    @Option(
        names = "--days",
        defaultValue = "90",
        description = "So many days up to now, where --from is left out.")
    int days;

    @Option(names = "--from", paramLabel = "TIME", description = "In UTC, or with an offset.")
    @Nullable String from;

    @Option(names = "--until", paramLabel = "TIME", description = "Now if left out.")
    @Nullable String until;

    String query(String... more) {
      Instant end = until == null ? Instant.now() : Times.of(until, "UTC");
      Instant begin = from == null ? end.minus(Duration.ofDays(days)) : Times.of(from, "UTC");
      List<String> all =
          new ArrayList<>(List.of("from", begin.toString(), "until", end.toString()));
      all.addAll(List.of(more));
      return Api.query(all.toArray(String[]::new));
    }
  }

  private FiguresView asked(Span span, @Nullable String app) {
    return api()
        .get(
            "/figures" + (app == null ? span.query() : span.query("application", app)),
            FiguresView.class);
  }

  @Command(name = "show", description = "The figures, by stage, application or month.")
  void show(
      @picocli.CommandLine.Mixin Span span,
      @Option(
              names = "--by",
              defaultValue = "month",
              paramLabel = "month|stage|application",
              description = "month if left out.")
          String by,
      @Option(names = "--app") @Nullable String app) {
    FiguresView f = asked(span, app);
    List<FigureRow> rows = new ArrayList<>();
    switch (by) {
      case "month" -> rows.addAll(f.byMonth());
      case "stage" -> rows.addAll(f.byStage());
      case "application" -> rows.addAll(f.byApplication());
      default -> throw Failed.usage("Say --by month, stage or application; got \"" + by + "\".");
    }
    rows.add(f.whole());
    out()
        .list(
            "figures",
            rows,
            List.of(
                by,
                "runs",
                "came through",
                "to look at",
                "stopped",
                "put back",
                "half written",
                "went back",
                "users out",
                "a run takes",
                "from sealing",
                "waits for a yes",
                "waits for a start"),
            r ->
                List.of(
                    r.name(),
                    String.valueOf(r.runs()),
                    String.valueOf(r.cameThrough()),
                    String.valueOf(r.toLookAt()),
                    String.valueOf(r.stopped()),
                    String.valueOf(r.putBack()),
                    String.valueOf(r.halfWritten()),
                    String.valueOf(r.wentBack()),
                    said(r.usersOutSeconds()),
                    said(r.tookMedianSeconds()),
                    said(r.sealingMedianSeconds()),
                    said(r.forYesMedianSeconds()),
                    said(r.forStartMedianSeconds())));
  }

  private static String said(@Nullable Long seconds) {
    return seconds == null ? "" : RunText.duration(Duration.ofSeconds(seconds));
  }

  @Command(name = "backs", description = "Runs that went back, and why.")
  void backs(@picocli.CommandLine.Mixin Span span, @Option(names = "--app") @Nullable String app) {
    out()
        .list(
            "backs",
            asked(span, app).backs(),
            List.of("run", "of", "at", "when", "why"),
            b -> List.of(b.run(), b.application(), b.site(), out().time(b.at()), b.why()));
  }

  @Command(
      name = "exceptions",
      description =
          "What went otherwise than the rules say: emergencies, what was owed, stages skipped, steps"
              + " left out, risks accepted, freezes lifted and passed, deputies, gates changed.")
  void exceptions(
      @picocli.CommandLine.Mixin Span span,
      @Option(
              names = "--to",
              paramLabel = "FILE",
              description = "Saved there, as Markdown (.md) or HTML (.html).")
          @Nullable Path to) {
    ReportText.give(this, "/exceptions", span.query(), to);
  }
}
