package plenzo.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Releases.AgreeRelease;
import plenzo.api.Releases.ReleaseCase;
import plenzo.api.Releases.ReleaseMember;
import plenzo.api.Releases.ReleaseView;
import plenzo.api.Releases.SaveRelease;
import plenzo.api.Releases.StartRelease;
import plenzo.api.Releases.TakeRelease;
import plenzo.api.Releases.WithdrawRelease;
import plenzo.api.Runs.RunView;

@Command(
    name = "release",
    description = "Versions of several applications, promoted as one: one fingerprint, in order.",
    footer = {
      "",
      "Examples:",
      "  plenzo release new summer --title \"Summer timetable\" fares@2.7.0 boarding@1.1.0",
      "  plenzo release prepare summer --to test",
      "  plenzo release approve summer --at test --expect 7c1e-90ab-k3mz",
      "  plenzo release start summer --at test --wait"
    })
final class ReleaseCommand extends Group {
  private static String path(String key) {
    return "/releases/" + Api.encode(key);
  }

  private ReleaseView get(String key) {
    return api().get(path(key), ReleaseView.class);
  }

  @Command(name = "list", description = "All releases.")
  void list() {
    out()
        .list(
            "releases",
            api().pages("/releases", ReleaseView.class, out().wanted()),
            List.of("release", "title", "members", "at"),
            r ->
                List.of(
                    r.key(),
                    r.title(),
                    String.join(", ", r.members()),
                    String.join(
                        ", ",
                        r.cases().stream()
                            .map(c -> out().site(c.site(), c.production()) + " " + c.state())
                            .toList())));
  }

  @Command(name = "new", description = "Collects versions under a key.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Parameters(paramLabel = "APPLICATION@NUMBER", arity = "0..*") @Nullable List<String> members,
      @Option(names = "--title", required = true) String title) {
    save(key, title, members == null ? List.of() : members);
  }

  private void save(String key, String title, List<String> members) {
    show(api().put(path(key), new SaveRelease(title, members), ReleaseView.class));
  }

  @Command(name = "add", description = "Adds a version, instead of another of its application.")
  void add(
      @Parameters(paramLabel = "KEY") String key,
      @Parameters(paramLabel = "APPLICATION@NUMBER") String member) {
    ReleaseView r = get(key);
    List<String> members = new ArrayList<>(r.members());
    String application = parts(member, "fares@2.7.0")[0];
    members.removeIf(m -> m.startsWith(application + "@"));
    members.add(member);
    save(key, r.title(), members);
  }

  @Command(name = "remove", description = "Takes an application's version out.")
  void remove(
      @Parameters(paramLabel = "KEY") String key,
      @Parameters(paramLabel = "APPLICATION") String application) {
    ReleaseView r = get(key);
    List<String> members = new ArrayList<>(r.members());
    if (!members.removeIf(m -> m.startsWith(application + "@"))) {
      throw Failed.usage("The release " + key + " has no version of " + application + ".");
    }
    save(key, r.title(), members);
  }

  @Command(name = "record", description = "What its cases used and did, as one document.")
  void record(
      @Parameters(paramLabel = "RELEASE") String key,
      @Option(
              names = "--to",
              paramLabel = "FILE",
              description = "Saved there, as Markdown (.md) or HTML (.html).")
          @Nullable Path to) {
    ReportText.give(this, "/releases/" + Api.encode(key) + "/record", "", to);
  }

  @Command(name = "show", description = "Its members, and how it stands where it was taken.")
  int show(@Parameters(paramLabel = "KEY") String key) {
    return show(settled(key, c -> true));
  }

  /** The release once no member of the cases asked for is being compared. */
  private ReleaseView settled(String key, Predicate<ReleaseCase> asked) {
    return waited(
        key,
        r ->
            r.cases().stream()
                .filter(asked)
                .flatMap(c -> c.members().stream())
                .noneMatch(m -> m.state().equals("preparing")));
  }

  private ReleaseView waited(String key, Predicate<ReleaseView> done) {
    return until(
        () -> get(key),
        done,
        "The wait limit is over; the release " + key + " goes on.",
        "plenzo release show " + key);
  }

  /** How it stands at a site once nothing there is being compared. */
  private ReleaseCase settledAt(String key, String site) {
    return at(settled(key, c -> c.site().equals(site)), site);
  }

  /** The fingerprint to act on, once production's confirmation was given where it is asked for. */
  private static String sentence(String key, ReleaseCase c) {
    return "The release "
        + key
        + " brings "
        + c.members().size()
        + " versions to "
        + c.site()
        + ".";
  }

  /** What is taken away asks for the release's name too, wherever it goes. */
  private String starting(String key, ReleaseCase c) {
    String lost =
        c.members().stream()
            .filter(m -> !m.takesAway().isEmpty())
            .map(m -> m.version() + ": " + String.join("; ", m.takesAway()))
            .collect(Collectors.joining(". "));
    return lost.isEmpty()
        ? agreed(key, c, c.production())
        : RunText.losing(
            this,
            sentence(key, c) + " Takes away " + lost + ".",
            "release",
            key,
            c.site().split("/")[0],
            String.valueOf(c.fingerprint()));
  }

  private String agreed(String key, ReleaseCase c, boolean confirmed) {
    return RunText.expected(
        this, sentence(key, c), c.site().split("/")[0], confirmed, String.valueOf(c.fingerprint()));
  }

  private ReleaseCase at(ReleaseView r, String site) {
    return r.cases().stream()
        .filter(c -> c.site().equals(site))
        .findFirst()
        .orElseThrow(
            () ->
                Failed.notFound(
                    "The release " + r.key() + " was not taken to " + site + ".",
                    "plenzo release prepare " + r.key() + " --to " + site));
  }

  @Command(
      name = "prepare",
      description = "Opens a promotion for every member that the site does not have yet.")
  int prepare(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--to", required = true, paramLabel = "STAGE[/SITE]") String to,
      @Option(
              names = "--path",
              description = "The path by which every member goes, where there are several.")
          @Nullable String by,
      @Option(names = "--notes", defaultValue = "") String notes) {
    String site = site(to);
    api().post(path(key) + "/prepare", new TakeRelease(site, by, notes), ReleaseView.class);
    return show(settled(key, c -> c.site().equals(site)));
  }

  @Command(
      name = "approve",
      description = "Says yes to exactly these plans, for every member that you may approve.")
  int approve(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String where,
      @Option(names = "--comment", defaultValue = "") String comment) {
    String site = site(where);
    ReleaseCase c = settledAt(key, site);
    String fingerprint = agreed(key, c, /* confirmed= */ true);
    api()
        .post(
            path(key) + "/approve",
            new AgreeRelease(site, fingerprint, comment),
            ReleaseView.class);
    ReleaseCase after = settledAt(key, site);
    if (out().json()) {
      out().document("release", get(key));
      return 0;
    }
    out()
        .line(
            "Approved the release "
                + key
                + " at "
                + site
                + ", plans "
                + after.fingerprint()
                + ". "
                + (after.closed().isEmpty()
                    ? "It may run: plenzo release start " + key + " --at " + site
                    : "Still open: " + String.join("; ", after.closed())));
    return 0;
  }

  @Command(name = "reject", description = "Says no, with a reason.")
  void reject(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String where,
      @Option(names = "--reason", required = true) String reason) {
    String site = site(where);
    ReleaseCase c = settledAt(key, site);
    String fingerprint = top().expect != null ? top().expect : String.valueOf(c.fingerprint());
    api()
        .post(
            path(key) + "/reject", new AgreeRelease(site, fingerprint, reason), ReleaseView.class);
    out().line("Rejected the release " + key + " at " + site + ": " + reason);
  }

  @Command(
      name = "start",
      description =
          "Runs one member after the other, what another needs first; stops when one does not come through.")
  int start(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String where) {
    String site = site(where);
    ReleaseCase c = settledAt(key, site);
    String fingerprint = starting(key, c);
    api().post(path(key) + "/start", new StartRelease(site, fingerprint), ReleaseView.class);
    if (!top().wait) {
      out().line("The release " + key + " runs at " + site + ".");
      return 0;
    }
    ReleaseView r = waited(key, x -> !at(x, site).state().equals("running"));
    show(r);
    return exitCode(at(r, site));
  }

  /** That of the member's run which stopped it: a half-written stage needs a person now. */
  private int exitCode(ReleaseCase c) {
    if (c.state().equals("done")) {
      return 0;
    }
    return c.members().stream()
        .filter(m -> !m.state().equals("done"))
        .map(ReleaseMember::run)
        .filter(run -> run != null)
        .map(run -> api().get("/runs/" + Api.encode(run), RunView.class))
        .map(run -> RunText.exitCode(run, this))
        .findFirst()
        .orElse(Failed.STOPPED);
  }

  @Command(name = "withdraw", description = "Closes it at a site, with every member's promotion.")
  void withdraw(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String where,
      @Option(names = "--reason", required = true) String reason) {
    String site = site(where);
    api().post(path(key) + "/withdraw", new WithdrawRelease(site, reason), ReleaseView.class);
    out().line("The release " + key + " is withdrawn at " + site + ".");
  }

  private int show(ReleaseView r) {
    if (out().json()) {
      out().document("release", r);
    } else {
      out()
          .facts(
              "Release",
              r.key() + " \"" + r.title() + "\"",
              "Members",
              String.join(", ", r.members()),
              "Collected",
              "by " + r.by() + " " + out().time(r.at()));
      r.cases().forEach(this::show);
    }
    return r.cases().stream().flatMap(c -> c.members().stream()).anyMatch(m -> m.blockers() > 0)
        ? Failed.STOPPED
        : 0;
  }

  private void show(ReleaseCase c) {
    out().line("");
    out()
        .facts(
            "At",
            out().site(c.site(), c.production()),
            "State",
            out().state(c.state()) + (c.sentence().isEmpty() ? "" : ": " + c.sentence()),
            "Prepared",
            "by " + c.preparedBy() + " " + out().time(c.preparedAt()),
            "Fingerprint",
            c.fingerprint() == null ? "" : c.fingerprint(),
            "There already",
            String.join(", ", c.skipped()));
    out()
        .table(
            List.of(
                "order",
                "version",
                "instead of",
                "promotion",
                "state",
                "changes",
                "approved by",
                "run"),
            row(c));
    c.closed().forEach(x -> out().line("Waits for: " + x));
  }

  private List<List<String>> row(ReleaseCase c) {
    List<List<String>> rows = new ArrayList<>();
    for (ReleaseMember m : c.members()) {
      rows.add(
          List.of(
              String.valueOf(rows.size() + 1),
              m.version(),
              m.present() == null ? "" : m.present(),
              m.promotion(),
              out().state(m.state()),
              PromotionText.changes(m.counts(), m.blockers(), m.risks()),
              String.join(", ", m.approvedBy()),
              m.run() == null ? "" : m.run()));
    }
    return rows;
  }
}
