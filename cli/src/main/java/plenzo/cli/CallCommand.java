package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Tellings.CallOrderView;
import plenzo.api.Tellings.CallView;
import plenzo.api.Tellings.CalledView;
import plenzo.api.Tellings.CalleeView;

@Command(
    name = "call",
    description = {
      "Who is called when something is wrong at a stage, one after the other, by mail without quiet"
          + " hours, until somebody takes it.",
      "Called about: half written, failed, paused with users out, work by hand overdue, users left"
          + " out, gone back by itself, a scheduled run that was refused or missed, and the service"
          + " itself after a break."
    },
    footer = {
      "",
      "Examples:",
      "  plenzo call order production --who \"bram=+47 555 0142\" --who \"ines=at the desk\" --minutes 10",
      "  plenzo call list",
      "  plenzo call take CL-3"
    })
final class CallCommand extends Group {
  @Command(name = "list", description = "All of them, newest first.")
  void list(@Option(names = "--open", description = "Only those nobody took.") boolean open) {
    out()
        .list(
            "calls",
            api().list("/calls" + Api.query("state", open ? "open" : null), CallView.class),
            List.of("call", "when", "at", "run", "what is wrong", "called", "state"),
            c ->
                List.of(
                    c.number(),
                    out().time(c.made()),
                    c.stage() + (c.site() == null ? "" : "/" + c.site()),
                    c.run() == null ? "" : c.run(),
                    c.cause(),
                    String.join("; ", c.told().stream().map(CallCommand::words).toList()),
                    c.state() + (c.by() == null ? "" : " by " + c.by())));
  }

  private static String words(CalledView t) {
    return (t.login() + " " + t.words()).strip();
  }

  @Command(name = "take", description = "You come: nobody else is called.")
  void take(@Parameters(paramLabel = "CALL") String number) {
    answered(
        "/calls/" + Api.encode(number) + "/take",
        " is yours; nobody else is called. When it is settled: plenzo call over ");
  }

  @Command(name = "over", description = "It is settled.")
  void over(@Parameters(paramLabel = "CALL") String number) {
    answered("/calls/" + Api.encode(number) + "/over", null);
  }

  private void answered(String path, @Nullable String next) {
    CallView c = api().post(path, Map.of(), CallView.class);
    if (out().json()) {
      out().document("call", c);
      return;
    }
    out().line(c.number() + (next == null ? " is over." : next + c.number()));
  }

  @Command(name = "order", description = "Who is called at a stage; with --who it is said anew.")
  void order(
      @Parameters(paramLabel = "STAGE") String stage,
      @Option(
              names = "--who",
              paramLabel = "PERSON=HOW",
              description =
                  "Who is called, and how people reach them; repeatable, in order. Empty calls"
                      + " nobody.")
          @Nullable List<String> who,
      @Option(
              names = "--minutes",
              defaultValue = "15",
              description = "How long each is waited for before the next is called.")
          int minutes) {
    String path = "/stages/" + Api.encode(stage) + "/calls";
    CallOrderView now = api().get(path, CallOrderView.class);
    if (who != null) {
      now =
          api()
              .put(
                  path,
                  new CallOrderView(callees(who, minutes), now.revision()),
                  CallOrderView.class);
    }
    out()
        .list(
            "callees",
            now.callees(),
            List.of("who", "how", "minutes"),
            c -> List.of(c.login(), c.how(), String.valueOf(c.minutes())));
    if (now.callees().isEmpty() && !out().json()) {
      out().note("Nobody is called at " + stage + ".");
    }
  }

  private static List<CalleeView> callees(List<String> who, int minutes) {
    List<CalleeView> out = new ArrayList<>();
    for (String one : who) {
      if (!one.isBlank()) {
        String[] parts = one.split("=", 2);
        out.add(new CalleeView(parts[0].strip(), parts.length > 1 ? parts[1] : "", minutes));
      }
    }
    return out;
  }
}
