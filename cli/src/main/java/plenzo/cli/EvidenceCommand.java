package plenzo.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Evidences.EvidenceView;
import plenzo.api.Evidences.ReportView;

@Command(
    name = "evidence",
    description = "Files that show what was tried or done; test reports (JUnit XML) are read.",
    footer = {
      "",
      "Examples:",
      "  plenzo evidence add report.xml --run R-12",
      "  plenzo run judge R-12 --good --reason \"All quotes checked\" --evidence report.xml",
      "  plenzo evidence show E-3"
    })
final class EvidenceCommand extends Group {
  @Command(name = "list", description = "All of it, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--site", paramLabel = "STAGE[/SITE]") @Nullable String site,
      @Option(names = "--run") @Nullable String run) {
    out()
        .list(
            "evidence",
            api()
                .pages(
                    "/evidence"
                        + Api.query(
                            "application",
                            app,
                            "site",
                            site == null ? null : site(site),
                            "run",
                            run),
                    EvidenceView.class,
                    out().wanted()),
            List.of("evidence", "version", "at", "run", "file", "says", "by", "given"),
            e ->
                List.of(
                    e.number(),
                    e.application() + "@" + e.version(),
                    e.site(),
                    e.run(),
                    e.name(),
                    says(e),
                    e.by(),
                    out().time(e.at())));
  }

  private static String says(EvidenceView e) {
    return e.report() == null ? e.about() : e.report().words();
  }

  @Command(name = "add", description = "Gives a file about a run, of 10 MB at most.")
  void add(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--run", required = true) String run,
      @Option(names = "--step", defaultValue = "0", description = "The work by hand that it shows.")
          int step,
      @Option(names = "--about", defaultValue = "", description = "What it shows.") String about) {
    told(give(this, file, run, step, about));
  }

  static EvidenceView give(Group group, Path file, String run, int step, String about) {
    if (!Files.isRegularFile(file)) {
      throw Failed.usage("There is no file " + file + ".");
    }
    return group
        .api()
        .upload(
            "/evidence"
                + Api.query(
                    "run",
                    run,
                    "step",
                    String.valueOf(step),
                    "name",
                    String.valueOf(file.getFileName()),
                    "about",
                    about),
            file,
            "application/octet-stream",
            EvidenceView.class);
  }

  /** Gives every file, and answers with their numbers. */
  static List<String> given(Group group, @Nullable List<Path> files, String run) {
    List<String> out = new ArrayList<>();
    if (files != null) {
      files.forEach(f -> out.add(give(group, f, run, 0, "").number()));
    }
    return out;
  }

  @Command(name = "show", description = "What it is about, and what it says of tests.")
  void show(@Parameters(paramLabel = "EVIDENCE") String number) {
    told(api().get("/evidence/" + Api.encode(number), EvidenceView.class));
  }

  @Command(name = "save", description = "Saves the file.")
  void save(
      @Parameters(paramLabel = "EVIDENCE") String number,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path to) {
    long size = api().save("/evidence/" + Api.encode(number) + "/file", to);
    out().line("Saved " + number + " to " + to + ", " + size + " bytes.");
  }

  private void told(EvidenceView e) {
    if (out().json()) {
      out().document("evidence", e);
      return;
    }
    out()
        .facts(
            "Evidence",
            e.number() + " " + e.name() + ", " + e.bytes() + " bytes",
            "About",
            e.application()
                + "@"
                + e.version()
                + " at "
                + e.site()
                + ", "
                + e.run()
                + (e.step() == 0 ? "" : " step " + e.step()),
            "Shows",
            e.about(),
            "SHA-256",
            e.digest(),
            "Given",
            "by " + e.by() + " " + out().time(e.at()),
            "Tests",
            e.report() == null ? "no test report" : e.report().words());
    ReportView r = e.report();
    if (r != null) {
      out()
          .table(
              List.of("suite", "tests", "failures", "errors", "skipped"),
              r.suites().stream()
                  .map(
                      s ->
                          List.of(
                              s.name(),
                              String.valueOf(s.tests()),
                              String.valueOf(s.failures()),
                              String.valueOf(s.errors()),
                              String.valueOf(s.skipped())))
                  .toList());
      r.failed()
          .forEach(f -> out().line("failed: " + f.suite() + " " + f.test() + ": " + f.message()));
    }
  }
}
