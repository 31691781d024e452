package plenzo.cli;

import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Drifts.ValuesAsked;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Stages.Bind;
import plenzo.api.Stages.InputView;
import plenzo.api.Stages.Unbind;

@Command(
    name = "binding",
    description = "Values that differ per stage: what a stage gives the declared inputs.",
    footer = {
      "",
      "Examples:",
      "  plenzo binding list fares --site production/north",
      "  plenzo binding set fares terminal-address --at production/north --value https://terminal.example",
      "  plenzo binding set fares terminal-key --at production --secret-stdin < key.txt",
      "  plenzo binding prepare fares@production/north",
      "",
      "A secret is read from standard input, kept encrypted, and never shown again."
    })
final class BindingCommand extends Group {
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
            List.of("input", "type", "state", "value", "bound at", "host", "needed by", "note"),
            i ->
                List.of(
                    i.name(),
                    i.type() + (i.secret() ? ", secret" : ""),
                    out().state(i.state()),
                    i.value() != null ? i.value() : i.fallback() == null ? "" : i.fallback(),
                    i.boundAt() == null ? "" : i.boundAt(),
                    i.given(),
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

  @Command(
      name = "prepare",
      description = {
        "Opens a plan that gives a site its values and moves nothing else.",
        "A value that is set reaches its host with the next run there; this is one of its own."
      })
  void prepare(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--notes", defaultValue = "") String notes) {
    String[] p = parts(at, "fares@production");
    Cases.opened(
        this,
        Cases.settled(
            this,
            api()
                .post(
                    "/records/" + Api.encode(p[0]) + "/" + site(p[1]) + "/values",
                    new ValuesAsked(notes),
                    PromotionView.class)));
  }

  @Command(name = "clear", description = "Takes a value away.")
  void clear(
      @Parameters(paramLabel = "APPLICATION") String app,
      @Parameters(paramLabel = "INPUT") String input,
      @Option(names = "--at", required = true, paramLabel = "STAGE[/SITE]") String at) {
    api().post("/bindings/clear", new Unbind(app, at, input, null), Void.class);
    out().line(input + " of " + app + " has no value at " + at + " any more.");
  }
}
