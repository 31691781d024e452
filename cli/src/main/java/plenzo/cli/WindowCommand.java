package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.WindowView;

@Command(
    name = "window",
    description = {
      "Hours of the week in which runs may start at a stage, in its time zone; without any they may"
          + " at any time. Going back may always start.",
      "At a stage of production a change waits for a second person."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo window add production --days mon,tue,wed,thu --from 22:00 --until 04:00",
      "  plenzo window remove production 1"
    })
final class WindowCommand extends Group {
  private static List<WindowView> of(StageView s) {
    return s.windows() == null ? List.of() : s.windows();
  }

  @Command(name = "list", description = "Those of a stage, by number.")
  void list(@Parameters(paramLabel = "STAGE") String stage) {
    StageView s = stage(stage);
    out()
        .list(
            "windows",
            of(s),
            List.of("window", "days", "from", "until", "zone"),
            w ->
                List.of(
                    String.valueOf(of(s).indexOf(w) + 1),
                    String.join(", ", w.days()),
                    w.from(),
                    w.until(),
                    s.zone()));
  }

  @Command(name = "add", description = "Lets runs start in these hours too.")
  void add(
      @Parameters(paramLabel = "STAGE") String stage,
      @Option(
              names = "--days",
              split = ",",
              required = true,
              description = "On which it begins: mon,tue,wed,thu,fri,sat,sun.")
          List<String> days,
      @Option(names = "--from", required = true, paramLabel = "HH:MM") String from,
      @Option(
              names = "--until",
              required = true,
              paramLabel = "HH:MM",
              description = "Not after --from it is on the next day.")
          String until) {
    StageView s = stage(stage);
    List<WindowView> next = new ArrayList<>(of(s));
    next.add(new WindowView(days, from, until));
    opened(s, next);
  }

  @Command(name = "remove", description = "Takes one away; without any, runs start at any time.")
  void remove(
      @Parameters(paramLabel = "STAGE") String stage, @Parameters(paramLabel = "WINDOW") int n) {
    StageView s = stage(stage);
    List<WindowView> next = new ArrayList<>(of(s));
    if (n < 1 || n > next.size()) {
      throw Failed.notFound("There is no window " + n + ".", "plenzo window list " + stage);
    }
    next.remove(n - 1);
    opened(s, next);
  }

  private void opened(StageView s, List<WindowView> windows) {
    StageView next =
        saved(
            new StageView(
                s.key(),
                s.name(),
                s.role(),
                s.position(),
                s.zone(),
                s.driftCloses(),
                s.sites(),
                s.revision(),
                s.severities(),
                windows));
    if (out().json()) {
      out().document("stage", next);
      return;
    }
    out()
        .line(
            of(next).isEmpty()
                ? "Runs start at " + s.key() + " at any time."
                : "Runs start at "
                    + s.key()
                    + " "
                    + String.join(
                        "; ",
                        of(next).stream()
                            .map(
                                w ->
                                    String.join(", ", w.days())
                                        + " "
                                        + w.from()
                                        + " to "
                                        + w.until())
                            .toList())
                    + " ("
                    + s.zone()
                    + ").");
  }
}
