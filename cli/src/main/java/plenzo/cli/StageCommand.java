package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Stages.RuleView;
import plenzo.api.Stages.SeverityView;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.WindowView;

@Command(
    name = "stage",
    description = "The places that versions travel through.",
    footer = {
      "",
      "Examples:",
      "  plenzo stage list",
      "  plenzo stage new production --name Production --role production --position 2",
      "  plenzo stage severity production arrives-off --at-least blocker",
      "  plenzo stage severity test other-open --at-most note --reason \"Everybody tries things here\""
    })
final class StageCommand extends Group {
  @Command(name = "list", description = "All stages, in order.")
  void list() {
    out()
        .list(
            "stages",
            api().list("/stages", StageView.class),
            List.of("stage", "name", "role", "sites", "hand edits"),
            s ->
                List.of(
                    out().site(s.key(), s.role().equals("production")),
                    s.name(),
                    s.role(),
                    String.join(", ", s.sites().stream().map(SiteView::key).toList()),
                    s.driftCloses() ? "close it" : "are reported"));
  }

  @Command(name = "new", description = "Registers a stage.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(names = "--role", required = true, description = "development, test or production.")
          String role,
      @Option(names = "--position", defaultValue = "0") int position,
      @Option(
              names = "--zone",
              defaultValue = "UTC",
              description = "Time zone, such as Europe/Oslo.")
          String zone,
      @Option(
              names = "--drift-closes",
              description = "A site that differs from its record takes no version until settled.")
          boolean drift) {
    StageView s =
        api()
            .put(
                "/stages/" + Api.encode(key),
                new StageView(
                    key,
                    name,
                    role,
                    position,
                    zone,
                    drift,
                    List.of(),
                    0,
                    /* severities= */ null,
                    /* windows= */ null),
                StageView.class);
    out().line("Stage " + s.key() + " is registered.");
  }

  @Command(
      name = "change",
      description = {
        "Changes what a stage is called and what a hand edit does; what is not named stays.",
        "What promotions must pass is asked by the legs of paths: plenzo path gates."
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(
              names = "--drift-closes",
              arity = "1",
              paramLabel = "true|false",
              description = "A site that differs from its record takes no version until settled.")
          @Nullable Boolean drift) {
    StageView s = stage(key);
    StageView next =
        saved(
            s,
            name == null ? s.name() : name,
            drift == null ? s.driftCloses() : drift,
            s.severities(),
            s.windows());
    if (out().json()) {
      out().document("stage", next);
      return;
    }
    out()
        .line(
            "Stage "
                + key
                + ": "
                + next.name()
                + (next.driftCloses()
                    ? "; a site that differs takes no version until that is settled."
                    : "; drift is reported."));
  }

  private StageView saved(
      StageView s,
      String name,
      boolean drift,
      @Nullable List<SeverityView> severities,
      @Nullable List<WindowView> windows) {
    return saved(
        new StageView(
            s.key(),
            name,
            s.role(),
            s.position(),
            s.zone(),
            drift,
            s.sites(),
            s.revision(),
            severities,
            windows));
  }

  @Command(
      name = "rules",
      description = {
        "Every rule of impact checks and check of content, and how bad a stage finds it.",
        "What cannot be lowered would fail in the run, or says what is lost or whose a target is."
      })
  void rules(@Parameters(paramLabel = "KEY") String key) {
    StageView s = stage(key);
    out()
        .list(
            "rules",
            api().list("/rules", RuleView.class),
            List.of("rule", "not evaluated", "here", "can be lowered", "reason"),
            r -> {
              SeverityView own = own(s, r.rule());
              return List.of(
                  r.rule(),
                  r.severity() == null ? "risk" : r.severity(),
                  own == null ? "the same" : own.bound().replace('-', ' ') + " " + own.severity(),
                  r.lowered() ? "yes" : "no",
                  own == null ? "" : own.reason());
            });
  }

  private static @Nullable SeverityView own(StageView s, String rule) {
    return s.severities() == null
        ? null
        : s.severities().stream().filter(x -> x.rule().equals(rule)).findFirst().orElse(null);
  }

  @Command(
      name = "severity",
      description = {
        "Lets a stage find worse, or less bad, what a rule finds. Promotions to it that are open are",
        "compared again. Going back is judged by the rules alone."
      })
  void severity(
      @Parameters(paramLabel = "KEY") String key,
      @Parameters(paramLabel = "RULE") String rule,
      @Option(
              names = "--at-least",
              paramLabel = "blocker|risk",
              description = "Raises what is less bad.")
          @Nullable String least,
      @Option(
              names = "--at-most",
              paramLabel = "risk|note",
              description = "Lowers what is worse; needs a reason.")
          @Nullable String most,
      @Option(names = "--as-built", description = "Judges it as the rule does again.")
          boolean built,
      @Option(names = "--reason", defaultValue = "") String reason) {
    if ((least == null ? 0 : 1) + (most == null ? 0 : 1) + (built ? 1 : 0) != 1) {
      throw Failed.usage("Say one of --at-least, --at-most and --as-built.");
    }
    StageView s = stage(key);
    List<SeverityView> all = new ArrayList<>(s.severities() == null ? List.of() : s.severities());
    all.removeIf(x -> x.rule().equals(rule));
    if (!built) {
      all.add(
          new SeverityView(
              rule,
              least == null ? "at-most" : "at-least",
              least == null ? Objects.requireNonNull(most) : least,
              reason));
    }
    StageView next = saved(s, s.name(), s.driftCloses(), all, s.windows());
    if (out().json()) {
      out().document("stage", next);
      return;
    }
    SeverityView own = own(next, rule);
    out()
        .line(
            own == null
                ? "Stage " + key + " judges " + rule + " as the rule does."
                : "At stage "
                    + key
                    + " what "
                    + rule
                    + " finds is "
                    + own.bound().replace('-', ' ')
                    + " a "
                    + own.severity()
                    + ".");
  }
}
