package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Standings.ChainView;
import plenzo.api.Standings.HistoryPage;
import plenzo.api.Standings.HistoryView;
import plenzo.api.Standings.PastView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Standings.SourceView;
import plenzo.api.Standings.StandingLine;
import plenzo.api.Standings.StandingView;
import plenzo.api.Standings.WaitingView;
import plenzo.api.Versions.Reason;

/** Where things stand, what waits, drift, history. */
final class StandingCommands {
  private StandingCommands() {}

  @Command(
      name = "standing",
      description = "Where every version is.",
      footer = {
        "",
        "Examples:",
        "  plenzo standing",
        "  plenzo standing --at 2026-06-03T20:00:00Z"
      })
  static final class StandingCommand extends Group {
    @Option(
        names = "--at",
        paramLabel = "TIME",
        description = "What was where at a past time (RFC 3339).")
    @Nullable String at;

    @Override
    public void run() {
      if (at != null) {
        out()
            .list(
                "standing",
                api().list("/standing/past" + Api.query("at", at), PastView.class),
                List.of("application", "site", "version", "how", "since"),
                p ->
                    List.of(
                        p.application(), p.site(), p.version(), p.how(), out().time(p.since())));
        return;
      }
      StandingView s = api().get("/standing", StandingView.class);
      if (out().json()) {
        out().document("standing", s);
        return;
      }
      List<List<String>> rows = new ArrayList<>();
      s.lines()
          .forEach(
              l ->
                  l.cells()
                      .forEach(
                          c ->
                              rows.add(
                                  List.of(
                                      l.application(),
                                      out().site(c.site(), c.production()),
                                      c.version() == null ? "" : c.version(),
                                      out().state(c.condition())
                                          + (c.judged() || c.version() == null
                                              ? ""
                                              : ", not judged yet"),
                                      c.activity() == null
                                          ? ""
                                          : out().state(c.activity())
                                              + ": "
                                              + c.activityText()
                                              + (c.link() == null ? "" : " (" + c.link() + ")"),
                                      remark(c.note(), c.owes(), c.behind())))));
      out()
          .table(
              List.of("application", "at", "version", "condition", "under way", "remarks"), rows);
      out().line("");
      s.lines().forEach(this::source);
      out()
          .line(
              s.goodInProduction()
                  + " of "
                  + s.inProduction()
                  + " good in production, of those you may see. "
                  + s.waiting()
                  + " waiting for you.");
    }

    /** What the source has that is in no version, when there is something to say. */
    private void source(StandingLine l) {
      SourceView seen = l.seen();
      if (seen.changed() > 0) {
        out()
            .line(
                l.application()
                    + ": "
                    + seen.changed()
                    + (seen.changed() == 1 ? " component" : " components")
                    + " changed at the source since "
                    + seen.against()
                    + ".");
      }
      if (!seen.trouble().isEmpty()) {
        out().line(l.application() + ": " + seen.trouble() + ".");
      }
      if (!seen.warning().isEmpty()) {
        out().line(l.application() + ": " + seen.warning());
      }
    }

    private static String remark(String note, List<String> owes, int behind) {
      List<String> out = new ArrayList<>();
      if (!note.isEmpty()) {
        out.add(note);
      }
      if (behind > 0) {
        out.add(behind + " behind");
      }
      owes.forEach(o -> out.add("owes " + o));
      return String.join("; ", out);
    }
  }

  @Command(
      name = "waiting",
      description = "What waits for you.",
      footer = {"", "Examples:", "  plenzo waiting"})
  static final class Waiting extends Group {
    @Override
    public void run() {
      out()
          .list(
              "waiting",
              api().list("/waiting", WaitingView.class),
              List.of("what", "where", "version", "at", "still open"),
              w ->
                  List.of(
                      w.what(),
                      w.link(),
                      w.application() + "@" + w.version(),
                      w.site(),
                      w.sentence()));
    }
  }

  @Command(
      name = "history",
      description = "Who put what where, when, on whose word.",
      footer = {
        "",
        "Examples:",
        "  plenzo history list --app fares --stage production",
        "  plenzo history verify"
      })
  static final class History extends Group {
    @Command(name = "list", description = "Events, newest first.")
    void list(
        @Option(names = "--app") @Nullable String app,
        @Option(names = "--stage") @Nullable String stage,
        @Option(names = "--event") @Nullable String event,
        @Option(names = "--by") @Nullable String actor) {
      List<HistoryView> all = new ArrayList<>();
      String cursor = null;
      do {
        HistoryPage page =
            api()
                .get(
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
                            "cursor",
                            cursor),
                    HistoryPage.class);
        all.addAll(page.items());
        cursor = page.next();
      } while (cursor != null && (top().all || all.size() < top().limit));
      if (cursor != null && all.size() <= top().limit) {
        out().note(all.size() + " shown, use --all");
      }
      out()
          .list(
              "history",
              all,
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
        name = "verify",
        description = "Whether nobody edited the past. Exit code 17 when somebody did.")
    int verify() {
      ChainView c = api().get("/history/verify", ChainView.class);
      if (out().json()) {
        out().document("chain", c);
      } else {
        out()
            .line(
                c.broken() == 0
                    ? c.entries() + " entries, unbroken; head " + c.head()
                    : "Entry " + c.broken() + " of " + c.entries() + " was altered.");
      }
      return c.broken() == 0 ? 0 : Failed.NOT_INTACT;
    }
  }

  @Command(
      name = "drift",
      description = "What a site holds that differs from what is recorded there.",
      footer = {
        "",
        "Examples:",
        "  plenzo drift look fares@production/north --fail-on-difference",
        "  plenzo drift show fares@production/north"
      })
  static final class Drift extends Group {
    @Command(name = "look", description = "Looks now.")
    int look(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Option(names = "--fail-on-difference") boolean fail) {
      String[] p = parts(at, "fares@production");
      RecordView r =
          api()
              .post(
                  "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/look",
                  java.util.Map.of(),
                  RecordView.class);
      show(r);
      return fail && r.drift() > 0 ? Failed.DIFFERENT : 0;
    }

    @Command(name = "show", description = "What the last look found.")
    void showLast(@Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at) {
      String[] p = parts(at, "fares@production");
      show(api().get("/records/" + Api.encode(p[0]) + "/" + site(p[1]), RecordView.class));
    }

    @Command(name = "close-failure", description = "Closes a failed run's mark with a note.")
    void close(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Option(names = "--reason", required = true) String reason) {
      String[] p = parts(at, "fares@production");
      api()
          .post(
              "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/close-failure",
              new Reason(reason),
              RecordView.class);
      out().line("Closed.");
    }

    private void show(RecordView r) {
      if (out().json()) {
        out().document("record", r);
        return;
      }
      out()
          .facts(
              "Site",
              r.application() + "@" + r.site(),
              "Version",
              r.version() == null ? "" : r.version(),
              "Condition",
              out().state(r.condition()),
              "Looked",
              r.lookedAt() == null ? "not looked yet" : out().time(r.lookedAt()),
              "Differs",
              r.drift() < 0
                  ? "not looked yet"
                  : r.drift() == 0 ? "nothing" : r.drift() == 1 ? "1 part" : r.drift() + " parts",
              "Last good",
              r.lastGood() == null ? "" : r.lastGood());
      r.driftExamples().forEach(e -> out().line("  " + e));
    }
  }
}
