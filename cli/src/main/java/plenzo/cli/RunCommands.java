package plenzo.cli;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Rollbacks.StartRollback;
import plenzo.api.Rollbacks.Started;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;
import plenzo.api.Runs.BackupView;
import plenzo.api.Runs.LogView;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.Start;
import plenzo.api.Versions.Reason;

/** Runs, backups, going back. */
final class RunCommands {
  private RunCommands() {}

  static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new Failed(
          130,
          "INTERRUPTED",
          "Watching ended; the run goes on at the server.",
          List.of("plenzo run watch"),
          "");
    }
  }

  /** What production and lost data ask for before going on. */
  static String expected(
      Group group, String what, String stage, boolean production, String fingerprint) {
    Plenzo top = group.top();
    if (top.expect != null && (!production || top.yes)) {
      return top.expect;
    }
    if (!production) {
      return fingerprint;
    }
    if (top.canAsk()) {
      group.out().note(what);
      if (top.ask("To go on, type the stage's name (" + stage + "): ").equals(stage)) {
        return fingerprint;
      }
      throw new Failed(
          Failed.NEEDS_CONFIRMATION, "NOT_CONFIRMED", "Nothing was started.", List.of(), "");
    }
    throw new Failed(
        Failed.NEEDS_CONFIRMATION,
        "NEEDS_CONFIRMATION",
        what + " That needs a confirmation.",
        List.of("Add --yes --expect " + fingerprint),
        "");
  }

  static int exitCode(RunView run, Group group) {
    if (run.state().startsWith("done")) {
      return 0;
    }
    if (run.state().equals("half written")) {
      return Failed.HALF_WRITTEN;
    }
    return run.sentence() != null && run.sentence().startsWith("Aborted")
        ? Failed.ABORTED
        : Failed.RUN_FAILED;
  }

  static int watch(Group group, String number) {
    Out out = group.out();
    long until = System.nanoTime() + group.top().waitLimit * 1_000_000_000L;
    String last = "";
    long said = System.nanoTime();
    while (true) {
      RunView run = group.api().get("/runs/" + Api.encode(number), RunView.class);
      RunStepView at =
          run.steps().stream()
              .filter(s -> s.state().equals("running") || s.state().equals("unknown"))
              .findFirst()
              .orElse(null);
      String now =
          at == null
              ? run.state()
              : "step "
                  + at.number()
                  + " of "
                  + run.steps().size()
                  + ": "
                  + at.name()
                  + (at.state().equals("unknown") ? " (unknown until the target answers)" : "");
      boolean silent = System.nanoTime() - said > 30_000_000_000L;
      if (!run.ended() && (!now.equals(last) || silent)) {
        out.note(
            number
                + " "
                + (silent && now.equals(last) ? "still running, " : "")
                + now
                + ", "
                + elapsed(run)
                + (run.noReturnAt() == null
                    ? ", can be aborted"
                    : ", no return since " + out.time(run.noReturnAt())));
        said = System.nanoTime();
        last = now;
      }
      if (run.ended()) {
        show(group, run);
        return exitCode(run, group);
      }
      if (System.nanoTime() > until) {
        throw new Failed(
            Failed.WAIT_OVER,
            "WAIT_OVER",
            "The wait limit is over; " + number + " goes on.",
            List.of("plenzo run watch " + number),
            "");
      }
      pause(200);
    }
  }

  private static String elapsed(RunView run) {
    Instant from = run.startedAt() == null ? run.queuedAt() : run.startedAt();
    return duration(Duration.between(from, run.endedAt() == null ? Instant.now() : run.endedAt()));
  }

  static String duration(Duration d) {
    return d.toSeconds() < 10
        ? String.format(java.util.Locale.ROOT, "%.1f s", d.toMillis() / 1000.0)
        : d.toMinutes() + ":" + String.format(java.util.Locale.ROOT, "%02d", d.toSecondsPart());
  }

  static void show(Group group, RunView r) {
    Out out = group.out();
    if (out.json()) {
      out.document("run", r);
      return;
    }
    out.facts(
        "Run",
        r.number() + " of " + r.promotion() + (r.rollback() ? " (going back)" : ""),
        "Version",
        r.application()
            + "@"
            + r.version()
            + (r.before() == null ? "" : " instead of " + r.before()),
        "At",
        out.site(r.site(), r.production()),
        "State",
        out.state(r.state()),
        "",
        "",
        "Result",
        r.sentence() == null ? "" : r.sentence(),
        "Started",
        r.startedAt() == null
            ? "waits in line, place " + r.place()
            : out.time(r.startedAt()) + " by " + r.startedBy() + ", took " + elapsed(r),
        "Usually",
        r.usualSeconds() == null
            ? "no estimate: first run"
            : duration(Duration.ofMillis((long) (r.usualSeconds() * 1000))));
    for (RunStepView s : r.steps()) {
      String took =
          s.began() == null || s.ended() == null
              ? ""
              : " " + duration(Duration.between(s.began(), s.ended()));
      out.line(
          "  "
              + s.number()
              + ". "
              + s.name()
              + "  "
              + s.state()
              + took
              + (s.note() == null ? "" : "  " + s.note()));
    }
    if (r.backup() != null) {
      out.line(
          "Backup "
              + r.backup().name()
              + ": "
              + (r.backup().pieces().isEmpty()
                  ? ""
                  : r.backup().pieces().size() == 1
                      ? "1 file or definition, "
                      : r.backup().pieces().size() + " files and definitions, ")
              + r.backup().rows()
              + " rows, "
              + r.backup().proof());
    }
  }

  @Command(
      name = "run",
      description = "Executions of agreed plans.",
      footer = {
        "",
        "Examples:",
        "  plenzo run start P-3 --wait",
        "  plenzo run start P-4 --wait --yes --expect 7c1e-90ab-k3mz",
        "  plenzo run watch R-2"
      })
  static final class Run extends Group {
    @Command(name = "start", description = "Starts a run; returns at once, or watches with --wait.")
    int start(@Parameters(paramLabel = "PROMOTION") String promotion) {
      PromotionView p =
          PromotionCommands.settled(
              this, api().get("/promotions/" + Api.encode(promotion), PromotionView.class));
      String fingerprint = p.plan() == null ? "" : p.plan().fingerprint();
      String sentence =
          "Version "
              + p.version()
              + " of "
              + p.application()
              + " goes to "
              + p.site()
              + ": "
              + p.counts().added()
              + " added, "
              + p.counts().changed()
              + " changed, "
              + p.counts().removed()
              + " removed.";
      String expect =
          p.state().equals("agreed")
              ? expected(this, sentence, p.site().split("/")[0], p.production(), fingerprint)
              : top().expect == null ? fingerprint : top().expect;
      RunView run =
          api()
              .post(
                  "/promotions/" + Api.encode(promotion) + "/runs",
                  new Start(Objects.requireNonNull(expect)),
                  RunView.class);
      if (top().wait) {
        return RunCommands.watch(this, run.number());
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
                    + ". Next: plenzo run watch "
                    + run.number());
      }
      return 0;
    }

    @Command(name = "list", description = "All runs, newest first.")
    void list(
        @Option(names = "--app") @Nullable String app,
        @Option(names = "--stage") @Nullable String stage,
        @Option(names = "--promotion") @Nullable String promotion) {
      out()
          .list(
              "runs",
              api()
                  .list("/runs" + Api.query("application", app, "stage", stage), RunView.class)
                  .stream()
                  .filter(r -> promotion == null || r.promotion().equals(promotion))
                  .toList(),
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

    @Command(name = "show", description = "One run with its steps.")
    void show(@Parameters(paramLabel = "RUN") String number) {
      RunCommands.show(this, api().get("/runs/" + Api.encode(number), RunView.class));
    }

    @Command(name = "watch", description = "Follows a run to its end; Ctrl-C ends watching only.")
    int watch(@Parameters(paramLabel = "RUN") String number) {
      return RunCommands.watch(this, number);
    }

    @Command(name = "log", description = "Its log.")
    void log(@Parameters(paramLabel = "RUN") String number) {
      LogView log = api().get("/runs/" + Api.encode(number) + "/log", LogView.class);
      if (out().json()) {
        out().document("log", log);
      } else {
        log.lines().forEach(out()::line);
      }
    }

    @Command(
        name = "abort",
        description =
            "Aborts it; the site stays exactly as it was. Not past the point of no return.")
    void abort(
        @Parameters(paramLabel = "RUN") String number,
        @Option(names = "--reason", required = true) String reason) {
      RunView r =
          api().post("/runs/" + Api.encode(number) + "/abort", new Reason(reason), RunView.class);
      out()
          .line(
              r.ended()
                  ? r.number() + ": " + r.sentence()
                  : r.number() + " is being aborted. Next: plenzo run watch " + number);
    }
  }

  @Command(
      name = "rollback",
      description = "Going back, with the loss counted before.",
      footer = {
        "",
        "Examples:",
        "  plenzo rollback ways fares@production",
        "  plenzo rollback start fares@production --way earlier-version --reason \"Undercharges\" --wait --yes --expect 7c1e-90ab-k3mz"
      })
  static final class Rollback extends Group {
    private Ways ask(String at, @Nullable String version) {
      String[] p = parts(at, "fares@production");
      return api()
          .get(
              "/rollback/ways"
                  + Api.query("application", p[0], "site", site(p[1]), "version", version),
              Ways.class);
    }

    @Command(name = "ways", aliases = "preview", description = "The ways back side by side.")
    void ways(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Option(names = "--to", description = "An earlier version than the last good one.")
            @Nullable String version) {
      Ways w = ask(at, version);
      if (out().json()) {
        out().document("ways", w);
        return;
      }
      out()
          .line(
              w.application()
                  + "@"
                  + out().site(w.site(), w.production())
                  + " holds "
                  + (w.present() == null ? "nothing" : w.present()));
      for (WayOption o : w.ways()) {
        out().line("");
        out()
            .facts(
                "Way",
                o.way(),
                "Goes to",
                o.version() == null
                    ? ""
                    : o.version() + (o.run() == null ? "" : " (backup of " + o.run() + ")"),
                "Can be used",
                o.possible() ? "yes" : "no: " + o.why(),
                "Changes",
                o.possible()
                    ? o.counts().added()
                        + " added, "
                        + o.counts().changed()
                        + " changed, "
                        + o.counts().removed()
                        + " removed, "
                        + (o.counts().kept() + o.counts().conflict())
                        + " kept"
                    : "",
                "Loses",
                !o.possible()
                    ? ""
                    : o.lost() < 0
                        ? "can't be known"
                        : o.lost() == 0 ? "nothing" : o.lost() + ": " + o.lossSentence(),
                "Approval",
                !o.possible()
                    ? ""
                    : o.covered() ? "covered by " + o.coveredBy() : "needs approval of its own",
                "Fingerprint",
                o.fingerprint() == null ? "" : o.fingerprint());
      }
    }

    @Command(
        name = "save-lost",
        description = "Saves what a way back would lose as CSV: table, key, column, value.")
    void saveLost(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Option(names = "--way", required = true) String way,
        @Option(names = "--to", description = "An earlier version than the last good one.")
            @Nullable String version,
        @Option(names = "--file", required = true) Path file) {
      String[] p = parts(at, "fares@production");
      long bytes =
          api()
              .save(
                  "/rollback/lost"
                      + Api.query(
                          "application", p[0], "site", site(p[1]), "way", way, "version", version),
                  file);
      out().line("Saved in " + file + ", " + bytes + " bytes.");
    }

    @Command(name = "start", description = "Goes back. Always names the way; there is no default.")
    int start(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Option(names = "--way", required = true, description = "earlier-version or backup.")
            String way,
        @Option(names = "--to", description = "An earlier version than the last good one.")
            @Nullable String version,
        @Option(names = "--reason", required = true) String reason) {
      String[] p = parts(at, "fares@production");
      Ways w = ask(at, version);
      WayOption o =
          w.ways().stream()
              .filter(x -> x.way().equals(way))
              .findFirst()
              .orElseThrow(
                  () ->
                      Failed.usage(
                          "A way back is earlier-version or backup; got \"" + way + "\"."));
      if (!o.possible()) {
        throw new Failed(
            Failed.STOPPED,
            "NO_WAY_BACK",
            "The way " + way + " cannot be used: " + o.why(),
            List.of("plenzo rollback ways " + at),
            "");
      }
      String expect =
          expected(
              this,
              p[0] + " at " + w.site() + " goes back to " + o.version() + ". " + o.lossSentence(),
              w.site().split("/")[0],
              w.production(),
              Objects.requireNonNull(o.fingerprint()));
      Started s =
          api()
              .post(
                  "/rollback",
                  new StartRollback(p[0], w.site(), way, version, reason, expect, top().confirm),
                  Started.class);
      if (s.run() == null) {
        out()
            .line(
                s.promotion()
                    + " is prepared and waits for: "
                    + PromotionCommands.words(s.gates())
                    + ". Next: plenzo promotion show "
                    + s.promotion());
        return Failed.STOPPED;
      }
      if (top().wait) {
        return RunCommands.watch(this, s.run());
      }
      out().line(s.run() + " is started. Next: plenzo run watch " + s.run());
      return 0;
    }
  }

  @Command(
      name = "backup",
      description = "Copies taken before runs.",
      footer = {
        "",
        "Examples:",
        "  plenzo backup list --app fares",
        "  plenzo rollback ways fares@production/north"
      })
  static final class Backup extends Group {
    @Command(name = "list", description = "All backups, newest first.")
    void list(@Option(names = "--app") @Nullable String app) {
      out()
          .list(
              "backups",
              api().list("/backups" + Api.query("application", app), BackupView.class),
              List.of("backup", "run", "site", "rows", "bytes", "proof"),
              b ->
                  List.of(
                      b.name(),
                      b.run(),
                      b.site(),
                      String.valueOf(b.rows()),
                      String.valueOf(b.bytes()),
                      b.proof()));
    }
  }
}
