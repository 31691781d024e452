package plenzo.cli;

import static plenzo.cli.RunText.expected;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Manuals.DoneByHand;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Manuals.TakeOver;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Runs.LogView;
import plenzo.api.Runs.RunLine;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.Start;
import plenzo.api.Sheets.SheetLine;
import plenzo.api.Sheets.SheetView;
import plenzo.api.Tellings.NightView;
import plenzo.api.Versions.Reason;

@Command(
    name = "run",
    description = "Executions of agreed plans.",
    footer = {
      "",
      "Examples:",
      "  plenzo run start P-3 --wait",
      "  plenzo run start P-4 --wait --yes --expect 7c1e-90ab-k3mz",
      "  plenzo run watch R-2",
      "  plenzo run done R-2 3 --note \"Zones 7 to 9 are open to the desk\""
    })
final class RunCommand extends Group {
  @Command(name = "start", description = "Starts a run; returns at once, or watches with --wait.")
  int start(@Parameters(paramLabel = "PROMOTION") String promotion) {
    PromotionView p =
        Cases.settled(this, api().get("/promotions/" + Api.encode(promotion), PromotionView.class));
    String fingerprint = p.plan() == null ? "" : p.plan().fingerprint();
    String sentence =
        "Version "
            + p.goal().version()
            + " of "
            + p.goal().application()
            + " goes to "
            + p.goal().site()
            + ": "
            + DifferenceText.written(p.compared().counts())
            + ".";
    List<String> lost = p.compared().takesAway();
    String expect =
        !lost.isEmpty() && !p.state().equals("running")
            ? RunText.losing(
                this,
                sentence + " Takes away " + String.join("; ", lost) + ".",
                "application",
                p.goal().application(),
                p.goal().site().split("/")[0],
                fingerprint)
            : p.state().equals("agreed")
                ? expected(
                    this,
                    sentence,
                    p.goal().site().split("/")[0],
                    p.goal().production(),
                    fingerprint)
                : top().expect == null ? fingerprint : top().expect;
    RunView run =
        api()
            .post(
                "/promotions/" + Api.encode(promotion) + "/runs",
                new Start(Objects.requireNonNull(expect)),
                RunView.class);
    if (top().wait) {
      return RunText.watch(this, run.number());
    }
    if (out().json()) {
      out().document("run", run);
    } else {
      out()
          .line(
              run.number()
                  + " is "
                  + run.state()
                  + (run.place() > 0 ? ", place " + run.place() : "")
                  + (run.waitsFor() == null ? "" : ", waits for " + run.waitsFor())
                  + ". Next: plenzo run watch "
                  + run.number());
    }
    return 0;
  }

  @Command(name = "list", description = "All runs, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--stage") @Nullable String stage,
      @Option(names = "--promotion") @Nullable String promotion,
      @Option(
              names = "--state",
              paramLabel = "STATE",
              defaultValue = "any",
              description =
                  "open (waiting or at work), one state such as \"half written\", or any (the default).")
          String state) {
    out()
        .list(
            "runs",
            api()
                .pages(
                    "/runs"
                        + Api.query(
                            "application",
                            app,
                            "stage",
                            stage,
                            "promotion",
                            promotion,
                            "state",
                            Listed.wanted(state)),
                    RunLine.class,
                    out().wanted()),
            List.of("run", "promotion", "version", "at", "result", "started", "by"),
            r ->
                List.of(
                    r.number(),
                    r.promotion(),
                    r.application() + "@" + r.version(),
                    out().site(r.site(), r.production()),
                    out().state(r.state()),
                    out().time(r.startedAt()),
                    r.startedBy()));
  }

  @Command(name = "show", description = "One run with its steps; with --wait until it has ended.")
  int show(@Parameters(paramLabel = "RUN") String number) {
    if (top().wait) {
      return RunText.watch(this, number);
    }
    RunText.show(this, api().get(path(number), RunView.class));
    return 0;
  }

  @Command(
      name = "night",
      description =
          "What whoever is woken by a run must know: users in or out, what each target holds, ways on"
              + " and back, who may act and how they are reached.")
  void night(@Parameters(paramLabel = "RUN") String number) {
    NightView n = api().get(path(number) + "/night", NightView.class);
    if (out().json()) {
      out().document("night", n);
      return;
    }
    n.text().lines().forEach(out()::line);
  }

  @Command(
      name = "try",
      description =
          "What a tester reads: what changed in words, work done by hand, what others showed of it.")
  void tryIt(@Parameters(paramLabel = "RUN") String number) {
    RunView r = api().get(path(number), RunView.class);
    if (out().json()) {
      out().document("run", r);
      return;
    }
    TryText.show(this, r);
  }

  @Command(name = "watch", description = "Follows a run to its end; Ctrl-C ends watching only.")
  int watch(@Parameters(paramLabel = "RUN") String number) {
    return RunText.watch(this, number);
  }

  @Command(name = "log", description = "Its log.")
  void log(@Parameters(paramLabel = "RUN") String number) {
    LogView log = api().get(path(number) + "/log", LogView.class);
    if (out().json()) {
      out().document("log", log);
    } else {
      log.lines().forEach(out()::line);
    }
  }

  @Command(
      name = "sheet",
      description = "What stood at its site when it had read it back, component by component.")
  void sheet(@Parameters(paramLabel = "RUN") String number) {
    SheetView s = api().get(path(number) + "/sheet", SheetView.class);
    if (out().json()) {
      out().document("sheet", s);
      return;
    }
    out()
        .line(
            "Read back "
                + out().time(s.at())
                + ": "
                + (s.asPlanned()
                    ? "everything that was looked at is as planned."
                    : "not as planned:"));
    s.odd().forEach(o -> out().line("  ! " + o));
    out()
        .table(
            List.of("component", "planned", "there", "", "on", "last changed", "where"),
            s.lines().stream()
                .map(
                    l ->
                        List.of(
                            l.component(),
                            l.planned(),
                            l.found(),
                            l.asPlanned() ? "as planned" : "not as planned",
                            state(l),
                            l.changed() == null
                                ? ""
                                : out().time(l.changed()) + (l.by() == null ? "" : " by " + l.by()),
                            l.where()))
                .toList());
    if (s.more() > 0) {
      out().line("and " + counted(s.more(), "component") + " more.");
    }
    if (!s.uncarried().isEmpty()) {
      out().line("Stands there and is not carried: " + String.join(", ", s.uncarried()) + ".");
    }
  }

  private static String state(SheetLine l) {
    List<String> out = new ArrayList<>();
    if (l.active() != null) {
      out.add(l.active() ? "on" : "off");
    }
    if (l.visible() != null && !l.visible()) {
      out.add("not visible");
    }
    if (!l.unbound().isEmpty()) {
      out.add("without a value: " + String.join(", ", l.unbound()));
    }
    return String.join(", ", out);
  }

  @Command(
      name = "judge",
      description = "Says good or bad of what the run brought, at the site that it brought it to.",
      footer = {
        "",
        "Examples:",
        "  plenzo run judge R-3 --good --reason \"Fares of 3 crossings checked\"",
        "  plenzo run judge R-3 --bad --reason \"Children pay full price\""
      })
  void judge(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--good") boolean good,
      @Option(names = "--bad") boolean bad,
      @Option(names = "--reason", required = true) String reason,
      @Option(
              names = "--evidence",
              paramLabel = "FILE",
              description = "A file that shows it, such as a test report (JUnit XML); repeatable.")
          @Nullable List<Path> files) {
    RunView r = api().get(path(number), RunView.class);
    VersionText.judge(
        this,
        r.goal().application(),
        r.goal().version(),
        r.goal().site(),
        good,
        bad,
        reason,
        EvidenceCommand.given(this, files, number));
  }

  private static String path(String number) {
    return "/runs/" + Api.encode(number);
  }

  @Command(
      name = "pause",
      description = "Pauses it before its next step; never between targets that switch.")
  void pause(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--reason", required = true) String reason) {
    RunView r = api().post(path(number) + "/pause", new Reason(reason), RunView.class);
    said(r, r.number() + " pauses before its next step. Next: plenzo run show " + r.number());
  }

  @Command(name = "resume", description = "Lets it go on where it was paused.")
  int resume(@Parameters(paramLabel = "RUN") String number) {
    return on(api().post(path(number) + "/resume", null, RunView.class));
  }

  @Command(
      name = "done",
      description = "Says that work by hand is done; the run goes on.",
      footer = {
        "",
        "Examples:",
        "  plenzo run done R-12 9 --note \"Zones 7 to 9 are open to the desk\" --wait"
      })
  int done(
      @Parameters(paramLabel = "RUN") String number,
      @Parameters(paramLabel = "STEP", description = "Its number.") int step,
      @Option(names = "--note", defaultValue = "", description = "What was done.") String note,
      @Option(names = "--evidence", paramLabel = "FILE", description = "A file that shows it.")
          @Nullable Path file) {
    String evidence =
        file == null ? null : EvidenceCommand.give(this, file, number, step, note).number();
    return on(
        api().post(step(number, step) + "/done", new DoneByHand(note, evidence), RunView.class));
  }

  @Command(
      name = "not-done",
      description = {
        "Says that work by hand could not be done.",
        "Before the switch the run stops and nothing is changed; after it the run waits."
      })
  int notDone(
      @Parameters(paramLabel = "RUN") String number,
      @Parameters(paramLabel = "STEP", description = "Its number.") int step,
      @Option(names = "--reason", required = true) String reason) {
    return on(api().post(step(number, step) + "/not-done", new Reason(reason), RunView.class));
  }

  @Command(
      name = "leave-out",
      description = "Lets it go on without work by hand, where the plan allows that.")
  int leaveOut(
      @Parameters(paramLabel = "RUN") String number,
      @Parameters(paramLabel = "STEP", description = "Its number.") int step,
      @Option(names = "--reason", required = true) String reason) {
    return on(api().post(step(number, step) + "/leave-out", new Reason(reason), RunView.class));
  }

  @Command(
      name = "take-over",
      description =
          "Answers for it from now on, or is at a piece of work by hand; both names stay.",
      footer = {
        "",
        "Examples:",
        "  plenzo run take-over R-12 --reason \"Ines goes home\"",
        "  plenzo run take-over R-12 --step 9"
      })
  void takeOver(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--step", description = "A piece of work by hand, by its number.")
          @Nullable Integer step,
      @Option(names = "--reason", description = "Why; for a whole run.") @Nullable String reason) {
    RunView seen = api().get(path(number), RunView.class);
    if (step == null) {
      RunView r =
          api()
              .post(
                  path(number) + "/take-over",
                  new TakeOver(seen.steering().inCharge(), reason),
                  RunView.class);
      said(r, r.steering().inCharge() + " is in charge of " + r.number() + " now.");
      return;
    }
    HandedView was =
        seen.steps().stream()
            .filter(s -> s.number() == step)
            .map(RunStepView::manual)
            .filter(Objects::nonNull)
            .findFirst()
            .orElseThrow(
                () ->
                    Failed.notFound(
                        number + " has no work by hand at step " + step + ".",
                        "plenzo run show " + number));
    RunView r =
        api().post(step(number, step) + "/take", new TakeOver(was.takenBy(), null), RunView.class);
    said(r, "You are at step " + step + " of " + r.number() + ": " + was.asked().title() + ".");
  }

  @Command(
      name = "let-in",
      description = "Lets users in although an answer is not as it should be.")
  int letIn(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--reason", required = true) String reason) {
    return on(api().post(path(number) + "/let-in", new Reason(reason), RunView.class));
  }

  @Command(
      name = "end",
      description = {
        "Ends a paused run where it stands after its switch, with users out.",
        "What is there is read back and recorded, and can be gone back from."
      })
  int end(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--reason", required = true) String reason) {
    return on(api().post(path(number) + "/end", new Reason(reason), RunView.class));
  }

  private static String step(String number, int step) {
    return path(number) + "/steps/" + step;
  }

  /** Watches it on with --wait; else says how it is now. */
  private int on(RunView r) {
    if (top().wait) {
      return RunText.watch(this, r.number());
    }
    said(
        r,
        r.number()
            + " is "
            + r.state()
            + (r.ended()
                ? "."
                : ". Next: plenzo run "
                    + (r.state().equals("paused") ? "show " : "watch ")
                    + r.number()));
    return 0;
  }

  private void said(RunView r, String text) {
    if (out().json()) {
      out().document("run", r);
    } else {
      out().line(text);
    }
  }

  @Command(
      name = "abort",
      description = "Aborts it; the site stays exactly as it was. Not past the point of no return.")
  void abort(
      @Parameters(paramLabel = "RUN") String number,
      @Option(names = "--reason", required = true) String reason) {
    RunView r = api().post(path(number) + "/abort", new Reason(reason), RunView.class);
    out()
        .line(
            r.ended()
                ? r.number() + ": " + r.sentence()
                : r.number() + " is being aborted. Next: plenzo run watch " + number);
  }
}
