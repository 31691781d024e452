package plenzo.engine.looking;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.gate.Blockers;
import plenzo.core.gate.GateReport;
import plenzo.core.gate.Rejected;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.CaseMay;
import plenzo.core.may.RunMay;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Urgency;
import plenzo.core.proposal.Proposal;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Activity;
import plenzo.core.stage.Application;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Steering;
import plenzo.engine.sealing.SourceWatch;

/** Where every version is, whether it is intact, and what is under way or waits. */
public final class Standing {
  private final Tools tools;
  private final SourceWatch sources;
  private final Overview overview;

  public Standing(Tools tools, Promotions promotions, SourceWatch sources) {
    this.sources = sources;
    this.tools = tools;
    this.overview = new Overview(tools, promotions);
  }

  /**
   * One application at one site.
   *
   * @param activity what is under way, or null
   * @param closedBy the run or person that let only operators in and has not let everybody in again
   * @param yesOwed what emergencies owe that were run there
   * @param owes versions whose fixes the present one does not have
   * @param behind how many versions newer than the present one there are
   */
  public record Cell(
      SiteKey site,
      boolean production,
      @Nullable SemVer version,
      Condition condition,
      String note,
      @Nullable Activity activity,
      String activityText,
      @Nullable String link,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      boolean judged,
      @Nullable String closedBy,
      List<SiteRecord.Owed> yesOwed,
      List<String> owes,
      int behind) {}

  /**
   * One application: its newest version, what its source has that is in no version, and a cell for
   * each site of its path.
   */
  public record Line(
      Application application,
      @Nullable SemVer newest,
      String source,
      SourceRecord seen,
      String warning,
      List<Cell> cells) {}

  /**
   * Which lines.
   *
   * @param find only applications whose key, name or owner contains it; empty for all
   * @param stage with {@code condition}: only those with a site of this stage in that condition
   * @param after the page begins behind this key, null for the first
   */
  public record Asked(
      String find,
      @Nullable String stage,
      @Nullable Condition condition,
      @Nullable String after,
      int limit) {
    private boolean takes(Overview.Row row) {
      String text = find.toLowerCase(Locale.ROOT);
      Application a = row.app().application();
      boolean found =
          text.isEmpty()
              || List.of(a.key(), a.name(), a.owner()).stream()
                  .anyMatch(x -> x.toLowerCase(Locale.ROOT).contains(text));
      return found
          && (condition == null
              || row.places().stream()
                  .anyMatch(
                      p ->
                          p.condition() == condition
                              && (stage == null || p.site().stage().equals(stage))));
    }
  }

  /**
   * A page of lines, the worst first, and what is true of all that the person may see.
   *
   * @param next behind which key the next page begins, null when this is the last
   * @param found how many lines there are of what was asked
   * @param applications how many lines the person may see in all
   * @param conditions how many sites of each stage are in each condition
   * @param goingIntoProduction what is under way there, with the application's key
   */
  public record Page(
      List<Line> lines,
      @Nullable String next,
      int found,
      int applications,
      Map<String, Map<Condition, Integer>> conditions,
      List<Going> goingIntoProduction,
      int waiting,
      int goodInProduction,
      int inProduction) {}

  /** Something that is under way in production. */
  public record Going(String application, Cell cell) {}

  /** One page. */
  public Page page(Person by, Asked asked) {
    Overview.Rows seen = overview.seen(Sight.of(by, Right.LOOK));
    List<Overview.Row> found =
        asked.find().isEmpty() && asked.condition() == null
            ? seen.rows()
            : seen.rows().stream().filter(asked::takes).toList();
    String after = asked.after();
    List<Overview.Row> rest =
        found.stream()
            .dropWhile(r -> after != null && r.key().compareTo(after) <= 0)
            .limit(asked.limit() + 1L)
            .toList();
    boolean more = rest.size() > asked.limit();
    List<Overview.Row> page = more ? rest.subList(0, asked.limit()) : rest;
    return new Page(
        page.stream().map(r -> line(by, r)).toList(),
        more ? page.get(page.size() - 1).key() : null,
        found.size(),
        seen.rows().size(),
        seen.conditions(),
        going(by, seen),
        waiting(by).size(),
        seen.goodInProduction(),
        seen.inProduction());
  }

  private List<Going> going(Person by, Overview.Rows seen) {
    List<Going> out = new ArrayList<>();
    for (Overview.Row row : seen.busy()) {
      Application a = row.app().application();
      for (Overview.Place p : row.places()) {
        if (p.production()) {
          Cell cell = cell(by, p, overview.open(a), row.app().paused());
          if (cell.activity() != null && cell.activity() != Activity.FROZEN) {
            out.add(new Going(a.key(), cell));
          }
        }
      }
    }
    return out;
  }

  /** Every line that the person may see, the worst first. */
  public List<Line> lines(Person by) {
    return overview.seen(Sight.of(by, Right.LOOK)).rows().stream().map(r -> line(by, r)).toList();
  }

  private Line line(Person by, Overview.Row row) {
    Overview.App app = row.app();
    List<Overview.Open> open = overview.open(app.application());
    return new Line(
        app.application(),
        app.highest(),
        app.source(),
        app.seen(),
        sources.warning(app.application(), app.seen(), app.newest()),
        row.places().stream().map(p -> cell(by, p, open, app.paused())).toList());
  }

  private Cell cell(
      Person by, Overview.Place place, List<Overview.Open> open, List<Overview.Paused> paused) {
    Promotion pressing = null;
    Activity activity = null;
    for (Overview.Open o : open) {
      Promotion p = o.promotion();
      Activity is = p.site().equals(place.site()) ? activity(by, o) : null;
      if (is != null && (activity == null || is.compareTo(activity) < 0)) {
        activity = is;
        pressing = p;
      }
    }
    String text =
        pressing == null || activity == null ? "" : pressing.version() + " " + activity.code();
    String link = pressing == null ? null : pressing.shown();
    for (Overview.Paused waiting : paused) {
      if (waiting.run().site().equals(place.site())) {
        activity = asked(by, waiting).isPresent() ? Activity.WAITING_FOR_YOU : Activity.PAUSED;
        text = waiting.run().version() + stands(waiting.run());
        link = waiting.run().shown();
      }
    }
    if (place.failed() != null && activity != Activity.RUNNING) {
      activity = Activity.FAILED;
      text = place.failed() + " failed";
      link = place.failed();
    }
    return new Cell(
        place.site(),
        place.production(),
        place.version(),
        place.condition(),
        place.note(),
        activity,
        text,
        link,
        place.since(),
        place.lookedAt(),
        place.judged(),
        place.closedBy(),
        place.yesOwed(),
        place.owes(),
        place.behind());
  }

  private @Nullable Activity activity(Person by, Overview.Open o) {
    return switch (o.promotion().state()) {
      case RUNNING -> Activity.RUNNING;
      case FAILED -> Activity.FAILED;
      case READY, AGREED -> waits(by, o) ? Activity.WAITING_FOR_YOU : Activity.WAITING_FOR_OTHERS;
      default -> null;
    };
  }

  /** Where a paused run stands: what its site holds is no more what is recorded there. */
  private static String stands(Run run) {
    return run.between() ? " paused after its switch, not let in yet" : " paused";
  }

  /** What a paused run asks of the person; empty when it is not them who can let it go on. */
  private Optional<String> asked(Person by, Overview.Paused waiting) {
    Run run = waiting.run();
    Course.Pause pause = run.pause();
    if (pause == null) {
      return Optional.empty();
    }
    RunMay may = Steering.may(tools, by, run, waiting.rollback());
    if (pause.why() == Course.Why.PERSON) {
      return may.may(RunMay.Deed.RESUME).allowed()
          ? Optional.of("Paused by " + pause.by() + ": " + pause.reason())
          : Optional.empty();
    }
    if (pause.why() == Course.Why.ANSWERS) {
      return may.may(RunMay.Deed.LET_IN).allowed() || may.may(RunMay.Deed.END).allowed()
          ? Optional.of("Users are out: " + pause.reason())
          : Optional.empty();
    }
    List<String> work =
        run.steps().stream()
            .filter(s -> s.manual() != null && may.word(s).allowed())
            .map(
                s ->
                    s.requireManual().step().title()
                        + (s.requireManual().overdue(tools.now()) ? " (overdue)" : ""))
            .toList();
    return work.isEmpty() ? Optional.empty() : Optional.of(String.join("; ", work));
  }

  private static String asks(Course.Why why) {
    return switch (why) {
      case BY_HAND -> "do by hand";
      case ANSWERS -> "let in or go back";
      case PERSON -> "let it go on";
    };
  }

  private void paused(Person by, Overview.Row row, List<Waiting> out) {
    for (Overview.Paused waiting : row.app().paused()) {
      Run run = waiting.run();
      Course.Pause pause = run.pause();
      if (pause != null && by.may(Right.LOOK, run.site().stage(), run.application())) {
        asked(by, waiting)
            .ifPresent(
                what ->
                    out.add(
                        new Waiting(
                            asks(pause.why()),
                            run.shown(),
                            run.site(),
                            run.application(),
                            new SemVer(run.version()),
                            what,
                            pause.since(),
                            Press.PAUSED.ordinal())));
      }
    }
  }

  private boolean waits(Person by, Overview.Open o) {
    GateReport gates = o.gates();
    return gates != null && new CaseMay(o.duties(), by, gates, tools.everybody()).waitsForYou();
  }

  /** How pressing what waits is, the most first. */
  private enum Press {
    HALF_WRITTEN,
    PAUSED,
    JUDGED_BAD,
    FAILED,
    LEFT_CLOSED,
    CASE,
    DIFFERS
  }

  /**
   * One thing that waits for the person.
   *
   * @param link where it is done: a promotion, a run, waves, a change ("CH-3"), "release NAME", or
   *     a page of the site: "ways-back", "drift" or "maintenance"
   * @param site null for what is of no site
   * @param application empty for what is of none
   * @param version null for what is of none
   */
  public record Waiting(
      String what,
      String link,
      @Nullable SiteKey site,
      String application,
      @Nullable SemVer version,
      String sentence,
      Instant since,
      int rank) {
    /** Ascending along the list, and different for each. */
    public String key() {
      return String.format(
          Locale.ROOT,
          "%d.%019d.%s.%s.%s@%s",
          rank,
          ChronoUnit.MICROS.between(Instant.EPOCH, since),
          link,
          what,
          application,
          site);
    }
  }

  /** What is still open of a case whose plan stands; empty when it stands no more. */
  public Optional<GateReport> gates(long promotion) {
    return overview.everything().open().stream()
        .filter(o -> o.promotion().number() == promotion && o.gates() != null)
        .map(Overview.Open::gates)
        .findFirst();
  }

  /**
   * Everything that waits for the person: what is half written first, then by how pressing it is.
   */
  public List<Waiting> waiting(Person by) {
    Overview.Rows seen = overview.seen(Sight.of(by, Right.LOOK));
    List<Waiting> out = new ArrayList<>();
    Set<String> releases = new HashSet<>();
    seen.open()
        .forEach(
            o -> {
              decisions(by, o, releases, out);
              told(by, o.promotion(), o.duties().leg(), out);
            });
    seen.unjudged().forEach(u -> verdict(by, u, out));
    seen.rows().forEach(row -> paused(by, row, out));
    seen.rows()
        .forEach(
            row -> row.places().forEach(p -> trouble(by, row.app().application().key(), p, out)));
    seconds(by, out);
    out.sort(Comparator.comparing(Waiting::key));
    return out;
  }

  /** An emergency, for whoever its leg tells of one. */
  private static void told(Person by, Promotion p, Leg leg, List<Waiting> out) {
    Urgency declared = p.urgency();
    if (declared == null || !by.may(Right.LOOK, p.site().stage(), p.application())) {
      return;
    }
    Emergency allowed = leg.emergency();
    if (allowed == null || !allowed.tells().contains(by.login())) {
      return;
    }
    Urgency.Said first = declared.said().get(0);
    out.add(
        new Waiting(
            "take note of an emergency",
            p.shown(),
            p.site(),
            p.application(),
            p.version(),
            first.by() + " declared that it cannot wait: " + first.reason(),
            first.at(),
            Press.PAUSED.ordinal()));
  }

  /** Changes of what guards production, for whoever may be their second person. */
  private void seconds(Person by, List<Waiting> out) {
    if (!by.may(Right.ADMINISTER, Person.ANY, Person.ANY)) {
      return;
    }
    List<Proposal> open =
        tools
            .keeper()
            .read(kept -> kept.proposals().list(Kept.Filter.state(Proposal.State.OPEN.code())));
    open.stream()
        .filter(p -> p.mayDecide(by, tools.everybody()).allowed())
        .forEach(
            p ->
                out.add(
                    new Waiting(
                        "agree or decline",
                        p.shown(),
                        /* site= */ null,
                        "",
                        /* version= */ null,
                        p.by() + " asks to change " + p.change().words() + ": " + p.words(),
                        p.at(),
                        Press.CASE.ordinal())));
  }

  private void decisions(Person by, Overview.Open o, Set<String> releases, List<Waiting> out) {
    Promotion p = o.promotion();
    GateReport gates = o.gates();
    if (gates == null
        || !by.may(Right.LOOK, p.site().stage(), p.application())
        || !waits(by, o)
        // a release is approved and started as one
        || (p.release() != null && !releases.add(p.release() + "@" + p.site()))
        || (p.waves() != null && !releases.add(p.waves()))) {
      return;
    }
    String what =
        p.state() == PromotionState.AGREED
            ? "start"
            : gates.has(Blockers.class)
                ? "put right"
                : gates.has(Rejected.class) ? "change or withdraw" : "approve";
    out.add(
        new Waiting(
            what,
            p.waves() != null
                ? p.waves()
                : p.release() == null ? p.shown() : "release " + p.release(),
            p.site(),
            p.application(),
            p.version(),
            gates.words(),
            p.preparedAt(),
            Press.CASE.ordinal()));
  }

  private static void verdict(Person by, Overview.Unjudged u, List<Waiting> out) {
    Overview.Place place = u.place();
    SemVer present = place.version();
    Instant since = place.since();
    if (present != null
        && since != null
        && by.may(Right.JUDGE, place.site().stage(), u.application())) {
      out.add(
          new Waiting(
              "judge",
              "R-" + place.broughtBy(),
              place.site(),
              u.application(),
              present,
              place.condition() == Condition.TO_LOOK_AT
                  ? place.note() + ", and good or bad is not said yet"
                  : "Good or bad is not said yet",
              since,
              Press.CASE.ordinal()));
    }
  }

  private static Waiting owed(
      String application, SemVer version, SiteKey at, SiteRecord.Owed owed) {
    return new Waiting(
        "approve",
        "P-" + owed.promotion(),
        at,
        application,
        version,
        "An emergency ran without the yes that it owes",
        owed.until(),
        Press.CASE.ordinal());
  }

  /** What is wrong with a site itself, and what this person may do about it. */
  private static void trouble(Person by, String application, Overview.Place p, List<Waiting> out) {
    SemVer version = p.version();
    if (version == null) {
      return;
    }
    SiteKey at = p.site();
    Instant since = p.since() == null ? Instant.EPOCH : p.since();
    boolean half = p.condition() == Condition.HALF_WRITTEN;
    boolean bad = p.condition() == Condition.JUDGED_BAD;
    boolean goesBack = by.may(Right.GO_BACK, at.stage(), application);
    boolean prepares = by.may(Right.PREPARE, at.stage(), application);
    if (half && (goesBack || prepares)) {
      String run = p.failed() == null ? "" : " by " + p.failed();
      out.add(
          new Waiting(
              "finish or go back",
              p.failed() == null ? "ways-back" : p.failed(),
              at,
              application,
              version,
              "Half written" + run + ": some targets have the new version, some the old one",
              since,
              Press.HALF_WRITTEN.ordinal()));
    } else if (p.failed() != null && (goesBack || prepares)) {
      out.add(
          new Waiting(
              "see why it failed",
              p.failed(),
              at,
              application,
              version,
              p.failed() + " did not bring its version",
              since,
              Press.FAILED.ordinal()));
    }
    if (by.may(Right.APPROVE, at.stage(), application)) {
      p.yesOwed().forEach(o -> out.add(owed(application, version, at, o)));
    }
    if (bad && goesBack) {
      out.add(
          new Waiting(
              "go back",
              "ways-back",
              at,
              application,
              version,
              "Judged bad: " + p.note(),
              since,
              Press.JUDGED_BAD.ordinal()));
    }
    if (p.closedBy() != null && by.may(Right.OPERATE, at.stage(), application)) {
      out.add(
          new Waiting(
              "let everybody in",
              "maintenance",
              at,
              application,
              version,
              "Only operators are let in since " + p.closedBy(),
              since,
              Press.LEFT_CLOSED.ordinal()));
    }
    if (p.condition() == Condition.DRIFTED && prepares) {
      out.add(
          new Waiting(
              "settle what differs",
              "drift",
              at,
              application,
              version,
              p.note(),
              since,
              Press.DIFFERS.ordinal()));
    }
  }

  /** What was where at a past time: the last placement before it at each site. */
  public record Past(String application, SiteKey site, String version, String how, Instant since) {}

  /** Sites that had something then, a part of all sites at a time. */
  public Slice<Past> at(Person by, Instant when, Kept.Filter part) {
    Sight sight = Sight.of(by, Right.LOOK);
    Slice<SiteRecord> records = tools.keeper().read(kept -> kept.sites().slice(part, sight));
    List<Past> out = new ArrayList<>();
    for (SiteRecord r : records.items()) {
      Optional<SiteRecord.Placement> last =
          r.placements().stream().filter(p -> !p.at().isAfter(when)).reduce((a, b) -> b);
      last.ifPresent(
          p -> out.add(new Past(r.application(), r.site(), p.version().text(), p.how(), p.at())));
    }
    out.sort(Comparator.comparing(Past::application).thenComparing(Past::site));
    return new Slice<>(out, records.next());
  }

  public SiteRecord record(Person by, String application, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return tools
        .keeper()
        .read(kept -> kept.sites().find(application + "@" + site))
        .orElse(SiteRecord.none(application, site));
  }
}
