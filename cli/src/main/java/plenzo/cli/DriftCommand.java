package plenzo.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.Reason;

@Command(
    name = "drift",
    description = "What a site holds that differs from what is recorded there.",
    footer = {
      "",
      "Examples:",
      "  plenzo drift look fares@production/north --fail-on-difference",
      "  plenzo drift show fares@production/north"
    })
final class DriftCommand extends Group {
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
    if (!r.reachable()) {
      return Failed.NOT_REACHABLE;
    }
    return fail && (r.drift() > 0 || r.older() != null) ? Failed.DIFFERENT : 0;
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

  /** What differs, and never "nothing" of a site that could not be asked. */
  private static String differs(RecordView r) {
    String known =
        r.drift() < 0 ? "" : r.drift() == 0 ? "nothing" : counted(r.drift(), "part or row");
    if (!r.reachable()) {
      return "not known now: the site is not reachable"
          + (known.isEmpty() ? "" : " (" + known + " at the last look)");
    }
    return known.isEmpty() ? "not looked yet" : known.replace("part or rows", "parts or rows");
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
            differs(r),
            "Last good",
            r.lastGood() == null ? "" : r.lastGood());
    if (r.older() != null) {
      out()
          .line(
              "The site was changed by "
                  + r.older()
                  + ", which the records do not know: they are older than it. Next: plenzo server"
                  + " newer");
    }
    if (r.closedBy() != null) {
      out().line("Only operators are let in, since " + r.closedBy() + ".");
    }
    r.driftExamples().forEach(e -> out().line("  " + e));
    if (!r.exceptions().isEmpty()) {
      out().line("Kept or left there on purpose:");
      r.exceptions().forEach(e -> out().line("  " + e));
    }
  }
}
