package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import plenzo.api.Page;
import plenzo.api.Rollbacks.Loss;
import plenzo.api.Rollbacks.StartRollback;
import plenzo.api.Rollbacks.Started;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;
import plenzo.api.Runs.BackupView;
import plenzo.api.Runs.LogView;
import plenzo.api.Runs.RunLine;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.Start;
import plenzo.api.Versions.Reason;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Runs, their logs and events, backups, and going back. */
@RestController
@RequestMapping("/api/v1")
class RunController {
  private final Engine engine;
  private final EventHub events;

  RunController(Engine engine, EventHub events) {
    this.engine = engine;
    this.events = events;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private RunView view(Person by, Run r) {
    Promotion p = engine.promotions().get(by, r.promotion());
    Stage stage = engine.promotions().stage(p);
    return Views.run(
        r,
        stage,
        p,
        engine.runs().mayAbort(by, r),
        engine.runs().place(r),
        engine.runs().usual(r),
        VisibleValues.of(engine, by, p).values());
  }

  @PostMapping("/promotions/{number}/runs")
  RunView start(@PathVariable String number, @RequestBody Start asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .runs()
            .start(
                by(request),
                PromotionController.number(number, "P-"),
                String.valueOf(asked.expect())));
  }

  @GetMapping("/runs")
  Page<RunLine> runs(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String stage,
      @RequestParam(required = false) @Nullable String promotion,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    if (promotion != null) {
      Promotion p = engine.promotions().get(by, PromotionController.number(promotion, "P-"));
      return Paging.page(
          Slice.whole(engine.runs().of(p).stream().map(r -> RunHead.of(r, p.rollback())).toList()),
          this::line);
    }
    Kept.Filter filter = Kept.Filter.application(application).stage(stage);
    return Paging.page(engine.runs().list(by, Paging.part(filter, cursor, limit)), this::line);
  }

  private RunLine line(RunHead r) {
    return new RunLine(
        r.shown(),
        r.promotionShown(),
        r.application(),
        r.version(),
        r.before(),
        r.site().toString(),
        engine.stages().production(r.site().stage()),
        r.rollback(),
        r.state().code(),
        r.startedBy(),
        r.queuedAt(),
        r.startedAt(),
        r.endedAt(),
        r.proof());
  }

  @GetMapping("/runs/{number}")
  RunView run(@PathVariable String number, HttpServletRequest request) {
    return view(
        by(request), engine.runs().get(by(request), PromotionController.number(number, "R-")));
  }

  @GetMapping("/runs/{number}/log")
  LogView log(@PathVariable String number, HttpServletRequest request) {
    return new LogView(
        engine
            .runs()
            .log(by(request), PromotionController.number(number, "R-"))
            .lines()
            .map(Shown::plain)
            .toList());
  }

  @PostMapping("/runs/{number}/abort")
  RunView abort(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    return view(
        by(request),
        engine.runs().abort(by(request), PromotionController.number(number, "R-"), asked.reason()));
  }

  /** Live changes of runs and their log lines. */
  @GetMapping(path = "/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter events(
      @RequestHeader(name = "Last-Event-ID", required = false) @Nullable Long after,
      HttpServletRequest request) {
    String secret = Asking.secret(request);
    return events.open(
        by(request).login(),
        () ->
            secret == null
                ? null
                : engine
                    .accessKeys()
                    .whoHolds(secret)
                    .map(AccessKeys.SignedIn::person)
                    .orElse(null),
        after);
  }

  /** Backups by the run that made them, newest first. */
  @GetMapping("/backups")
  Page<BackupView> backups(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    return Paging.page(
        Slice.filled(
            Paging.part(Kept.Filter.application(application), cursor, limit),
            part -> engine.runs().whole(by, part),
            r -> r.backup() != null),
        r -> Views.backup(r, Objects.requireNonNull(r.backup())));
  }

  /** The ways back side by side, each with its counted loss. */
  @GetMapping("/rollback/ways")
  Ways ways(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam(required = false) @Nullable String version,
      HttpServletRequest request) {
    Person by = by(request);
    SiteKey key = SiteKey.of(site);
    Stage stage = engine.stages().get(by, key.stage());
    List<WayOption> options =
        engine
            .rollbacks()
            .ways(by, application, key, version == null ? null : new SemVer(version))
            .stream()
            .map(
                o ->
                    new WayOption(
                        o.way().code(),
                        o.possible(),
                        o.why(),
                        o.unreachable(),
                        o.version() == null ? null : o.version().text(),
                        o.run() == null ? null : "R-" + o.run(),
                        o.run() == null ? null : backupAt(by, o.run()),
                        Views.counts(o.counts()),
                        o.lost(),
                        o.lossSentence(),
                        o.losses().stream()
                            .map(l -> new Loss(l.place(), l.sort().shown(), l.count()))
                            .toList(),
                        o.covered(),
                        o.coveredBy(),
                        o.fingerprint() == null
                            ? null
                            : new Fingerprint(new Digest(o.fingerprint())).shown(),
                        o.fingerprint(),
                        o.findings()))
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

  private @Nullable Instant backupAt(Person by, long run) {
    Run.Backup backup = engine.runs().get(by, run).backup();
    return backup == null ? null : backup.at();
  }

  /** Every value that a way back would lose, as a CSV file: table, key, column, value. */
  @GetMapping(value = "/rollback/lost", produces = "text/csv")
  void lost(
      @RequestParam String application,
      @RequestParam String site,
      @RequestParam String way,
      @RequestParam(required = false) @Nullable String version,
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
            version == null ? null : new SemVer(version),
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
    SemVer to = asked.version() == null ? null : new SemVer(asked.version());
    long lost =
        engine.rollbacks().ways(by, asked.application(), site, to).stream()
            .filter(o -> o.way() == way)
            .findFirst()
            .orElseThrow()
            .lost();
    if (lost != 0 && !asked.application().equals(asked.confirm())) {
      throw new Problem(
          Problem.Reason.NEEDS_CONFIRMATION,
          "CONFIRM",
          "Going back this way loses "
              + (lost < 0 ? "rows that cannot be counted" : lost + " rows or values")
              + ".",
          List.of("Confirm with the application's name: --confirm " + asked.application()),
          "/confirm");
    }
    Promotion p =
        engine
            .rollbacks()
            .start(by, asked.application(), site, way, to, asked.reason(), asked.expect());
    if (p.state() != PromotionState.AGREED) {
      return new Started(p.shown(), null, Views.gates(engine.promotions().gates(p)));
    }
    return new Started(
        p.shown(),
        engine.runs().start(by, p.number(), p.requirePlan().fingerprint().digest().hex()).shown(),
        List.of());
  }
}
