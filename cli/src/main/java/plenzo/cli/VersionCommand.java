package plenzo.cli;

import static plenzo.cli.VersionText.ENTRY_HEADS;
import static plenzo.cli.VersionText.SHOWN;
import static plenzo.cli.VersionText.components;

import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.RowPage;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.FateView;
import plenzo.api.Versions.Reason;
import plenzo.api.Versions.VersionView;

@Command(
    name = "version",
    description = "Sealed versions.",
    footer = {
      "",
      "Examples:",
      "  plenzo version list fares",
      "  plenzo version verdict fares@2.4.0 --site test --good --reason \"Fares of 3 crossings checked\""
    })
final class VersionCommand extends Group {
  @Command(name = "list", description = "All versions of an application, newest first.")
  void list(@Parameters(paramLabel = "APPLICATION") String app) {
    out()
        .list(
            "versions",
            api()
                .pages(
                    "/versions" + Api.query("application", app), VersionView.class, out().wanted()),
            List.of("version", "from", "title", "author", "sealed", "present at"),
            v ->
                List.of(
                    v.application() + "@" + v.number(),
                    v.parent() == null ? "" : v.parent(),
                    v.title() + (v.withdrawn() ? " (withdrawn)" : ""),
                    v.author(),
                    out().time(v.sealedAt()),
                    String.join(
                        ", ",
                        v.presentAt().stream()
                            .map(p -> p.site() + (p.verdict() == null ? "" : " " + p.verdict()))
                            .toList())));
  }

  @Command(name = "compare", description = "What changed from one version to another.")
  int compare(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Parameters(paramLabel = "NUMBER", description = "The later version.") String to,
      @Option(names = "--rows", defaultValue = "20", description = "Rows of each component.")
          int rows,
      @Option(names = "--fail-on-difference", description = "Exit code 14 when something differs.")
          boolean fail) {
    String[] p = parts(version, "fares@2.4.0");
    String path =
        "/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/compare/" + Api.encode(to);
    List<ComponentChange> all = api().list(path, ComponentChange.class);
    if (out().json()) {
      out().document("version-comparison", all);
    } else {
      if (all.isEmpty()) {
        out().line(p[0] + " " + p[1] + " and " + to + " hold the same.");
      }
      for (ComponentChange c : all) {
        DifferenceText.component(out(), c);
        if (c.key().startsWith("records/")) {
          RowPage page = api().get(path + "/rows" + Api.query("component", c.key()), RowPage.class);
          page.items().stream().limit(rows).forEach(r -> DifferenceText.row(out(), r));
          if (page.total() > rows) {
            out().line("  … " + (page.total() - rows) + " more, use --rows");
          }
        }
      }
    }
    return fail && !all.isEmpty() ? Failed.DIFFERENT : 0;
  }

  /** One thing that became of it. */
  private void fate(FateView f) {
    String words =
        switch (f.what()) {
          case "came" -> "came to " + f.site();
          case "left" -> "left " + f.site() + " for";
          case "judged-good" -> "judged good at " + f.site() + ":";
          case "judged-bad" -> "judged bad at " + f.site() + ":";
          case "withdrawn" -> "withdrawn:";
          default -> f.what() + " from";
        };
    out().line(out().time(f.at()) + " " + words + " " + f.text() + ", " + f.by());
  }

  @Command(name = "show", description = "One version.")
  void show(@Parameters(paramLabel = "APPLICATION@NUMBER") String version) {
    String[] p = parts(version, "fares@2.4.0");
    VersionView v =
        api().get("/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]), VersionView.class);
    if (out().json()) {
      out().document("version", v);
      return;
    }
    out()
        .facts(
            "Version",
            version,
            "Title",
            v.title(),
            "Notes",
            v.notes(),
            "Tasks",
            String.join(", ", v.tasks()),
            "Needs",
            String.join(", ", v.needs()),
            "Drafted from",
            v.parent() == null ? "nothing: adopted" : v.parent(),
            "Author",
            v.author(),
            "Written by",
            writers(v),
            "Sealed",
            out().time(v.sealedAt()),
            "Digest",
            v.digest(),
            "Carries",
            v.coverage().isEmpty()
                ? "how much of its source is not known"
                : String.join("\n", v.coverage()),
            "From",
            v.source(),
            "State",
            v.withdrawn() ? out().state("withdrawn") : "",
            "At",
            v.presentAt().isEmpty()
                ? "nowhere now"
                : v.presentAt().stream()
                    .map(
                        at ->
                            at.site()
                                + (at.verdict() == null
                                    ? ", not judged yet"
                                    : ", judged " + at.verdict()))
                    .collect(Collectors.joining("; ")),
            "Holds",
            counted(v.kinds()));
    out().line("");
    EntryPage first = api().get(components(version) + "?limit=" + SHOWN, EntryPage.class);
    out().table(ENTRY_HEADS, first.items().stream().map(VersionText::entry).toList());
    if (first.next() != null) {
      out()
          .note(
              SHOWN
                  + " of "
                  + first.total()
                  + " components; all of them: plenzo component list "
                  + version
                  + " --all");
    }
    api()
        .list("/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/fate", FateView.class)
        .forEach(this::fate);
    v.removals().forEach(r -> out().line("takes away " + r));
    ByHand.steps(out(), v.manual());
    v.order().forEach(o -> out().line("moved by hand: " + o));
  }

  @Command(
      name = "verdict",
      description =
          "Says good or bad of a version at a site. Bad holds every open promotion of it.")
  void verdict(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--site", required = true) String site,
      @Option(names = "--good") boolean good,
      @Option(names = "--bad") boolean bad,
      @Option(names = "--reason", required = true) String reason,
      @Option(
              names = "--evidence",
              paramLabel = "EVIDENCE",
              description = "A file that was given and shows it, such as E-3; repeatable.")
          @Nullable List<String> evidence) {
    String[] p = parts(version, "fares@2.4.0");
    VersionText.judge(
        this, p[0], p[1], site(site), good, bad, reason, evidence == null ? List.of() : evidence);
  }

  @Command(
      name = "withdraw",
      description = "It can no longer be promoted, but still serves for going back.")
  void withdraw(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--reason", required = true) String reason) {
    String[] p = parts(version, "fares@2.4.0");
    api()
        .post(
            "/versions/" + Api.encode(p[0]) + "/" + Api.encode(p[1]) + "/withdraw",
            new Reason(reason),
            VersionView.class);
    out().line(version + " is withdrawn.");
  }

  /** Authors of the commits, and who of them is nobody that is known here. */
  private static String writers(VersionView v) {
    return v.writtenBy().stream()
            .map(
                w ->
                    w.author()
                        + (w.person() == null
                            ? ", whom nobody here is known to be"
                            : " = " + w.person()))
            .collect(Collectors.joining("; "))
        + (v.writtenWhole() ? "" : "; and of commits that were too many to look at");
  }
}
