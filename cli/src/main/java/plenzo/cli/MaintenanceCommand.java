package plenzo.cli;

import static plenzo.cli.SitePaths.sitePath;

import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.MaintenanceWish;
import plenzo.api.Stages.WorkView;

@Command(
    name = "maintenance",
    description = "Whether a site lets only its operators in.",
    footer = {
      "",
      "Examples:",
      "  plenzo maintenance show production/north",
      "  plenzo maintenance off production/north --reason \"Checked by hand\""
    })
final class MaintenanceCommand extends Group {
  @Command(name = "show", description = "Maintenance, people signed in, running work.")
  void show(@Parameters(paramLabel = "STAGE/SITE") String site) {
    told(site, api().get(sitePath(this, site) + "/work", WorkView.class));
  }

  @Command(name = "on", description = "Lets only operators in.")
  void on(
      @Parameters(paramLabel = "STAGE/SITE") String site,
      @Option(names = "--reason", required = true) String reason) {
    told(site, change(site, true, reason));
  }

  @Command(name = "off", description = "Lets everybody in again.")
  void off(
      @Parameters(paramLabel = "STAGE/SITE") String site,
      @Option(names = "--reason", required = true) String reason) {
    told(site, change(site, false, reason));
  }

  private WorkView change(String site, boolean on, String reason) {
    return api()
        .post(
            sitePath(this, site) + "/maintenance", new MaintenanceWish(on, reason), WorkView.class);
  }

  private void told(String site, WorkView w) {
    if (out().json()) {
      out().document("work", w);
      return;
    }
    int running = w.running().size() + w.others();
    out()
        .line(
            site(site)
                + (w.maintenance() ? " lets only operators in. " : " is open. ")
                + (w.people() == 1 ? "1 person is" : w.people() + " people are")
                + " signed in, "
                + (running == 1 ? "1 piece of work runs" : running + " pieces of work run")
                + (w.others() == 0 ? "." : ", " + w.others() + " of them not shown to you."));
    w.running()
        .forEach(i -> out().line("  " + i.what() + " of " + i.person() + " in " + i.component()));
  }
}
