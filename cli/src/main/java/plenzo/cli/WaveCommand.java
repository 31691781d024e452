package plenzo.cli;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Runs.RunView;
import plenzo.api.Versions.Reason;
import plenzo.api.Wave.AgreeWaves;
import plenzo.api.Wave.LeaveSite;
import plenzo.api.Wave.PartView;
import plenzo.api.Wave.PrepareWaves;
import plenzo.api.Wave.WavesView;

@Command(
    name = "wave",
    description = "One version to several sites of a stage, wave after wave: one fingerprint.",
    footer = {
      "",
      "Examples:",
      "  plenzo wave prepare fares@2.7.0 --to production --wave north --wave south",
      "  plenzo wave approve W-1 --expect 7c1e-90ab-k3mz",
      "  plenzo wave start W-1 --wait --yes --expect 7c1e-90ab-k3mz"
    })
final class WaveCommand extends Group {
  private static String path(String number) {
    return "/waves/" + Api.encode(number);
  }

  private WavesView get(String number) {
    return api().get(path(number), WavesView.class);
  }

  private static List<PartView> parts(WavesView w) {
    return w.waves().stream().flatMap(List::stream).toList();
  }

  @Command(name = "list", description = "All of them, newest first.")
  void list(@Option(names = "--app") @Nullable String app) {
    out()
        .list(
            "waves",
            api().pages("/waves" + Api.query("application", app), WavesView.class, out().wanted()),
            List.of("waves", "version", "to", "state", "there", "by"),
            w ->
                List.of(
                    w.number(),
                    w.application() + "@" + w.version(),
                    out().site(w.stage(), w.production()),
                    out().state(w.state()),
                    w.there() + " of " + w.sites(),
                    w.preparedBy()));
  }

  @Command(name = "show", description = "How each site stands, wave by wave.")
  int show(@Parameters(paramLabel = "WAVES") String number) {
    return show(settled(number));
  }

  @Command(
      name = "prepare",
      description = "Opens a promotion for every site, and waits for their comparisons.")
  int prepare(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--to", required = true, paramLabel = "STAGE") String stage,
      @Option(
              names = "--wave",
              paramLabel = "SITE[,SITE]",
              description =
                  "Sites that run beside each other, in order; repeatable. Left out: each site of the"
                      + " stage in a wave of its own.")
          @Nullable List<String> waves,
      @Option(
              names = "--between",
              paramLabel = "go-on|word",
              defaultValue = "go-on",
              description =
                  "Whether the next wave begins by itself (the default) or waits for a person's word.")
          String between,
      @Option(
              names = "--minutes",
              defaultValue = "0",
              description = "Minutes that pass before the next wave begins by itself.")
          int minutes,
      @Option(
              names = "--failures",
              defaultValue = "0",
              description = "How many sites may fail before nothing more is begun.")
          int failures,
      @Option(names = "--path", description = "The path by which all go.") @Nullable String by,
      @Option(names = "--notes", defaultValue = "") String notes) {
    String[] v = parts(version, "fares@2.7.0");
    List<List<String>> sites =
        waves == null
            ? null
            : waves.stream()
                .map(
                    w ->
                        Arrays.stream(w.split(","))
                            .map(s -> s.contains("/") ? s.strip() : stage + "/" + s.strip())
                            .toList())
                .toList();
    WavesView w =
        api()
            .post(
                "/waves",
                new PrepareWaves(v[0], v[1], stage, by, sites, between, minutes, failures, notes),
                WavesView.class);
    return show(settled(w.number()));
  }

  /** Once none of its promotions is being compared. */
  private WavesView settled(String number) {
    return waited(number, w -> parts(w).stream().noneMatch(p -> p.state().equals("preparing")));
  }

  private WavesView waited(String number, Predicate<WavesView> done) {
    return until(
        () -> get(number),
        done,
        "The wait limit is over; " + number + " goes on.",
        "plenzo wave show " + number);
  }

  private static String sentence(WavesView w) {
    return "Version "
        + w.version()
        + " of "
        + w.application()
        + " goes to "
        + counted(w.sites(), "site")
        + " of "
        + w.stage()
        + " in "
        + counted(w.waves().size(), "wave")
        + ".";
  }

  @Command(name = "approve", description = "Says yes to exactly these plans, for every site.")
  int approve(
      @Parameters(paramLabel = "WAVES") String number,
      @Option(names = "--comment", defaultValue = "") String comment) {
    WavesView w = settled(number);
    String read = top().expect;
    String fingerprint =
        read != null
            ? read
            : RunText.expected(
                this,
                sentence(w),
                w.stage(),
                /* production= */ true,
                String.valueOf(w.fingerprint()));
    WavesView after =
        api()
            .post(path(number) + "/approve", new AgreeWaves(fingerprint, comment), WavesView.class);
    if (out().json()) {
      out().document("waves", after);
      return 0;
    }
    out()
        .line(
            "Approved "
                + number
                + ", plans "
                + after.fingerprint()
                + ". "
                + (after.closed().isEmpty()
                    ? "It may run: plenzo wave start " + number
                    : "Still open: " + String.join("; ", after.closed())));
    return 0;
  }

  @Command(name = "reject", description = "Says no, with a reason.")
  void reject(
      @Parameters(paramLabel = "WAVES") String number,
      @Option(names = "--reason", required = true) String reason) {
    WavesView w = settled(number);
    String fingerprint = top().expect != null ? top().expect : String.valueOf(w.fingerprint());
    api().post(path(number) + "/reject", new AgreeWaves(fingerprint, reason), WavesView.class);
    out().line("Rejected " + number + ": " + reason);
  }

  @Command(
      name = "start",
      description = "Begins the first wave; the next ones follow as it was agreed.")
  int start(@Parameters(paramLabel = "WAVES") String number) {
    WavesView w = settled(number);
    String lost =
        parts(w).stream()
            .filter(p -> !p.takesAway().isEmpty())
            .map(p -> p.site() + ": " + String.join("; ", p.takesAway()))
            .collect(Collectors.joining(". "));
    String shown = String.valueOf(w.fingerprint());
    String fingerprint =
        lost.isEmpty()
            ? RunText.expected(this, sentence(w), w.stage(), w.production(), shown)
            : RunText.losing(
                this,
                sentence(w) + " Takes away " + lost + ".",
                "application",
                w.application(),
                w.stage(),
                shown);
    return on(
        api().post(path(number) + "/start", new AgreeWaves(fingerprint, null), WavesView.class));
  }

  @Command(name = "go-on", description = "Begins the next wave, where one is waited for.")
  int goOn(@Parameters(paramLabel = "WAVES") String number) {
    return on(api().post(path(number) + "/go-on", null, WavesView.class));
  }

  @Command(
      name = "leave",
      description = "Leaves a site for later, such as one that cannot be reached; it is owed then.",
      footer = {
        "",
        "Examples:",
        "  plenzo wave leave W-1 production/south --reason \"No line to the terminal\""
      })
  int leave(
      @Parameters(paramLabel = "WAVES") String number,
      @Parameters(paramLabel = "STAGE/SITE") String site,
      @Option(names = "--reason", required = true) String reason) {
    return show(api().post(path(number) + "/leave", new LeaveSite(site, reason), WavesView.class));
  }

  @Command(name = "withdraw", description = "Closes it for good, with every promotion.")
  void withdraw(
      @Parameters(paramLabel = "WAVES") String number,
      @Option(names = "--reason", required = true) String reason) {
    api().post(path(number) + "/withdraw", new Reason(reason), WavesView.class);
    out().line(number + " is withdrawn.");
  }

  /** Follows it with --wait, to its end or to where it waits for a person. */
  private int on(WavesView begun) {
    if (!top().wait) {
      out()
          .line(
              begun.number()
                  + " is "
                  + begun.state()
                  + ". Next: plenzo wave show "
                  + begun.number());
      return 0;
    }
    WavesView w = waited(begun.number(), this::rests);
    show(w);
    return exitCode(w);
  }

  private boolean rests(WavesView w) {
    return !w.state().equals("running") && !(w.state().equals("waiting") && w.goesOnAt() != null)
        || paused(
            w,
            run -> api().get("/runs/" + Api.encode(run), RunView.class).state(),
            () -> api().get(path(w.number()), WavesView.class));
  }

  /**
   * Whether what it waits for is a person at one of its runs. A run that pauses for what comes
   * after its site was recorded holds nothing up: so its part is looked at once more.
   */
  static boolean paused(
      WavesView w, Function<String, String> stateOfRun, Supplier<WavesView> again) {
    Set<String> paused =
        running(w).stream()
            .filter(r -> stateOfRun.apply(r).equals("paused"))
            .collect(Collectors.toSet());
    return !paused.isEmpty() && running(again.get()).stream().anyMatch(paused::contains);
  }

  /** The runs of the parts that are running. */
  private static List<String> running(WavesView w) {
    return parts(w).stream()
        .filter(p -> p.state().equals("running"))
        .map(PartView::run)
        .filter(Objects::nonNull)
        .toList();
  }

  private static int exitCode(WavesView w) {
    return switch (w.state()) {
      case "done" -> 0;
      case "stopped" -> Failed.RUN_FAILED;
      default -> Failed.PAUSED;
    };
  }

  private int show(WavesView w) {
    if (out().json()) {
      out().document("waves", w);
      return blocked(w);
    }
    out()
        .facts(
            "Waves",
            w.number(),
            "Version",
            w.application() + "@" + w.version() + " \"" + w.title() + "\"",
            "To",
            out().site(w.stage(), w.production())
                + ", "
                + w.there()
                + " of "
                + w.sites()
                + " sites have it",
            "State",
            out().state(w.state()) + (w.sentence().isEmpty() ? "" : ": " + w.sentence()),
            "Between",
            w.between().equals("word")
                ? "the next wave waits for a person's word"
                : w.minutes() == 0
                    ? "the next wave begins by itself"
                    : "the next wave begins after " + counted(w.minutes(), "minute"),
            "May fail",
            counted(w.failures(), "site"),
            "Prepared",
            "by " + w.preparedBy() + " " + out().time(w.preparedAt()),
            "Fingerprint",
            w.fingerprint() == null ? "" : w.fingerprint());
    out()
        .table(
            List.of(
                "wave",
                "site",
                "instead of",
                "promotion",
                "state",
                "changes",
                "approved by",
                "run"),
            rows(w));
    w.left()
        .forEach(
            l ->
                out()
                    .line(
                        l.site()
                            + " is left for later by "
                            + l.by()
                            + ": "
                            + l.reason()
                            + (l.owed() ? "; it is owed" : "; it has it by now")));
    w.closed().forEach(x -> out().line("Waits for: " + x));
    if (w.state().equals("waiting")) {
      out()
          .line(
              w.goesOnAt() == null
                  ? "The next wave waits for a word: plenzo wave go-on " + w.number()
                  : "The next wave begins "
                      + out().time(w.goesOnAt())
                      + "; now: plenzo wave go-on "
                      + w.number());
    }
    return blocked(w);
  }

  private static int blocked(WavesView w) {
    return parts(w).stream().anyMatch(p -> p.blockers() > 0) ? Failed.STOPPED : 0;
  }

  /** What a site has come to, or how far its promotion is. */
  private static String stateOf(PartView p) {
    return switch (p.came()) {
      case "there" -> "is there";
      case "failed" -> "did not come through";
      default -> p.state();
    };
  }

  private List<List<String>> rows(WavesView w) {
    List<List<String>> rows = new ArrayList<>();
    for (int n = 0; n < w.waves().size(); n++) {
      for (PartView p : w.waves().get(n)) {
        rows.add(
            List.of(
                (n + 1) + (n == w.at() && w.state().equals("running") ? " (now)" : ""),
                out().site(p.site(), w.production()),
                p.present() == null ? "" : p.present(),
                p.promotion(),
                out().state(stateOf(p)),
                PromotionText.changes(p.counts(), p.blockers(), p.risks()),
                String.join(", ", p.approvedBy()),
                p.run() == null ? "" : p.run()));
      }
    }
    return rows;
  }
}
