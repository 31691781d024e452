package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Rollbacks.BringInSaved;
import plenzo.api.Rollbacks.BroughtIn;
import plenzo.api.Rollbacks.Loss;
import plenzo.api.Rollbacks.ObstacleView;
import plenzo.api.Rollbacks.OfferView;
import plenzo.api.Rollbacks.SiteStarted;
import plenzo.api.Rollbacks.SiteWays;
import plenzo.api.Rollbacks.StageWay;
import plenzo.api.Rollbacks.StageWays;
import plenzo.api.Rollbacks.StartRollback;
import plenzo.api.Rollbacks.StartStageRollback;
import plenzo.api.Rollbacks.Started;
import plenzo.api.Rollbacks.TouchedView;
import plenzo.api.Rollbacks.UsedRowView;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.person.Person;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.core.way.Obstacle;
import plenzo.engine.Engine;
import plenzo.engine.returning.BringIn;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.returning.Together;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** The ways back, what is in their way, and going one of them. */
@RestController
@RequestMapping("/api/v1")
class RollbackController {
  /** Components that a way names; how many others it writes is said. */
  private static final int TOUCHED = 100;

  private final Engine engine;

  RollbackController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private static Rollbacks.Wish wish(
      @Nullable String version, @Nullable Map<String, String> choices) {
    Map<String, Decision> chosen = new LinkedHashMap<>();
    if (choices != null) {
      choices.forEach(
          (at, choice) -> {
            try {
              chosen.put(at, Decision.of(choice));
            } catch (IllegalArgumentException e) {
              throw Problem.invalid("CHOICE", e.getMessage() + ".", "/choices");
            }
          });
    }
    return new Rollbacks.Wish(version == null ? null : new SemVer(version), chosen);
  }

  /**
   * Choices of an address: PLACE=keep or PLACE=take-incoming, once each. They are read as they are:
   * a list of Spring's would be cut at the commas of a key of two columns.
   */
  private static Rollbacks.Wish wish(@Nullable String version, HttpServletRequest request) {
    String[] choice = request.getParameterValues("choice");
    Map<String, String> choices = new LinkedHashMap<>();
    for (String one : choice == null ? new String[0] : choice) {
      int at = one.lastIndexOf('=');
      if (at < 1) {
        throw Problem.invalid(
            "CHOICE",
            "A choice is PLACE=keep or PLACE=take-incoming; got \"" + one + "\".",
            "/choice");
      }
      choices.put(one.substring(0, at), one.substring(at + 1));
    }
    return wish(version, choices);
  }

  /** The ways back side by side, each with its counted loss under what was chosen. */
  @GetMapping("/rollback/ways")
  Ways ways(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam(required = false) @Nullable String version,
      @RequestParam(required = false) @Nullable List<String> choice,
      HttpServletRequest request) {
    Person by = by(request);
    SiteKey key = SiteKey.of(site);
    Stage stage = engine.stages().get(by, key.stage());
    VisibleValues sight = VisibleValues.of(engine, by, key.stage(), application);
    List<WayOption> options =
        engine.rollbacks().ways(by, application, key, wish(version, request)).stream()
            .map(o -> view(by, o, sight))
            .toList();
    SemVer present = engine.standing().record(by, application, key).present();
    return new Ways(
        application,
        key.toString(),
        stage.production(),
        present == null ? null : present.text(),
        options,
        Views.may(engine.rollbacks().may(by, application, key)));
  }

  /** The ways back of every site of a stage that a version came to, each site with its own plan. */
  @GetMapping("/rollback/sites")
  StageWays stageWays(
      @RequestParam String application,
      @RequestParam String stage,
      @RequestParam(required = false) @Nullable String leaving,
      @RequestParam(required = false) @Nullable String version,
      @RequestParam(required = false) @Nullable List<String> choice,
      HttpServletRequest request) {
    Person by = by(request);
    Stage at = engine.stages().get(by, stage);
    VisibleValues sight = VisibleValues.of(engine, by, stage, application);
    Together.AtStage all =
        engine.together().ways(by, where(application, stage, leaving, wish(version, request)));
    SiteKey first = new SiteKey(stage, at.sites().get(0).key());
    return new StageWays(
        application,
        stage,
        at.production(),
        all.leaving() == null ? null : all.leaving().text(),
        all.sites().stream()
            .map(
                s ->
                    new SiteWays(
                        s.site().toString(),
                        s.present() == null ? null : s.present().text(),
                        s.leaves(),
                        s.ways().stream().map(o -> view(by, o, sight)).toList()))
            .toList(),
        all.ways().stream()
            .map(
                w ->
                    new StageWay(
                        w.way().code(),
                        w.possible(),
                        w.why(),
                        w.lost(),
                        w.covered(),
                        w.fingerprint() == null ? null : w.fingerprint().shown(),
                        w.fingerprint() == null ? null : w.fingerprint().digest().hex()))
            .toList(),
        Views.may(engine.rollbacks().may(by, application, first)));
  }

  private static Together.Where where(
      String application, String stage, @Nullable String leaving, Rollbacks.Wish wish) {
    return new Together.Where(
        application, stage, leaving == null ? null : new SemVer(leaving), wish);
  }

  /** Goes back at every site that a version came to; each that is covered starts at once. */
  @PostMapping("/rollback/sites")
  List<SiteStarted> startStageRollback(
      @RequestBody StartStageRollback asked, HttpServletRequest request) {
    Person by = by(request);
    Plan.Way way = Plan.Way.of(asked.way());
    Together.Where where =
        where(
            asked.application(),
            asked.stage(),
            asked.leaving(),
            wish(asked.version(), asked.choices()));
    long lost =
        engine.together().known(by, where).ways().stream()
            .filter(w -> w.way() == way)
            .mapToLong(Together.OneWay::lost)
            .findFirst()
            .orElse(0);
    requireConfirmed(lost, asked.application(), asked.confirm());
    return engine.together().start(by, where, way, asked.reason(), asked.expect()).stream()
        .map(o -> started(by, o))
        .toList();
  }

  private SiteStarted started(Person by, Together.Opened o) {
    Promotion p = o.promotion();
    String site = o.site().toString();
    if (p == null) {
      return new SiteStarted(site, null, null, List.of(), Shown.plain(o.problem()));
    }
    try {
      Started s = started(by, p);
      return new SiteStarted(site, s.promotion(), s.run(), s.gates(), "");
    } catch (Problem e) {
      return new SiteStarted(
          site, p.shown(), null, List.of(), Shown.plain(String.valueOf(e.getMessage())));
    }
  }

  private WayOption view(Person by, Rollbacks.Option o, VisibleValues sight) {
    return new WayOption(
        o.way().code(),
        o.possible(),
        o.why(),
        o.unreachable(),
        o.version() == null ? null : o.version().text(),
        o.run() == null ? null : "R-" + o.run(),
        o.run() == null ? null : backupAt(by, o.run()),
        Views.counts(o.counts()),
        o.writes().stream().map(h -> h.name().toLowerCase(Locale.ROOT)).toList(),
        o.lost(),
        o.lossSentence(),
        o.losses().stream().map(l -> new Loss(l.place(), l.sort().shown(), l.count())).toList(),
        o.covered(),
        o.coveredBy(),
        o.fingerprint() == null ? null : new Fingerprint(new Digest(o.fingerprint())).shown(),
        o.fingerprint(),
        o.findings(),
        o.obstacles().stream().map(x -> view(x, sight)).toList(),
        Views.gives(o.gives()),
        o.touched().stream().limit(TOUCHED).map(RollbackController::touched).toList(),
        Math.max(0, o.touched().size() - TOUCHED));
  }

  private static TouchedView touched(Promotion.ComponentResult c) {
    Counts counts = c.counts();
    return new TouchedView(c.key().toString(), counts.removed(), counts.changed(), counts.added());
  }

  /** Keys of rows are values too: who may not see them chooses for all. */
  static ObstacleView view(Obstacle o, VisibleValues sight) {
    return new ObstacleView(
        o.at(),
        o.count(),
        Shown.plain(o.sentence()),
        o.offers().stream()
            .map(x -> new OfferView(x.decision().code(), x.words(), x.loses()))
            .toList(),
        code(o.chosen()),
        sight.guards(o.at())
            ? List.of()
            : o.rows().stream()
                .map(
                    r ->
                        new UsedRowView(r.at(), Shown.plain(r.key()), r.usedBy(), code(r.chosen())))
                .toList());
  }

  private static @Nullable String code(@Nullable Decision d) {
    return d == null ? null : d.code();
  }

  private @Nullable Instant backupAt(Person by, long run) {
    Run.Backup backup = engine.runs().get(by, run).backup();
    return backup == null ? null : backup.at();
  }

  /** Opens a plan that brings in again what was saved before it was lost. */
  @PostMapping("/rollback/bring-in")
  BroughtIn bringIn(@RequestBody BringInSaved asked, HttpServletRequest request) {
    BringIn.Opened opened =
        engine
            .bringIn()
            .open(
                by(request),
                asked.application(),
                SiteKey.of(asked.site()),
                asked.lines(),
                asked.notes() == null ? "" : asked.notes());
    return new BroughtIn(
        opened.promotion().shown(), opened.notTaken().stream().map(Shown::plain).toList());
  }

  /** Every value that a way back would lose, as a CSV file: table, key, column, value. */
  @GetMapping(value = "/rollback/lost", produces = "text/csv")
  void lost(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam String way,
      @RequestParam(required = false) @Nullable String version,
      @RequestParam(required = false) @Nullable List<String> choice,
      HttpServletRequest request,
      HttpServletResponse response) {
    CsvAnswer answer =
        new CsvAnswer(response, application + "-" + site.replace('/', '-') + "-lost.csv");
    engine
        .rollbacks()
        .lost(
            by(request),
            application,
            SiteKey.of(site),
            Plan.Way.of(way),
            wish(version, request),
            answer);
    answer.finish();
  }

  /**
   * Goes back: at once when the last run's approvals cover it, else as a plan that waits for
   * approval.
   */
  @PostMapping("/rollback")
  Started startRollback(@RequestBody StartRollback asked, HttpServletRequest request) {
    Person by = by(request);
    SiteKey site = SiteKey.of(asked.site());
    Plan.Way way = Plan.Way.of(asked.way());
    Rollbacks.Wish wish = wish(asked.version(), asked.choices());
    long lost = engine.rollbacks().loses(by, asked.application(), site, way, wish, asked.expect());
    requireConfirmed(lost, asked.application(), asked.confirm());
    return started(
        by,
        engine
            .rollbacks()
            .start(by, asked.application(), site, way, wish, asked.reason(), asked.expect()));
  }

  private static void requireConfirmed(long lost, String application, @Nullable String confirm) {
    if (lost != 0 && !application.equals(confirm)) {
      throw new Problem(
          Problem.Reason.NEEDS_CONFIRMATION,
          "CONFIRM",
          "Going back this way loses "
              + (lost < 0
                  ? "rows that cannot be counted"
                  : lost + (lost == 1 ? " row or value" : " rows or values"))
              + ".",
          List.of("Confirm with the application's name: --confirm " + application),
          "/confirm");
    }
  }

  /** Starts what is agreed already; the rest waits. */
  private Started started(Person by, Promotion p) {
    if (p.state() != PromotionState.AGREED) {
      return new Started(p.shown(), null, Views.gates(engine.promotions().gates(p)));
    }
    return new Started(
        p.shown(),
        engine.runs().start(by, p.number(), p.requirePlan().fingerprint().digest().hex()).shown(),
        List.of());
  }
}
