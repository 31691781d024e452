package plenzo.cli;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.Bind;
import plenzo.api.Stages.InputView;
import plenzo.api.Stages.MaintenanceWish;
import plenzo.api.Stages.NeedView;
import plenzo.api.Stages.SwitchOn;
import plenzo.api.Stages.Unbind;
import plenzo.api.Stages.WorkView;

/** Bindings, maintenance, and what is off at a site. */
final class SiteCommands {
  private SiteCommands() {}

  private static String sitePath(Group group, String site) {
    String[] at = group.site(site).split("/", 2);
    return "/sites/" + Api.encode(at[0]) + "/" + Api.encode(at[1]);
  }

  @Command(
      name = "binding",
      description = "Values that differ per stage: what a stage gives the declared inputs.",
      footer = {
        "",
        "Examples:",
        "  plenzo binding list fares --site production/north",
        "  plenzo binding set fares terminal-address --at production/north --value https://terminal.example",
        "  plenzo binding set fares terminal-key --at production --secret-stdin < key.txt",
        "",
        "A secret is read from standard input, kept encrypted, and never shown again."
      })
  static final class Binding extends Group {
    @Command(
        name = "list",
        description = "Every declared input of a version, and what a site gives it.")
    void list(
        @Parameters(paramLabel = "APPLICATION") String app,
        @Option(names = "--site", required = true) String site,
        @Option(names = "--number", description = "Of the version; the newest by default.")
            @Nullable String number) {
      out()
          .list(
              "inputs",
              inputs(app, site, number),
              List.of("input", "type", "state", "value", "bound at", "needed by", "note"),
              i ->
                  List.of(
                      i.name(),
                      i.type() + (i.secret() ? ", secret" : ""),
                      out().state(i.state()),
                      i.value() != null ? i.value() : i.fallback() == null ? "" : i.fallback(),
                      i.boundAt() == null ? "" : i.boundAt(),
                      String.join(", ", i.neededBy()),
                      i.note().isEmpty() ? i.description() : i.note()));
    }

    private List<InputView> inputs(String app, String site, @Nullable String number) {
      return api()
          .list(
              "/applications/"
                  + Api.encode(app)
                  + "/inputs"
                  + Api.query("site", site(site), "version", number),
              InputView.class);
    }

    @Command(name = "set", description = "Gives an input its value at a stage or a site.")
    void set(
        @Parameters(paramLabel = "APPLICATION") String app,
        @Parameters(paramLabel = "INPUT") String input,
        @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String at,
        @Option(names = "--value", description = "A plain value.") @Nullable String value,
        @Option(names = "--secret-stdin", description = "A secret value, from standard input.")
            boolean secret,
        @Option(names = "--connection", description = "Name of one of the stage's connections.")
            @Nullable String connection,
        @Option(
                names = "--revision",
                defaultValue = "-1",
                description = "The revision that you saw; the present one by default.")
            int revision) {
      int given = (value == null ? 0 : 1) + (secret ? 1 : 0) + (connection == null ? 0 : 1);
      if (given != 1) {
        throw Failed.usage("Give one of --value, --secret-stdin and --connection.");
      }
      int seen = revision >= 0 ? revision : seen(app, at, input);
      InputView b =
          api()
              .post(
                  "/bindings",
                  new Bind(
                      app,
                      at,
                      input,
                      secret ? top().standardInput() : value,
                      secret,
                      connection,
                      seen),
                  InputView.class);
      if (out().json()) {
        out().document("binding", b);
        return;
      }
      out().line(input + " of " + app + " at " + at + " is " + b.value() + ".");
    }

    /** The revision of what stands at this very place; 0 when nothing does. */
    private int seen(String app, String at, String input) {
      String site = at.contains("/") ? at : firstSite(at);
      return inputs(app, site, null).stream()
          .filter(i -> i.name().equals(input) && at.equals(i.boundAt()))
          .mapToInt(InputView::revision)
          .findFirst()
          .orElse(0);
    }

    private String firstSite(String stage) {
      return api().list("/stages", plenzo.api.Stages.StageView.class).stream()
          .filter(s -> s.key().equals(stage))
          .flatMap(s -> s.sites().stream())
          .map(s -> stage + "/" + s.key())
          .findFirst()
          .orElseThrow(() -> Failed.usage("The stage \"" + stage + "\" has no site."));
    }

    @Command(name = "clear", description = "Takes a value away.")
    void clear(
        @Parameters(paramLabel = "APPLICATION") String app,
        @Parameters(paramLabel = "INPUT") String input,
        @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String at) {
      api().post("/bindings/clear", new Unbind(app, at, input), Void.class);
      out().line(input + " of " + app + " has no value at " + at + " any more.");
    }
  }

  @Command(
      name = "maintenance",
      description = "Whether a site lets only its operators in.",
      footer = {
        "",
        "Examples:",
        "  plenzo maintenance show production/north",
        "  plenzo maintenance off production/north --reason \"Checked by hand\""
      })
  static final class Maintenance extends Group {
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
              sitePath(this, site) + "/maintenance",
              new MaintenanceWish(on, reason),
              WorkView.class);
    }

    private void told(String site, WorkView w) {
      if (out().json()) {
        out().document("work", w);
        return;
      }
      out()
          .line(
              site(site)
                  + (w.maintenance() ? " lets only operators in. " : " is open. ")
                  + (w.people() == 1 ? "1 person is" : w.people() + " people are")
                  + " signed in, "
                  + (w.running().size() == 1
                      ? "1 piece of work runs."
                      : w.running().size() + " pieces of work run."));
      w.running()
          .forEach(i -> out().line("  " + i.what() + " of " + i.person() + " in " + i.component()));
    }
  }

  /** What is there and does not work, or is in no version; switching on and off. */
  @Command(
      name = "state",
      description = "What is off, unbound, not visible or only there at a site.",
      footer = {
        "",
        "Examples:",
        "  plenzo state list fares@production/north",
        "  plenzo state off fares@test rule/fares.night-crossing --reason \"Wrong since the timetable\""
      })
  static final class State extends Group {
    @Command(name = "list", description = "Components that need somebody.")
    void list(@Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at) {
      String[] parts = split(at);
      out()
          .list(
              "needs",
              api()
                  .list(
                      sitePath(this, parts[1]) + "/needs" + Api.query("application", parts[0]),
                      NeedView.class),
              List.of("component", "need", "says"),
              n -> List.of(n.component(), n.need(), n.text()));
    }

    private static String[] split(String at) {
      String[] parts = at.split("@", 2);
      if (parts.length < 2) {
        throw Failed.usage("Write fares@production/north.");
      }
      return parts;
    }

    @Command(name = "on", description = "Switches a rule, form or integration on.")
    void on(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Parameters(paramLabel = "KIND/NAME") String component,
        @Option(names = "--reason", required = true) String reason) {
      turn(at, component, true, reason);
    }

    @Command(name = "off", description = "Switches a rule, form or integration off.")
    void off(
        @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
        @Parameters(paramLabel = "KIND/NAME") String component,
        @Option(names = "--reason", required = true) String reason) {
      turn(at, component, false, reason);
    }

    private void turn(String at, String component, boolean on, String reason) {
      String[] parts = split(at);
      List<NeedView> left =
          api()
              .postList(
                  sitePath(this, parts[1]) + "/activation",
                  new SwitchOn(parts[0], component, on, reason),
                  NeedView.class);
      if (out().json()) {
        out().document("needs", Map.of("items", left));
        return;
      }
      out()
          .line(
              component
                  + " is switched "
                  + (on ? "on" : "off")
                  + " at "
                  + site(parts[1])
                  + ". "
                  + left.size()
                  + " left to look at.");
    }
  }
}
