package plenzo.cli;

import static plenzo.cli.Cases.settled;
import static plenzo.cli.Cases.words;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Manuals.ManualAsked;
import plenzo.api.Manuals.ManualView;
import plenzo.api.Promotions.AcceptRisk;
import plenzo.api.Promotions.Activate;
import plenzo.api.Promotions.AnswerAsked;
import plenzo.api.Promotions.Approve;
import plenzo.api.Promotions.Ask;
import plenzo.api.Promotions.CarryOverView;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.Decide;
import plenzo.api.Promotions.NotesAsked;
import plenzo.api.Promotions.Prepare;
import plenzo.api.Promotions.PromotionLine;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Promotions.RowPage;
import plenzo.api.Promotions.UrgencyView;
import plenzo.api.Versions.Reason;

@Command(
    name = "promotion",
    description = "Moving a version to a stage: compared, checked, decided on, agreed.",
    footer = {
      "",
      "Examples:",
      "  plenzo promotion prepare fares@2.4.0 --to test",
      "  plenzo promotion compare P-3",
      "  plenzo promotion approve P-3 --expect 7c1e-90ab-k3mz"
    })
final class PromotionCommand extends Group {
  private static String path(String number) {
    return "/promotions/" + Api.encode(number);
  }

  @Command(name = "prepare", description = "Opens a promotion, and waits for its comparison.")
  int prepare(
      @Parameters(paramLabel = "APPLICATION@NUMBER") String version,
      @Option(names = "--to", required = true, paramLabel = "STAGE[/SITE]") String to,
      @Option(
              names = "--path",
              description = "The path by which it goes, where the application has several.")
          @Nullable String by,
      @Option(names = "--notes", defaultValue = "") String notes) {
    String[] v = parts(version, "fares@2.4.0");
    return shown(
        settled(
            api()
                .post(
                    "/promotions",
                    new Prepare(v[0], v[1], site(to), by, notes),
                    PromotionView.class)));
  }

  private PromotionView settled(PromotionView p) {
    return Cases.settled(this, p);
  }

  /** The promotion once nothing compares it any more. */
  private PromotionView settled(String number) {
    return settled(api().get(path(number), PromotionView.class));
  }

  @Command(name = "list", description = "Open promotions; those that are over on request.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--stage") @Nullable String stage,
      @Option(
              names = "--state",
              paramLabel = "STATE",
              defaultValue = "open",
              description =
                  "open (the default: every state in which something is to be done), one state"
                      + " (preparing, ready, agreed, running, done, failed, withdrawn, overtaken),"
                      + " or any.")
          String state) {
    out()
        .list(
            "promotions",
            api()
                .pages(
                    "/promotions"
                        + Api.query(
                            "application", app, "stage", stage, "state", Listed.wanted(state)),
                    PromotionLine.class,
                    out().wanted()),
            List.of(
                "promotion", "version", "to", "instead of", "state", "fingerprint", "waits for"),
            p ->
                List.of(
                    p.number(),
                    p.application() + "@" + p.version() + RunText.about(p.purpose()),
                    out().site(p.site(), p.production()),
                    p.present() == null ? "" : p.present(),
                    out().state(p.state()),
                    p.fingerprint() == null ? "" : p.fingerprint(),
                    words(p.gates())));
  }

  @Command(name = "show", description = "Comparison in numbers, findings, gates, approvals, plan.")
  int show(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--sql", description = "The exact statements too.") boolean sql) {
    PromotionView p = api().get(path(number), PromotionView.class);
    int code = shown(p);
    if (sql && p.plan() != null && !out().json()) {
      out().line("");
      p.plan().statements().forEach(s -> out().line(s + ";"));
    }
    return code == Failed.STOPPED ? 0 : code;
  }

  @Command(
      name = "compare",
      description = "Shows every difference; with --again the site is read anew before.")
  int compare(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--again", description = "Read the site anew.") boolean again,
      @Option(names = "--rows", defaultValue = "20", description = "Rows of each class to show.")
          int rows,
      @Option(names = "--find", description = "Only rows whose key or value contains this.")
          @Nullable String find,
      @Option(
              names = "--same",
              description = "Rows, attributes and parts that are the same as well.")
          boolean same,
      @Option(names = "--export", description = "Saves the whole comparison as CSV instead.")
          @Nullable Path export,
      @Option(names = "--fail-on-difference", description = "Exit code 14 when something differs.")
          boolean fail) {
    PromotionView p =
        again
            ? settled(api().post(path(number) + "/compare", Map.of(), PromotionView.class))
            : settled(api().get(path(number), PromotionView.class));
    if (export != null) {
      long bytes = api().save(path(number) + "/comparison", export);
      out().line("Saved in " + export + ", " + bytes + " bytes.");
    } else if (out().json()) {
      out().document("comparison", p.compared().components());
    } else {
      out()
          .line(
              p.goal().application()
                  + " "
                  + p.goal().version()
                  + " against "
                  + out().site(p.goal().site(), p.goal().production())
                  + " ("
                  + p.compared().present()
                  + ", base "
                  + p.compared().base()
                  + "), read "
                  + out().time(p.compared().at()));
      out().line(DifferenceText.counts(out(), p.compared().counts()));
      p.compared().components().forEach(c -> component(p, c, new Shown(rows, find, same)));
    }
    CountsView c = p.compared().counts();
    return fail && c.added() + c.changed() + c.removed() + c.conflict() > 0 ? Failed.DIFFERENT : 0;
  }

  /**
   * What of a comparison is shown.
   *
   * @param rows of each component and class
   * @param same also rows and attributes that are the same
   */
  private record Shown(int rows, @Nullable String find, boolean same) {
    List<String> classes() {
      return same
          ? List.of("conflict", "removed", "changed", "added", "kept", "same")
          : List.of("conflict", "removed", "changed", "added");
    }
  }

  private void component(PromotionView p, ComponentChange c, Shown what) {
    if (c.difference().equals("same") && !what.same()) {
      return;
    }
    DifferenceText.component(out(), c);
    List<String> classes =
        c.key().startsWith("records/")
            ? what.classes()
            : c.key().startsWith("table/") && what.same() ? List.of("same") : List.of();
    if (!classes.isEmpty()) {
      for (String d : classes) {
        RowPage page =
            api()
                .get(
                    path(p.number())
                        + "/rows"
                        + Api.query(
                            "component",
                            String.valueOf(c.index()),
                            "difference",
                            d,
                            "find",
                            what.find(),
                            "all",
                            what.same() ? "true" : null,
                            "limit",
                            String.valueOf(what.rows())),
                    RowPage.class);
        page.items().forEach(r -> DifferenceText.row(out(), r));
        if (page.next() != null) {
          out()
              .line(
                  "  "
                      + page.items().size()
                      + " of "
                      + page.total()
                      + " "
                      + d
                      + (c.key().startsWith("records/") ? " rows" : " parts")
                      + " shown; --rows shows more");
        }
      }
    }
  }

  @Command(
      name = "check",
      description =
          "The findings, each with its evidence. Exit code 7 when a blocker is among them.")
  int check(@Parameters(paramLabel = "PROMOTION") String number) {
    PromotionView p = settled(number);
    if (out().json()) {
      out().document("findings", p.impact().findings());
    } else {
      PromotionText.findings(out(), p);
      p.impact().findings().stream()
          .filter(f -> f.query() != null)
          .forEach(f -> out().line("query of " + f.id() + ": " + f.query()));
    }
    return p.impact().findings().stream().anyMatch(f -> f.severity().equals("blocker"))
        ? Failed.STOPPED
        : 0;
  }

  @Command(
      name = "decide",
      description = "Decides a conflict: take-incoming, keep, or take-both where offered.")
  int decide(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "COMPONENT[#PART]=DECISION", arity = "1..*")
          List<String> decisions) {
    Map<String, String> all = new LinkedHashMap<>();
    for (String d : decisions) {
      int equals = d.lastIndexOf('=');
      if (equals < 0) {
        throw Failed.usage(
            "Write a decision as records/fares.band=keep, =take-incoming or =take-both.");
      }
      all.put(d.substring(0, equals), d.substring(equals + 1));
    }
    settled(number);
    return shown(
        settled(api().post(path(number) + "/decide", new Decide(all), PromotionView.class)));
  }

  @Command(
      name = "notes",
      description =
          "Writes what it is for, until the run starts; the history keeps what stood there.")
  int notes(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "TEXT", arity = "0..1") @Nullable String text,
      @Option(names = "--drafted", description = "As drafted from what changes.") boolean drafted) {
    PromotionView p = settled(number);
    if (drafted == (text != null)) {
      throw Failed.usage("Write the notes, or take --drafted.");
    }
    String notes = text != null ? text : p.prepared().draftedNotes();
    return shown(api().post(path(number) + "/notes", new NotesAsked(notes), PromotionView.class));
  }

  @Command(
      name = "activate",
      description =
          "Says which rules, forms and integrations the run switches on; none named: none.")
  int activate(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "KIND/NAME", arity = "0..*") @Nullable List<String> components) {
    settled(number);
    return shown(
        settled(
            api()
                .post(
                    path(number) + "/activate",
                    new Activate(components == null ? List.of() : components),
                    PromotionView.class)));
  }

  @Command(name = "accept-risk", description = "Accepts a risk with a reason and an end date.")
  int acceptRisk(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "FINDING") String finding,
      @Option(names = "--reason", required = true) String reason,
      @Option(names = "--until", required = true, paramLabel = "DAY") String until) {
    settled(number);
    return shown(
        settled(
            api()
                .post(
                    path(number) + "/accept-risk",
                    new AcceptRisk(finding, reason, until),
                    PromotionView.class)));
  }

  @Command(
      name = "approve",
      description = "Says yes to exactly the plan with this fingerprint, and to its ways back.")
  int approve(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--comment", defaultValue = "") String comment) {
    PromotionView p = settled(number);
    String fingerprint = top().expect;
    if (fingerprint == null) {
      if (p.plan() == null || !top().canAsk()) {
        throw new Failed(
            Failed.NEEDS_CONFIRMATION,
            "NEEDS_EXPECT",
            "Approving needs the fingerprint of the plan that you read.",
            List.of(
                "plenzo promotion approve "
                    + number
                    + " --expect "
                    + (p.plan() == null ? "…" : p.plan().fingerprint())),
            "");
      }
      out().note(PromotionText.sentence(p));
      String typed =
          top()
              .ask(
                  "To approve plan "
                      + p.plan().fingerprint()
                      + ", type the stage's name ("
                      + p.goal().site().split("/")[0]
                      + "): ");
      if (!typed.equals(p.goal().site().split("/")[0])) {
        throw new Failed(
            Failed.NEEDS_CONFIRMATION, "NOT_CONFIRMED", "Nothing was approved.", List.of(), "");
      }
      fingerprint = p.plan().fullFingerprint();
    }
    PromotionView after =
        settled(
            api()
                .post(
                    path(number) + "/approve",
                    new Approve(fingerprint, comment),
                    PromotionView.class));
    if (out().json()) {
      return shown(after);
    }
    out()
        .line(
            "Approved "
                + number
                + ", plan "
                + (after.plan() == null ? "" : after.plan().fingerprint())
                + ". "
                + next(after));
    return 0;
  }

  /** What a yes leads to; after an emergency's run nothing is started any more. */
  private static String next(PromotionView after) {
    if (after.state().equals("done")) {
      UrgencyView u = after.agreement().urgency();
      return u != null && u.owed() ? "It still owes a yes of others." : "It owes nothing any more.";
    }
    return after.gates().isEmpty()
        ? "It may run: plenzo run start " + after.number()
        : "Still open: " + words(after.gates());
  }

  @Command(name = "reject", description = "Says no, with a reason.")
  int reject(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--reason", required = true) String reason) {
    PromotionView p = settled(number);
    String fingerprint =
        top().expect != null ? top().expect : p.plan() == null ? "" : p.plan().fullFingerprint();
    api().post(path(number) + "/reject", new Approve(fingerprint, reason), PromotionView.class);
    out().line("Rejected " + number + ": " + reason);
    return 0;
  }

  @Command(
      name = "record",
      description =
          "What it used and did as one document: version, plan, gates, words, values, runs with their"
              + " accounts, backups and answers, evidence, verdicts, history.")
  void record(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(
              names = "--to",
              paramLabel = "FILE",
              description = "Saved there, as Markdown (.md) or HTML (.html).")
          @Nullable Path to) {
    ReportText.give(this, path(number) + "/record", "", to);
  }

  @Command(
      name = "findings",
      description = "Saves what checks found, in SARIF 2.1.0, for tools that read it.")
  void findings(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path to) {
    ReportText.saved(this, api().save(path(number) + "/findings/sarif", to), to);
  }

  @Command(
      name = "carry-over",
      description =
          "What becomes of the values of every column whose table gets another structure.")
  void carryOver(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--to", paramLabel = "FILE", description = "Saves it as CSV instead.")
          @Nullable Path to) {
    if (to != null) {
      ReportText.saved(this, api().save(path(number) + "/carry-over/csv", to), to);
      return;
    }
    CarryOverView v = api().get(path(number) + "/carry-over", CarryOverView.class);
    if (v.lines().isEmpty() && !out().json()) {
      out().line("No table that is there gets another structure: every value stays in its column.");
      return;
    }
    out()
        .list(
            "lines",
            v.lines(),
            List.of("table", "column", "becomes", "values", "filled", "rows", "reason"),
            l ->
                List.of(
                    l.table(),
                    l.column(),
                    l.becomes(),
                    l.fate(),
                    String.valueOf(l.filled()),
                    String.valueOf(l.rows()),
                    l.reason()));
  }

  @Command(
      name = "comparison",
      description = "Saves what the comparison found, component by component, as CSV.")
  void comparison(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--to", required = true, paramLabel = "FILE") Path to) {
    ReportText.saved(this, api().save(path(number) + "/comparison/csv", to), to);
  }

  @Command(
      name = "ask-outside",
      description = {
        "Asks whoever outside must say yes, by a question signed with this service's key.",
        "The answer is to the plan as it is now; what is not answered in time counts as no."
      })
  int askOutside(@Parameters(paramLabel = "PROMOTION") String number) {
    return shown(api().post(path(number) + "/ask-outside", Map.of(), PromotionView.class));
  }

  @Command(
      name = "emergency",
      description = {
        "Declares that it cannot wait. What its path lets an emergency pass needs not be met now;",
        "a yes is owed for it afterwards, and nothing ordinary goes there until it has come."
      })
  int emergency(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--reason", required = true, description = "Why it cannot wait.")
          String reason) {
    return shown(api().post(path(number) + "/emergency", new Reason(reason), PromotionView.class));
  }

  @Command(
      name = "ask",
      description = {
        "Asks something before you say yes; a start is held until it is answered.",
        "Who may approve may ask."
      })
  int ask(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "QUESTION") String text) {
    return shown(api().post(path(number) + "/ask", new Ask(text), PromotionView.class));
  }

  @Command(
      name = "answer",
      description = "Answers a question; who asked may answer too, and lets the start go on so.")
  int answer(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Parameters(paramLabel = "QUESTION", description = "Its number.") int question,
      @Parameters(paramLabel = "ANSWER") String text) {
    return shown(
        api().post(path(number) + "/answer", new AnswerAsked(question, text), PromotionView.class));
  }

  @Command(
      name = "by-hand",
      description = {
        "What people do outside Plenzo around its run; in this case alone with --by-hand.",
        "The plan has it then, and a yes to another plan falls."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo promotion by-hand P-15",
        "  plenzo promotion by-hand P-15 --by-hand \"after desk: Grant the desk access to zones 7 to 9\""
      })
  int byHand(@Parameters(paramLabel = "PROMOTION") String number, @Mixin ByHand.Given given) {
    List<ManualView> steps = given.steps();
    if (steps != null) {
      return shown(
          api().post(path(number) + "/manual", new ManualAsked(steps), PromotionView.class));
    }
    PromotionView p = settled(number);
    if (out().json()) {
      out().document("promotion", p);
      return 0;
    }
    List<AskedByHand> asked = PromotionText.byHand(p);
    asked.forEach(a -> ByHand.asked(out(), a));
    if (asked.isEmpty()) {
      out().line("Nothing is done by hand around the run of " + p.number() + ".");
    }
    return 0;
  }

  @Command(name = "take-back", description = "Takes back your own yes or no, until it runs.")
  void takeBack(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--reason", required = true) String reason) {
    api().post(path(number) + "/take-back", new Reason(reason), PromotionView.class);
    out().line("What you said of " + number + " no longer counts.");
  }

  @Command(name = "withdraw", description = "Closes it for good.")
  void withdraw(
      @Parameters(paramLabel = "PROMOTION") String number,
      @Option(names = "--reason", required = true) String reason) {
    api().post(path(number) + "/withdraw", new Reason(reason), PromotionView.class);
    out().line(number + " is withdrawn.");
  }

  private int shown(PromotionView p) {
    return PromotionText.shown(this, p);
  }
}
