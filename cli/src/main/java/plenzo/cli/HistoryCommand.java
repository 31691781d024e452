package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Standings.AnchorView;
import plenzo.api.Standings.ChainView;
import plenzo.api.Standings.HeadView;
import plenzo.api.Standings.HistoryView;
import plenzo.api.Standings.VerifyHistory;
import plenzo.api.Standings.VerifyingView;

@Command(
    name = "history",
    description = "Who put what where, when, on whose word.",
    footer = {
      "",
      "Examples:",
      "  plenzo history list --app fares --stage production",
      "  plenzo history list --of connection/production/change",
      "  plenzo history list --task FERRY-118 --from 2027-01-01T00:00",
      "  plenzo history verify"
    })
final class HistoryCommand extends Group {
  /** What is looked for in it. */
  static final class Sought {
    @Option(names = "--text", description = "Part of what an event says.")
    @Nullable String text;

    @Option(names = "--site", description = "Key of a site, such as north; with --stage its stage.")
    @Nullable String site;

    @Option(names = "--task", description = "Only of versions that were made for this task.")
    @Nullable String task;

    @Option(names = "--from", paramLabel = "TIME", description = "In UTC, or with an offset.")
    @Nullable String from;

    @Option(names = "--until", paramLabel = "TIME", description = "Before that time.")
    @Nullable String until;

    boolean any() {
      return site != null || text != null || task != null || from != null || until != null;
    }
  }

  private static @Nullable String time(@Nullable String said) {
    return said == null ? null : Times.of(said, "UTC").toString();
  }

  @Command(name = "list", description = "Events, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--stage") @Nullable String stage,
      @Option(names = "--event") @Nullable String event,
      @Option(names = "--by") @Nullable String actor,
      @Option(
              names = "--of",
              paramLabel = "THING",
              description = {
                "Only changes of one thing that is set up: stage/KEY, connection/STAGE/NAME,",
                "path/KEY, application/KEY, person/NAME, role/KEY, key/ID, value/APP/STAGE/INPUT."
              })
          @Nullable String of,
      @Mixin Sought sought) {
    if (of != null
        && (app != null || stage != null || event != null || actor != null || sought.any())) {
      throw Failed.usage("--of says all: name no application, stage, event or person beside it.");
    }
    out()
        .list(
            "history",
            api()
                .pages(
                    "/history"
                        + Api.query(
                            "application",
                            app,
                            "stage",
                            stage,
                            "event",
                            event,
                            "actor",
                            actor,
                            "of",
                            of,
                            "site",
                            sought.site,
                            "text",
                            sought.text,
                            "task",
                            sought.task,
                            "from",
                            time(sought.from),
                            "until",
                            time(sought.until)),
                    HistoryView.class,
                    out().wanted()),
            List.of("when", "who", "what", "version", "where", "details"),
            e ->
                List.of(
                    out().time(e.at()),
                    e.actor(),
                    e.event(),
                    e.application() == null
                        ? ""
                        : e.application() + (e.version() == null ? "" : "@" + e.version()),
                    e.stage() == null ? "" : e.stage() + (e.site() == null ? "" : "/" + e.site()),
                    (e.run() != null
                            ? e.run() + ": "
                            : e.promotion() != null ? e.promotion() + ": " : "")
                        + e.text()));
  }

  @Command(
      name = "between",
      description = {
        "What changed at a site between two moments: what was recorded there at both, how the"
            + " versions differ, what came and went, and what was done.",
        "What people changed there by hand and nobody looked at is in no record."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo history between fares@production/north --from 2027-03-01T00:00",
        "  plenzo history between fares@test --days 7 --to week.html"
      })
  void between(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Mixin FiguresCommand.Span span,
      @Option(
              names = "--to",
              paramLabel = "FILE",
              description = "Saved there, as Markdown (.md) or HTML (.html).")
          @Nullable Path to) {
    String[] p = parts(at, "fares@production/north");
    String path = "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/between";
    ReportText.give(this, path, span.query(), to);
  }

  @Command(
      name = "save",
      description = {
        "Saves the head of the history, signed, to check the past from later.",
        "With --from it saves the history itself from there on, as a file that \"history verify"
            + " --saved\" checks without the service."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo history save head-2027-03.json",
        "  plenzo history save --from 2027-01-01T00:00 --until 2027-04-01T00:00 --with-evidence quarter.zip"
      })
  void save(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--from", paramLabel = "TIME", description = "In UTC, or with an offset.")
          @Nullable String from,
      @Option(names = "--until", paramLabel = "TIME", description = "Now if left out.")
          @Nullable String until,
      @Option(
              names = "--with-evidence",
              description = "With records of promotions and files of evidence of the span.")
          boolean evidence) {
    if (from != null) {
      long bytes =
          api()
              .save(
                  "/history/saved"
                      + Api.query(
                          "from",
                          time(from),
                          "until",
                          time(until),
                          "evidence",
                          String.valueOf(evidence)),
                  file);
      ReportText.saved(this, bytes, file);
      return;
    }
    if (until != null || evidence) {
      throw Failed.usage("Say --from where the history is to be saved, not its head alone.");
    }
    HeadView head = api().get("/history/head", HeadView.class);
    try {
      Files.writeString(file, head.signed() + "\n");
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " cannot be written.");
    }
    out().line("Head " + head.number() + " is saved in " + file + ". Keep it elsewhere.");
  }

  @Command(
      name = "verify",
      description = {
        "Whether nobody edited or cut the past.",
        "Checks every entry, and every head of it that targets, packages and files hold.",
        "Exit code 17 when somebody did."
      },
      footer = {"", "Examples:", "  plenzo history verify --head head-2027-03.json"})
  int verify(
      @Option(names = "--head", paramLabel = "FILE", description = "A head that was saved before.")
          @Nullable Path kept,
      @Option(
              names = "--saved",
              paramLabel = "FILE",
              description =
                  "A history that was saved: it is checked here, and no service is asked.")
          @Nullable Path saved) {
    if (saved != null) {
      return SavedText.check(this, saved, kept == null ? null : text(kept));
    }
    ChainView c = verified(new VerifyHistory(kept == null ? null : text(kept)));
    if (out().json()) {
      out().document("chain", c);
    } else {
      said(c);
    }
    return c.whole() ? 0 : Failed.NOT_INTACT;
  }

  /** A long past takes its time: how far it is goes to the error stream. */
  private ChainView verified(VerifyHistory asked) {
    long began = System.nanoTime();
    return Telling.during(
        () -> api().post("/history/verify", asked, ChainView.class), () -> soFar(began));
  }

  private void soFar(long began) {
    VerifyingView v = api().get("/history/verify/progress", VerifyingView.class);
    if (v.checked() > 0) {
      out().note(soFar(v, TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - began)));
    }
  }

  /** Such as "400,000 of 1,000,000 entries, about 12 s to go". */
  static String soFar(VerifyingView v, long seconds) {
    long left = seconds * (v.of() - v.checked()) / v.checked();
    return String.format(
        java.util.Locale.ROOT, "%,d of %,d entries, about %d s to go", v.checked(), v.of(), left);
  }

  private void said(ChainView c) {
    out()
        .line(
            c.broken() == 0
                ? counted(c.entries(), "entry").replace("entrys", "entries")
                    + ", unbroken; head "
                    + c.head()
                : "Entry " + c.broken() + " of " + c.entries() + " was altered.");
    long hold = c.anchors().stream().filter(AnchorView::holds).count();
    out()
        .line(
            c.anchors().isEmpty()
                ? "No head of it was found outside the records, so a tail that was cut off would"
                    + " not be noticed."
                : hold
                    + " of "
                    + counted(c.anchors().size(), "head")
                    + " that were kept outside hold.");
    c.anchors().stream()
        .filter(a -> !a.holds())
        .forEach(a -> out().line("  " + a.where() + " (entry " + a.number() + "): " + a.why()));
    c.silent().forEach(s -> out().line("  not asked: " + s));
  }

  private static String text(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " cannot be read.");
    }
  }
}
