package plenzo.cli;

import static plenzo.cli.RunText.expected;

import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Rollbacks.StartRollback;
import plenzo.api.Rollbacks.Started;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;

@Command(
    name = "rollback",
    description = "Going back, with the loss counted before.",
    footer = {
      "",
      "Examples:",
      "  plenzo rollback ways fares@production",
      "  plenzo rollback start fares@production --way earlier-version --reason \"Undercharges\" --wait --yes --expect 7c1e-90ab-k3mz"
    })
final class RollbackCommand extends Group {
  private Ways ask(String at, @Nullable String version) {
    String[] p = parts(at, "fares@production");
    return api()
        .get(
            "/rollback/ways"
                + Api.query("application", p[0], "site", site(p[1]), "version", version),
            Ways.class);
  }

  @Command(name = "ways", aliases = "preview", description = "The ways back side by side.")
  int ways(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--to", description = "An earlier version than the last good one.")
          @Nullable String version) {
    Ways w = ask(at, version);
    if (out().json()) {
      out().document("ways", w);
      return code(w);
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
    return code(w);
  }

  /** What was not looked at is not known: that is no success. */
  private static int code(Ways w) {
    return w.ways().stream().anyMatch(WayOption::unreachable) ? Failed.NOT_REACHABLE : 0;
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
                    Failed.usage("A way back is earlier-version or backup; got \"" + way + "\"."));
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
                  + Cases.words(s.gates())
                  + ". Next: plenzo promotion show "
                  + s.promotion());
      return Failed.STOPPED;
    }
    if (top().wait) {
      return RunText.watch(this, s.run());
    }
    out().line(s.run() + " is started. Next: plenzo run watch " + s.run());
    return 0;
  }
}
