package plenzo.cli;

import static plenzo.cli.RunText.expected;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Rollbacks.BringInSaved;
import plenzo.api.Rollbacks.BroughtIn;
import plenzo.api.Rollbacks.ObstacleView;
import plenzo.api.Rollbacks.OfferView;
import plenzo.api.Rollbacks.SiteStarted;
import plenzo.api.Rollbacks.SiteWays;
import plenzo.api.Rollbacks.StageWay;
import plenzo.api.Rollbacks.StageWays;
import plenzo.api.Rollbacks.StartRollback;
import plenzo.api.Rollbacks.StartStageRollback;
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
      "  plenzo rollback ways fares@production --leave records/fares.concession",
      "  plenzo rollback ways fares@production --remove records/fares.concession:FAMILY",
      "  plenzo rollback bring-in fares@production --file lost.csv",
      "  plenzo rollback start fares@production --way earlier-version --reason \"Undercharges\" --wait --yes --expect 7c1e-90ab-k3mz"
    })
final class RollbackCommand extends Group {
  private static final String IN_USE = "#in-use";

  /** What becomes of what the version being left brought and something else uses by now. */
  static final class Choices {
    @Option(
        names = "--leave",
        paramLabel = "PLACE",
        description =
            "Leaves there what is used: records/fares.concession, one row of it as"
                + " records/fares.concession:KEY; or a part of a structure as it is, such as"
                + " table/fares.booking#column/note.")
    @Nullable List<String> leave;

    @Option(
        names = "--remove",
        paramLabel = "PLACE",
        description = "Removes what is used, with what hangs on it; counted as loss.")
    @Nullable List<String> remove;

    @Option(
        names = "--keep",
        paramLabel = "PLACE",
        description = "Keeps what people changed since.")
    @Nullable List<String> keep;

    @Option(
        names = "--take",
        paramLabel = "PLACE",
        description =
            "Takes what the earlier version had, over what people changed since or what does not"
                + " fit it; loss.")
    @Nullable List<String> take;

    Map<String, String> all() {
      Map<String, String> out = new LinkedHashMap<>();
      add(out, leave, IN_USE, "keep");
      add(out, remove, IN_USE, "take-incoming");
      add(out, keep, "", "keep");
      add(out, take, "", "take-incoming");
      return out;
    }

    private static void add(
        Map<String, String> to, @Nullable List<String> places, String all, String choice) {
      for (String place : places == null ? List.<String>of() : places) {
        String other = to.put(place(place, all), choice);
        if (other != null && !other.equals(choice)) {
          throw Failed.usage("Two choices for " + place + ".");
        }
      }
    }

    /**
     * As the service knows it: all of a component, one row of it, or as it is.
     *
     * @param all behind a component, for all of it
     */
    static String place(String text, String all) {
      if (text.contains("#")) {
        return text;
      }
      int colon = text.indexOf(':');
      return colon < 0
          ? text + all
          : text.substring(0, colon)
              + "#row/"
              + Arrays.stream(text.substring(colon + 1).split(",", -1))
                  .map(v -> '"' + v.replace("\"", "\"\"") + '"')
                  .collect(Collectors.joining(","));
    }

    /** "&choice=PLACE=keep" for each. */
    String query() {
      StringBuilder out = new StringBuilder();
      all().forEach((at, c) -> out.append("&choice=").append(Api.encode(at + "=" + c)));
      return out.toString();
    }
  }

  /** All sites of the stage that a version came to, instead of one. */
  static final class EverySite {
    @Option(
        names = "--every-site",
        required = true,
        description =
            "At every site of the stage that the version came to; others stay as they are.")
    boolean every;

    @Option(
        names = "--leaving",
        paramLabel = "NUMBER",
        description = "The version that is left; by default the newest that came to the stage.")
    @Nullable String leaving;
  }

  private StageWays askAll(String at, EverySite every, @Nullable String version, Choices choices) {
    String[] p = parts(at, "fares@production");
    return api()
        .get(
            "/rollback/sites"
                + Api.query(
                    "application",
                    p[0],
                    "stage",
                    p[1],
                    "leaving",
                    every.leaving,
                    "version",
                    version)
                + choices.query(),
            StageWays.class);
  }

  private Ways ask(String at, @Nullable String version, Choices choices) {
    String[] p = parts(at, "fares@production");
    String site = site(p[1]);
    return Telling.work(
        this,
        "rollback/" + p[0] + "@" + site,
        api ->
            api.get(
                "/rollback/ways"
                    + Api.query("application", p[0], "site", site, "version", version)
                    + choices.query(),
                Ways.class));
  }

  /** What is in the way, row by row where it is few, with the options that remove it. */
  private void obstacle(ObstacleView o) {
    out().line("  " + o.sentence());
    boolean used = o.at().contains("#");
    String component = o.at().replaceFirst(IN_USE + "$", "");
    for (OfferView offer : o.offers()) {
      boolean chosen = offer.choice().equals(o.chosen());
      out()
          .line(
              "    "
                  + (chosen ? "chosen: " : "")
                  + offer.words()
                  + " ("
                  + loses(offer.loses())
                  + "): "
                  + option(offer.choice(), o.at())
                  + " "
                  + component);
    }
    if (o.count() > 1 || o.chosen() == null || !used) {
      o.rows()
          .forEach(
              r ->
                  out()
                      .line(
                          "    "
                              + component
                              + ":"
                              + r.key()
                              + (used ? ", used by " : ", ")
                              + r.usedBy()
                              + (r.chosen() == null ? "" : done(r.chosen(), used))));
    }
    if (o.count() > o.rows().size() && !o.rows().isEmpty()) {
      out().line("    and " + (o.count() - o.rows().size()) + " more");
    }
  }

  @Command(
      name = "ways",
      aliases = "preview",
      description = "The ways back side by side.",
      footer = {"", "Examples:", "  plenzo rollback ways fares@production --every-site"})
  int ways(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--to", description = "An earlier version than the last good one.")
          @Nullable String version,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable EverySite every,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable Choices choices) {
    if (every != null) {
      return stageWays(askAll(at, every, version, or(choices)));
    }
    Ways w = ask(at, version, or(choices));
    if (out().json()) {
      out().document("ways", w);
      return code(w.ways());
    }
    out()
        .line(
            w.application()
                + "@"
                + out().site(w.site(), w.production())
                + " holds "
                + (w.present() == null ? "nothing" : w.present()));
    w.ways().forEach(this::way);
    return code(w.ways());
  }

  private int stageWays(StageWays w) {
    if (out().json()) {
      out().document("stage-ways", w);
    } else {
      out()
          .line(
              w.application()
                  + "@"
                  + out().site(w.stage(), w.production())
                  + " leaves "
                  + (w.leaving() == null ? "nothing" : w.leaving()));
      for (SiteWays s : w.sites()) {
        out().line("");
        out()
            .line(
                out().site(s.site(), w.production())
                    + " holds "
                    + (s.present() == null ? "nothing" : s.present())
                    + (s.leaves() ? "" : ", and stays as it is"));
        s.ways().forEach(this::way);
      }
      for (StageWay all : w.ways()) {
        out().line("");
        out()
            .facts(
                "Everywhere by",
                all.way(),
                "Can be used",
                all.possible() ? "yes" : "no: " + all.why(),
                "Loses",
                !all.possible() ? "" : lost(all.lost(), "rows or values"),
                "Approval",
                !all.possible() ? "" : all.covered() ? "covered" : "needs approval of its own",
                "Fingerprint",
                all.fingerprint() == null ? "" : all.fingerprint());
      }
    }
    return code(w.sites().stream().flatMap(s -> s.ways().stream()).toList());
  }

  private static String lost(long n, String what) {
    return n < 0 ? "can't be known" : n == 0 ? "nothing" : n + " " + what;
  }

  private void way(WayOption o) {
    out().line("");
    out()
        .facts(
            "Way",
            o.way(),
            "Goes to",
            o.version() == null ? "" : to(o),
            "Can be used",
            o.possible() ? "yes" : "no: " + o.why(),
            "Changes",
            o.possible()
                ? DifferenceText.written(o.counts())
                    + ", "
                    + (o.counts().kept() + o.counts().conflict())
                    + " kept"
                : "",
            "Writes",
            o.possible() ? written(o.writes()) : "",
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
    if (o.possible()) {
      touched(o);
    }
    o.gives().forEach(g -> out().line("  " + GivesText.of(g)));
    o.obstacles().forEach(this::obstacle);
  }

  /** Components named of a way, so that what it loses stays in sight. */
  private static final int NAMED = 20;

  private void touched(WayOption o) {
    o.touched().stream()
        .limit(NAMED)
        .forEach(t -> out().line("  " + t.component() + ": " + DifferenceText.written(t)));
    int others = Math.max(0, o.touched().size() - NAMED) + o.more();
    if (others > 0) {
      out().line("  and " + others + " more");
    }
  }

  /** Where a way leads. */
  private static String to(WayOption o) {
    if (o.way().equals("earlier-values")) {
      return "the values of before " + o.run() + ", " + o.version() + " stays";
    }
    return o.version() + (o.run() == null ? "" : " (backup of " + o.run() + ")");
  }

  private static String written(List<String> writes) {
    return writes.isEmpty()
        ? "nothing"
        : writes.size() == 1 ? "the " + writes.get(0) + " alone" : String.join(", ", writes);
  }

  private static String loses(long n) {
    return n < 0
        ? "loses what is said above"
        : n == 0 ? "loses nothing" : "loses " + n + (n == 1 ? " row or value" : " rows or values");
  }

  /** What is used is left or removed, a part of a structure is left or taken. */
  private static String option(String choice, String at) {
    boolean keep = choice.equals("keep");
    return keep
        ? (at.contains("#") ? "--leave" : "--keep")
        : at.endsWith(IN_USE) ? "--remove" : "--take";
  }

  private static String done(String choice, boolean used) {
    boolean keep = choice.equals("keep");
    return used ? (keep ? ": is left" : ": is removed") : keep ? ": is kept" : ": is taken back";
  }

  private static Choices or(@Nullable Choices given) {
    return given == null ? new Choices() : given;
  }

  /** What was not looked at is not known: that is no success. */
  private static int code(List<WayOption> ways) {
    return ways.stream().anyMatch(WayOption::unreachable) ? Failed.NOT_REACHABLE : 0;
  }

  @Command(
      name = "save-lost",
      description = "Saves what a way back would lose as CSV: table, key, column, value.")
  void saveLost(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--way", required = true) String way,
      @Option(names = "--to", description = "An earlier version than the last good one.")
          @Nullable String version,
      @Option(names = "--file", required = true) Path file,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable Choices choices) {
    String[] p = parts(at, "fares@production");
    long bytes =
        api()
            .save(
                "/rollback/lost"
                    + Api.query(
                        "application", p[0], "site", site(p[1]), "way", way, "version", version)
                    + or(choices).query(),
                file);
    out().line("Saved in " + file + ", " + bytes + " bytes.");
    long named = named(file);
    if (named > 0) {
      out()
          .line(
              (named == 1
                      ? "1 value is too long for it and stands"
                      : named + " values are too long for it and stand")
                  + " in it by size and digest alone: the backup that the way back takes holds "
                  + (named == 1 ? "it." : "them."));
    }
  }

  /** A value of a line that is told by its size and digest, as the service writes it. */
  private static final Pattern LONG =
      Pattern.compile("\"\\(a long value of [0-9.]+ MB, SHA-256 [0-9a-f]{12}…\\)\"$");

  private static long named(Path file) {
    try (Stream<String> lines = Files.lines(file)) {
      return lines.filter(l -> LONG.matcher(l).find()).count();
    } catch (IOException | UncheckedIOException e) {
      throw Failed.usage("The file " + file + " could not be read again: " + e.getMessage() + ".");
    }
  }

  @Command(
      name = "bring-in",
      description = {
        "Opens a plan that brings in again what was saved before it was lost, where it fits.",
        "Take lines out of the file for rows that are to stay away."
      })
  void bringIn(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--file", required = true, description = "As save-lost wrote it.") Path file,
      @Option(names = "--notes", defaultValue = "") String notes) {
    String[] p = parts(at, "fares@production");
    String lines;
    try {
      lines = Files.readString(file);
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " cannot be read.");
    }
    BroughtIn b =
        api()
            .post(
                "/rollback/bring-in",
                new BringInSaved(p[0], site(p[1]), lines, notes),
                BroughtIn.class);
    b.notTaken().forEach(n -> out().note("Not taken: " + n));
    out().line(b.promotion() + " is prepared. Next: plenzo promotion show " + b.promotion());
  }

  @Command(name = "start", description = "Goes back. Always names the way; there is no default.")
  int start(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(
              names = "--way",
              required = true,
              description = "earlier-version, backup, or earlier-values where values came last.")
          String way,
      @Option(names = "--to", description = "An earlier version than the last good one.")
          @Nullable String version,
      @Option(names = "--reason", required = true) String reason,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable EverySite every,
      @ArgGroup(exclusive = false, multiplicity = "0..1") @Nullable Choices choices) {
    String[] p = parts(at, "fares@production");
    if (every != null) {
      return startAll(at, every, way, version, reason, or(choices));
    }
    // what was seen is named by its fingerprint, and the service holds it against what is there:
    // nobody waits for the ways side by side once more
    boolean seen = top().expect != null && top().yes;
    Seen to = seen ? new Seen(site(p[1]), top().expect) : seen(p[0], at, way, version, choices);
    Started s =
        Telling.work(
            this,
            "rollback/" + p[0] + "@" + to.site(),
            api ->
                api.post(
                    "/rollback",
                    new StartRollback(
                        p[0],
                        to.site(),
                        way,
                        version,
                        reason,
                        to.fingerprint(),
                        top().confirm,
                        or(choices).all()),
                    Started.class));
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

  /** Where to go back, and the plan that was seen. */
  private record Seen(String site, String fingerprint) {}

  private Seen seen(
      String application,
      String at,
      String way,
      @Nullable String version,
      @Nullable Choices choices) {
    Ways w = ask(at, version, or(choices));
    WayOption o =
        w.ways().stream()
            .filter(x -> x.way().equals(way))
            .findFirst()
            .orElseThrow(() -> noSuchWay(way, w.ways().stream().map(WayOption::way)));
    requireOpen(way, o.why(), at);
    return new Seen(
        w.site(),
        expected(
            this,
            application + " at " + w.site() + " goes back to " + to(o) + ". " + o.lossSentence(),
            w.site().split("/")[0],
            w.production(),
            Objects.requireNonNull(o.fingerprint())));
  }

  private static Failed noSuchWay(String asked, Stream<String> ways) {
    return Failed.usage(
        "The ways back there are "
            + ways.collect(Collectors.joining(", "))
            + "; got \""
            + asked
            + "\".");
  }

  /**
   * @param why why it cannot be used; empty when it can
   */
  private static void requireOpen(String way, String why, String at) {
    if (!why.isEmpty()) {
      throw new Failed(
          Failed.STOPPED,
          "NO_WAY_BACK",
          "The way " + way + " cannot be used: " + why,
          List.of("plenzo rollback ways " + at),
          "");
    }
  }

  private int startAll(
      String at,
      EverySite every,
      String way,
      @Nullable String version,
      String reason,
      Choices choices) {
    StageWays w = askAll(at, every, version, choices);
    StageWay all =
        w.ways().stream()
            .filter(x -> x.way().equals(way))
            .findFirst()
            .orElseThrow(() -> noSuchWay(way, w.ways().stream().map(StageWay::way)));
    requireOpen(way, all.why(), at + " --every-site");
    String sites =
        w.sites().stream()
            .filter(SiteWays::leaves)
            .map(SiteWays::site)
            .collect(Collectors.joining(", "));
    String expect =
        expected(
            this,
            w.application()
                + " goes back from "
                + w.leaving()
                + " at "
                + sites
                + "; loses "
                + lost(all.lost(), "rows or values")
                + ".",
            w.stage(),
            w.production(),
            Objects.requireNonNull(all.fingerprint()));
    List<SiteStarted> done =
        Arrays.asList(
            api()
                .post(
                    "/rollback/sites",
                    new StartStageRollback(
                        w.application(),
                        w.stage(),
                        w.leaving(),
                        way,
                        version,
                        reason,
                        expect,
                        top().confirm,
                        choices.all()),
                    SiteStarted[].class));
    int code = 0;
    for (SiteStarted s : done) {
      int one = started(s);
      code = code == 0 ? one : code;
    }
    return code;
  }

  /** How it goes on at one site. */
  private int started(SiteStarted s) {
    if (s.run() != null && top().wait) {
      return RunText.watch(this, s.run());
    }
    String next =
        s.run() != null
            ? s.run() + " is started. Next: plenzo run watch " + s.run()
            : s.promotion() == null
                ? s.problem()
                : s.promotion()
                    + (s.problem().isEmpty()
                        ? " waits for: " + Cases.words(s.gates())
                        : " is not started: " + s.problem())
                    + ". Next: plenzo promotion show "
                    + s.promotion();
    out().line(s.site() + ": " + next);
    return s.run() != null ? 0 : Failed.STOPPED;
  }
}
