package plenzo.engine.recording;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.report.Report;
import plenzo.core.run.Run;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;
import plenzo.engine.looking.History;
import plenzo.engine.running.Runs;

/** What went otherwise than the rules say, in a span: an auditor's first question. */
public final class Exceptions {
  /** Longest span. */
  private static final Duration LONGEST = Duration.ofDays(400);

  /** Events that are exceptions by themselves, by the heading under which they stand. */
  private static final Map<String, List<String>> EVENTS = new LinkedHashMap<>();

  static {
    EVENTS.put("Emergencies", List.of("emergency declared"));
    EVENTS.put("A yes that was owed", List.of("owed yes given"));
    EVENTS.put("Risks accepted", List.of("risk accepted"));
    EVENTS.put("Work by hand left out", List.of("work by hand left out"));
    EVENTS.put(
        "Users let in although something was not as it should be",
        List.of("let in all the same", "let everybody in"));
    EVENTS.put("Freezes lifted", List.of("freeze lifted"));
    EVENTS.put("Sites left for later", List.of("site left for later"));
    EVENTS.put("Deputies", List.of("deputy named", "deputy ended"));
    EVENTS.put("Runs taken over", List.of("run taken over"));
    EVENTS.put("Drift left as it is", List.of("drift left"));
    EVENTS.put(
        "Gates, stages and rights changed",
        List.of(
            "path changed",
            "path laid",
            "stage changed",
            "change agreed",
            "change declined",
            "rights changed",
            "role changed"));
  }

  private final Tools tools;
  private final History history;
  private final Runs runs;

  public Exceptions(Tools tools, History history, Runs runs) {
    this.tools = tools;
    this.history = history;
    this.runs = runs;
  }

  /**
   * @throws Problem when the right is missing, or the span is too long
   */
  public Report of(Person by, Instant from, Instant until) {
    plenzo.engine.people.Rights.require(by, Right.AUDIT, Person.EVERY, Person.EVERY);
    if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
      throw Problem.invalid(
          "SPAN", "A report is of " + LONGEST.toDays() + " days at most.", "/until");
    }
    List<HistoryEntry> all = history.span(by, null, null, from, until);
    Report.Builder out =
        new Report.Builder(
            "Exceptions from " + Report.time(from) + " to " + Report.time(until), tools.now());
    List<Run> ran = runs.began(by, from, until);
    out.facts(
        "What was looked at",
        "Entries of the history",
        String.valueOf(all.size()),
        "Runs that began",
        String.valueOf(ran.size()),
        "Of",
        "what " + by.login() + " may see");
    EVENTS.forEach(
        (heading, events) ->
            out.table(
                heading,
                "None.",
                List.of("when", "who", "of", "at", "what"),
                all.stream()
                    .filter(e -> events.contains(e.event()))
                    .map(Exceptions::row)
                    .toList()));
    out.table(
        "Gates passed by an emergency",
        "None.",
        List.of("when", "who", "of", "at", "what"),
        all.stream()
            .filter(e -> e.event().equals("run started"))
            .filter(e -> e.text().contains("an emergency passes"))
            .map(Exceptions::row)
            .toList());
    out.table(
        "A yes of a deputy",
        "None.",
        List.of("run", "of", "at", "who"),
        ran.stream().flatMap(r -> deputies(r).stream()).toList());
    out.table(
        "Stages skipped",
        "None.",
        List.of("run", "of", "at", "never was at"),
        ran.stream().flatMap(r -> skipped(r).stream()).toList());
    return out.build();
  }

  private static List<String> row(HistoryEntry e) {
    return Report.row(
        Report.time(e.at()),
        e.actor(),
        (e.application() == null ? "" : e.application())
            + (e.version() == null ? "" : " " + e.version()),
        (e.stage() == null ? "" : e.stage()) + (e.site() == null ? "" : "/" + e.site()),
        (e.promotion() == null ? "" : "P-" + e.promotion() + ": ") + e.text());
  }

  private Optional<Promotion> promotion(Run r) {
    return tools.keeper().read(kept -> kept.promotions().find(String.valueOf(r.promotion())));
  }

  private List<List<String>> deputies(Run r) {
    return promotion(r).stream()
        .flatMap(p -> p.approvals().stream())
        .filter(a -> a.counts() && a.of() != null)
        .map(a -> Report.row(r.shown(), of(r), r.site().toString(), a.words()))
        .toList();
  }

  private static String of(Run r) {
    return r.application() + " " + r.version();
  }

  /** A version that came through at a stage without ever having been at the one before. */
  private List<List<String>> skipped(Run r) {
    Promotion p = promotion(r).orElse(null);
    if (p == null || !p.brings() || !r.state().applied()) {
      return List.of();
    }
    return tools
        .keeper()
        .read(
            kept ->
                before(kept, p)
                    .filter(stage -> !everAt(kept, p, stage))
                    .map(stage -> List.of(Report.row(r.shown(), of(r), r.site().toString(), stage)))
                    .orElse(List.of()));
  }

  private static Optional<String> before(Kept kept, Promotion p) {
    return kept.applications()
        .find(p.application())
        .flatMap(a -> kept.paths().find(p.path() == null ? a.path() : String.valueOf(p.path())))
        .flatMap((Path path) -> path.before(p.site().stage()));
  }

  private static boolean everAt(Kept kept, Promotion p, String stage) {
    return kept.stages().find(stage).stream()
        .flatMap(s -> s.sites().stream())
        .flatMap(
            s ->
                kept
                    .sites()
                    .find(p.application() + "@" + new SiteKey(stage, s.key()))
                    .map(SiteRecord::placements)
                    .orElse(List.of())
                    .stream())
        .anyMatch(x -> x.version().equals(p.version()));
  }
}
