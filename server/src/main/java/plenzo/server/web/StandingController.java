package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Standings.AnchorView;
import plenzo.api.Standings.ChainView;
import plenzo.api.Standings.GoingItem;
import plenzo.api.Standings.GoingView;
import plenzo.api.Standings.HeadView;
import plenzo.api.Standings.HistoryView;
import plenzo.api.Standings.NewerView;
import plenzo.api.Standings.OwedView;
import plenzo.api.Standings.PastView;
import plenzo.api.Standings.PlacementView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Standings.SourceView;
import plenzo.api.Standings.StageHead;
import plenzo.api.Standings.StandingCell;
import plenzo.api.Standings.StandingLine;
import plenzo.api.Standings.StandingView;
import plenzo.api.Standings.VerdictView;
import plenzo.api.Standings.VerifyHistory;
import plenzo.api.Standings.VerifyingView;
import plenzo.api.Standings.WaitingView;
import plenzo.api.Versions.Reason;
import plenzo.core.history.Anchor;
import plenzo.core.history.Thing;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Condition;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.engine.Engine;
import plenzo.engine.looking.History;
import plenzo.engine.looking.Standing;
import plenzo.engine.recording.Saving;
import plenzo.engine.setup.RecordsAge;
import plenzo.packages.SignedHead;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Where things stand, what waits for the person, drift and history. */
@RestController
@RequestMapping("/api/v1")
class StandingController {
  /** How much of what goes into production is told at once. */
  private static final int GOING = 20;

  private final Engine engine;

  StandingController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /**
   * Where every version is, the worst first.
   *
   * @param find only applications whose key, name or owner contains it
   * @param stage with {@code condition}: only those with a site of this stage in that condition
   */
  @GetMapping("/standing")
  StandingView standing(
      @RequestParam(defaultValue = "") String find,
      @RequestParam(required = false) @Nullable String stage,
      @RequestParam(required = false) @Nullable String condition,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    Standing.Page page =
        engine
            .standing()
            .page(
                by,
                new Standing.Asked(
                    find,
                    stage,
                    condition == null ? null : Condition.of(condition),
                    cursor,
                    Paging.limit(limit)));
    List<StageHead> heads = new ArrayList<>();
    for (Stage s : engine.stages().list(by)) {
      if (s.role() != Stage.Role.DEVELOPMENT) {
        Map<String, Integer> counts = new LinkedHashMap<>();
        page.conditions()
            .getOrDefault(s.key(), Map.of())
            .forEach((c, n) -> counts.put(c.code(), n));
        heads.add(new StageHead(s.key(), s.name(), s.production(), counts));
      }
    }
    return new StandingView(
        engine.tools().now(),
        heads,
        page.lines().stream().map(StandingController::line).toList(),
        page.next(),
        page.found(),
        page.applications(),
        new GoingView(
            page.goingIntoProduction().size(),
            page.goingIntoProduction().stream()
                .limit(GOING)
                .map(g -> new GoingItem(g.application(), cell(g.cell())))
                .toList()),
        page.waiting(),
        page.goodInProduction(),
        page.inProduction());
  }

  private static StandingLine line(Standing.Line l) {
    return new StandingLine(
        l.application().key(),
        l.application().name(),
        l.application().owner(),
        l.newest() == null ? null : l.newest().text(),
        l.source(),
        source(l.seen(), l.warning()),
        l.cells().stream().map(StandingController::cell).toList());
  }

  private static StandingCell cell(Standing.Cell c) {
    return new StandingCell(
        c.site().toString(),
        c.production(),
        c.version() == null ? null : c.version().text(),
        c.condition().code(),
        Shown.plain(c.note()),
        c.activity() == null ? null : c.activity().code(),
        c.activityText(),
        c.link(),
        c.since(),
        c.lookedAt(),
        c.judged(),
        c.closedBy(),
        c.yesOwed().stream()
            .map(o -> new OwedView("P-" + o.promotion(), o.until(), o.overdue(Instant.now())))
            .toList(),
        c.owes(),
        c.behind());
  }

  static SourceView source(SourceRecord r, String warning) {
    return new SourceView(
        r.against() == null ? null : r.against().text(),
        r.changed(),
        r.since(),
        r.lookedAt(),
        Shown.plain(r.trouble()),
        warning);
  }

  /** What was where at a past time; the pages together, in no order across them. */
  @GetMapping("/standing/past")
  Page<PastView> past(
      @RequestParam String at,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Instant when;
    try {
      when = Instant.parse(at);
    } catch (java.time.format.DateTimeParseException e) {
      throw Problem.invalid(
          "TIME", "\"" + at + "\" is not a time such as 2026-06-03T20:00:00Z (RFC 3339).", "/at");
    }
    return Paging.page(
        engine.standing().at(by(request), when, Paging.part(Kept.Filter.all(), cursor, limit)),
        p -> new PastView(p.application(), p.site().toString(), p.version(), p.how(), p.since()));
  }

  /** What waits for the person, the longest first. */
  @GetMapping("/waiting")
  Page<WaitingView> waiting(
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    return Paging.keyed(
        engine.standing().waiting(by(request)),
        Standing.Waiting::key,
        cursor,
        limit,
        w ->
            new WaitingView(
                w.what(),
                w.link(),
                w.site() == null ? "" : w.site().toString(),
                w.application(),
                w.version() == null ? "" : w.version().text(),
                w.sentence(),
                w.since()));
  }

  @GetMapping("/records/{application}/{stage}/{site}")
  RecordView record(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      HttpServletRequest request) {
    return view(
        by(request), engine.standing().record(by(request), application, new SiteKey(stage, site)));
  }

  /** Looks at a site now: does it still hold what is recorded? */
  @PostMapping("/records/{application}/{stage}/{site}/look")
  RecordView look(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      HttpServletRequest request) {
    return view(
        by(request), engine.drift().look(by(request), application, new SiteKey(stage, site)));
  }

  @PostMapping("/records/{application}/{stage}/{site}/close-failure")
  RecordView closeFailure(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody Reason asked,
      HttpServletRequest request) {
    engine
        .verdicts()
        .closeFailure(by(request), application, new SiteKey(stage, site), asked.reason());
    return record(application, stage, site, request);
  }

  RecordView view(Person by, SiteRecord r) {
    VisibleValues sight = VisibleValues.of(engine, by, r.site().stage(), r.application());
    List<PlacementView> placements = new ArrayList<>();
    r.placements()
        .forEach(
            p ->
                placements.add(
                    new PlacementView(
                        p.version().text(),
                        p.how(),
                        p.run() == null ? null : "R-" + p.run(),
                        p.at(),
                        p.by())));
    return new RecordView(
        r.application(),
        r.site().toString(),
        r.present() == null ? null : r.present().text(),
        r.condition().code(),
        r.drift(),
        Views.places(r.look().examples(), sight),
        r.look().at(),
        r.look().reachable(),
        r.older() == 0 ? null : "R-" + r.older(),
        r.closedBy(),
        placements,
        r.verdicts().stream()
            .map(
                v ->
                    new VerdictView(
                        v.version().text(),
                        v.good(),
                        v.reason(),
                        v.by(),
                        v.at(),
                        v.evidence().stream().map(n -> "E-" + n).toList()))
            .toList(),
        Views.places(r.exceptions(), sight),
        Views.left(r, engine.tools().now(), sight),
        r.lastGood().map(v -> v.text()).orElse(null));
  }

  @GetMapping("/history")
  Page<HistoryView> history(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String stage,
      @RequestParam(required = false) @Nullable String event,
      @RequestParam(required = false) @Nullable String actor,
      @RequestParam(required = false) @Nullable String of,
      @RequestParam(required = false) @Nullable String text,
      @RequestParam(required = false) @Nullable String site,
      @RequestParam(required = false) @Nullable String task,
      @RequestParam(required = false) @Nullable Instant from,
      @RequestParam(required = false) @Nullable Instant until,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    return Paging.page(
        of == null
            ? engine
                .history()
                .find(
                    by(request),
                    new Kept.HistoryFilter(
                        application, stage, event, actor, Paging.from(cursor), Paging.limit(limit)),
                    new History.Sought(site, text, task, from, until))
            : engine
                .history()
                .changes(by(request), Thing.of(of), Paging.from(cursor), Paging.limit(limit)),
        e ->
            new HistoryView(
                e.sequence(),
                e.at(),
                e.actor(),
                e.event(),
                e.application(),
                e.stage(),
                e.site(),
                e.version(),
                e.promotion() == null ? null : "P-" + e.promotion(),
                e.run() == null ? null : "R-" + e.run(),
                Shown.plain(e.text()),
                e.hash()));
  }

  /**
   * A stretch of the history as a file that is checked without this service.
   *
   * @param until left out: now
   * @param evidence whether records of promotions and files of evidence go with it
   */
  @GetMapping(value = "/history/saved", produces = "application/zip")
  void saved(
      @RequestParam Instant from,
      @RequestParam(required = false) @Nullable Instant until,
      @RequestParam(defaultValue = "false") boolean evidence,
      HttpServletRequest request,
      HttpServletResponse response)
      throws IOException {
    Instant end = until == null ? engine.tools().now() : until;
    Saving.Saved saved = engine.saving().save(by(request), from, end, evidence);
    try (InputStream in = saved.bytes()) {
      response.setContentType("application/zip");
      response.setContentLengthLong(saved.size());
      response.setHeader("Content-Disposition", "attachment; filename=\"history.zip\"");
      in.transferTo(response.getOutputStream());
    }
  }

  /** Whether the past is as it was, checked from the heads that targets and packages hold. */
  @GetMapping("/history/verify")
  ChainView verify(HttpServletRequest request) {
    return chain(engine.history().verify(by(request), null));
  }

  /** How far the caller's own check is, while it is under way. */
  @GetMapping("/history/verify/progress")
  VerifyingView verifying(HttpServletRequest request) {
    History.Progress p = engine.history().verifying(by(request));
    return new VerifyingView(p.checked(), p.of());
  }

  /** The same, from a head that somebody kept in a file too. */
  @PostMapping("/history/verify")
  ChainView verifyFrom(@RequestBody VerifyHistory asked, HttpServletRequest request) {
    return chain(engine.history().verify(by(request), asked.head()));
  }

  private static ChainView chain(History.Chain c) {
    return new ChainView(
        c.entries(),
        c.head().hash(),
        c.broken(),
        c.whole(),
        c.anchors().stream()
            .map(
                a ->
                    new AnchorView(
                        a.where(), a.anchor().number(), a.anchor().hash(), a.holds(), a.why()))
            .toList(),
        Views.texts(c.silent()));
  }

  /** The head of now, signed, to be kept elsewhere. */
  @GetMapping("/history/head")
  HeadView head(HttpServletRequest request) {
    String signed = engine.history().head(by(request));
    Anchor anchor = SignedHead.read(signed).anchor();
    return new HeadView(anchor.number(), anchor.hash(), signed);
  }

  /** Runs that targets remember and the records do not know: they are older. */
  @GetMapping("/server/newer")
  List<NewerView> newer(HttpServletRequest request) {
    by(request);
    return engine.recordsAge().newer(silent -> {}).stream().map(StandingController::newer).toList();
  }

  /** Says that the records stay older; runs are numbered behind what the targets remember. */
  @PostMapping("/server/catch-up")
  List<NewerView> catchUp(HttpServletRequest request) {
    return engine.recordsAge().catchUp(by(request)).stream()
        .map(StandingController::newer)
        .toList();
  }

  private static NewerView newer(RecordsAge.Newer n) {
    return new NewerView(n.site().toString(), n.target(), "R-" + n.run().run(), n.run().version());
  }
}
