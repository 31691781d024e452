package plenzo.cli;

import static plenzo.cli.SitePaths.sitePath;

import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.NeedView;
import plenzo.api.Stages.SwitchOn;

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
final class StateCommand extends Group {
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
