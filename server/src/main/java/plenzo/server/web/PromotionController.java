package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.LocalDate;
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
import plenzo.api.Manuals.ManualAsked;
import plenzo.api.Page;
import plenzo.api.Promotions.AcceptRisk;
import plenzo.api.Promotions.Activate;
import plenzo.api.Promotions.AgreementView;
import plenzo.api.Promotions.AnswerAsked;
import plenzo.api.Promotions.Approve;
import plenzo.api.Promotions.Ask;
import plenzo.api.Promotions.AskedView;
import plenzo.api.Promotions.BroughtView;
import plenzo.api.Promotions.CarryOverLine;
import plenzo.api.Promotions.CarryOverView;
import plenzo.api.Promotions.ChoicesView;
import plenzo.api.Promotions.ComparedView;
import plenzo.api.Promotions.Decide;
import plenzo.api.Promotions.GateView;
import plenzo.api.Promotions.GoalView;
import plenzo.api.Promotions.ImpactView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Promotions.NotesAsked;
import plenzo.api.Promotions.OutsideStanding;
import plenzo.api.Promotions.Prepare;
import plenzo.api.Promotions.PreparedView;
import plenzo.api.Promotions.PromotionLine;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Promotions.PutBackView;
import plenzo.api.Promotions.RowPage;
import plenzo.api.Promotions.SaidView;
import plenzo.api.Promotions.UrgencyView;
import plenzo.api.Versions.Reason;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.drift.PutBack;
import plenzo.core.gate.Gate;
import plenzo.core.gate.SaidOutside;
import plenzo.core.keeping.Kept;
import plenzo.core.may.Duties;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.DraftedNotes;
import plenzo.core.promotion.OutsideAnswer;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Question;
import plenzo.core.promotion.TakenAway;
import plenzo.core.promotion.Urgency;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.run.Spans;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.OutsideYes;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.table.PartDifference;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.core.words.Words;
import plenzo.engine.Engine;
import plenzo.engine.comparing.ComparisonFiles;
import plenzo.engine.comparing.SameRows;
import plenzo.engine.keeping.Cleared;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Promotions: prepared, compared, decided on, approved. */
@RestController
@RequestMapping("/api/v1")
class PromotionController {
  static final int PAGE = 200;

  /** In place of a state: every state in which something is still to be done. */
  static final String OPEN = "open";

  private static final List<Difference> WRITTEN =
      List.of(
          Difference.CONFLICT,
          Difference.REMOVED,
          Difference.CHANGED,
          Difference.ADDED,
          Difference.KEPT);

  private final Engine engine;

  PromotionController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  static long number(String shown, String prefix) {
    String digits = shown.startsWith(prefix) ? shown.substring(prefix.length()) : shown;
    if (!digits.matches("[0-9]{1,12}")) {
      throw Problem.invalid(
          "NUMBER", "\"" + shown + "\" is not a number such as " + prefix + "12.", "/number");
    }
    return Long.parseLong(digits);
  }

  /**
   * @param state one state, or "open" for all that are not over
   */
  @GetMapping("/promotions")
  Page<PromotionLine> promotions(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String stage,
      @RequestParam(required = false) @Nullable String state,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Kept.Filter filter = Kept.Filter.application(application).stage(stage);
    if (state != null) {
      filter =
          filter.in(
              state.equals(OPEN)
                  ? PromotionState.openCodes()
                  : List.of(PromotionState.of(state).code()));
    }
    return Paging.page(
        engine.promotions().list(by(request), Paging.part(filter, cursor, limit)), this::line);
  }

  private PromotionLine line(PromotionHead p) {
    return new PromotionLine(
        p.shown(),
        p.application(),
        p.version().text(),
        p.site().toString(),
        engine.stages().production(p.site().stage()),
        p.present() == null ? null : p.present().text(),
        p.state().code(),
        p.purpose().code(),
        p.preparedBy(),
        p.preparedAt(),
        p.fingerprint() == null ? null : p.fingerprint().shown(),
        p.state().stands()
            ? engine.standing().gates(p.number()).map(Views::gates).orElse(List.of())
            : List.of());
  }

  private List<GateView> gates(Promotion p) {
    return p.state().stands() ? Views.gates(engine.promotions().gates(p)) : List.of();
  }

  private Map<String, MayView> may(Person by, Promotion p) {
    Map<String, MayView> out = new LinkedHashMap<>();
    engine.promotions().may(by, p).all().forEach((d, m) -> out.put(d.code(), Views.may(m)));
    return out;
  }

  @PostMapping("/promotions")
  PromotionView preparePromotion(@RequestBody Prepare asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .promotions()
            .prepare(
                by(request),
                asked.application(),
                new SemVer(asked.version()),
                SiteKey.of(asked.site()),
                asked.path(),
                asked.notes() == null ? "" : asked.notes()));
  }

  @GetMapping("/promotions/{number}")
  PromotionView promotion(@PathVariable String number, HttpServletRequest request) {
    return view(by(request), engine.promotions().get(by(request), number(number, "P-")));
  }

  @PostMapping("/promotions/{number}/compare")
  PromotionView compare(@PathVariable String number, HttpServletRequest request) {
    return view(by(request), engine.promotions().compareAgain(by(request), number(number, "P-")));
  }

  /**
   * Rows of one component and class, same among them, and of a table's structure the parts that are
   * the same; the cursor is what the page before named as next, find keeps rows whose key or value
   * contains it, all lists attributes that are the same too.
   */
  @GetMapping("/promotions/{number}/rows")
  RowPage rows(
      @PathVariable String number,
      @RequestParam int component,
      @RequestParam String difference,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(required = false) @Nullable String find,
      @RequestParam(defaultValue = "false") boolean all,
      @RequestParam(defaultValue = "" + PAGE) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    Promotion p = engine.promotions().get(by, number(number, "P-"));
    if (p.comparison() == null || component < 0 || component >= p.components().size()) {
      throw Problem.notFound("comparison of component", String.valueOf(component));
    }
    Cleared.requireThere(engine.tools(), Sort.COMPARISON, p.shown());
    Difference d = Difference.of(difference);
    long skip = cursor == null ? 0 : number(cursor, "");
    RowAnswer answer =
        new RowAnswer(
            p.components().get(component).key(),
            VisibleValues.of(engine, by, p),
            skip,
            Math.max(1, Math.min(limit, PAGE)),
            find,
            all || d == Difference.SAME);
    if (d == Difference.SAME && p.components().get(component).key().kind() == Kind.TABLE) {
      List<PartDifference> parts = engine.comparer().sameParts(p, component);
      parts.stream().skip(skip).allMatch(answer::take);
      return answer.page(parts.size());
    }
    if (d == Difference.SAME) {
      same(p, component, skip, answer);
    } else {
      try (ComparisonFiles.Reader reader =
          engine.comparer().files().read(p.comparison(), component, d, skip)) {
        for (RowDifference row = reader.next();
            row != null && answer.take(row);
            row = reader.next()) {}
      }
    }
    return answer.page(p.components().get(component).counts().of(d));
  }

  private void same(Promotion p, int component, long skip, RowAnswer answer) {
    try (SameRows same = engine.comparer().same(p, component)) {
      if (same != null) {
        long at = 0;
        for (RowDifference row = same.next();
            row != null && (at++ < skip || answer.take(row));
            row = same.next()) {}
      }
    }
  }

  /** What becomes of the values of every column whose table gets another structure. */
  @GetMapping("/promotions/{number}/carry-over")
  CarryOverView carryOver(@PathVariable String number, HttpServletRequest request) {
    return new CarryOverView(number, carried(number, request));
  }

  private List<CarryOverLine> carried(String number, HttpServletRequest request) {
    return engine.promotions().carriedOver(by(request), number(number, "P-")).lines().stream()
        .map(
            l ->
                new CarryOverLine(
                    Shown.plain(l.table().toString()),
                    Shown.plain(l.column()),
                    Shown.plain(l.becomes()),
                    l.fate().word(),
                    l.rows(),
                    l.filled(),
                    Shown.plain(l.reason())))
        .toList();
  }

  /** The same as a CSV file, a column a line. */
  @GetMapping(value = "/promotions/{number}/carry-over/csv", produces = "text/csv")
  void carryOverFile(
      @PathVariable String number, HttpServletRequest request, HttpServletResponse response) {
    List<CarryOverLine> lines = carried(number, request);
    CsvAnswer csv = new CsvAnswer(response, number + "-carry-over.csv");
    csv.accept("table,column,becomes,fate,rows,filled,reason");
    for (CarryOverLine l : lines) {
      csv.accept(
          CanonicalCsv.text(
              List.of(
                  l.table(),
                  l.column(),
                  l.becomes(),
                  l.fate(),
                  String.valueOf(l.rows()),
                  String.valueOf(l.filled()),
                  l.reason())));
    }
    csv.finish();
  }

  /** The whole comparison as a CSV file, an attribute a line. */
  @GetMapping(value = "/promotions/{number}/comparison", produces = "text/csv")
  void comparison(
      @PathVariable String number, HttpServletRequest request, HttpServletResponse response) {
    Person by = by(request);
    Promotion p = engine.promotions().get(by, number(number, "P-"));
    if (p.comparison() == null) {
      throw Problem.notFound("comparison of", p.shown());
    }
    Cleared.requireThere(engine.tools(), Sort.COMPARISON, p.shown());
    VisibleValues sight = VisibleValues.of(engine, by, p);
    CsvAnswer csv = new CsvAnswer(response, p.shown() + "-comparison.csv");
    csv.accept(RowAnswer.head());
    for (int n = 0; n < p.components().size(); n++) {
      Promotion.ComponentResult c = p.components().get(n);
      c.parts()
          .forEach(
              x ->
                  RowAnswer.lines(
                      c.key(), x.difference().code(), x.path(), x.attributes(), sight, csv));
      if (c.key().kind() == Kind.RECORDS) {
        RowAnswer lines = new RowAnswer(c.key(), sight, 0, 0, null, /* all= */ false);
        try (ComparisonFiles.Merged rows =
            engine.comparer().files().merged(p.comparison(), n, WRITTEN)) {
          for (RowDifference row = rows.next(); row != null; row = rows.next()) {
            lines.line(row, csv);
          }
        }
      }
    }
    csv.finish();
  }

  @PostMapping("/promotions/{number}/decide")
  PromotionView decide(
      @PathVariable String number, @RequestBody Decide asked, HttpServletRequest request) {
    Map<String, Decision> decisions = new LinkedHashMap<>();
    asked.decisions().forEach((at, d) -> decisions.put(at, Decision.of(d)));
    return view(
        by(request), engine.promotions().decide(by(request), number(number, "P-"), decisions));
  }

  @PostMapping("/promotions/{number}/activate")
  PromotionView activate(
      @PathVariable String number, @RequestBody Activate asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .promotions()
            .activate(
                by(request),
                number(number, "P-"),
                asked.components().stream()
                    .map(ComponentKey::of)
                    .collect(java.util.stream.Collectors.toSet())));
  }

  /** Says what is done by hand in this case alone. */
  @PostMapping("/promotions/{number}/manual")
  PromotionView manual(
      @PathVariable String number, @RequestBody ManualAsked asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .promotions()
            .byHand(by(request), number(number, "P-"), ManualShown.steps(asked.steps())));
  }

  @PostMapping("/promotions/{number}/accept-risk")
  PromotionView acceptRisk(
      @PathVariable String number, @RequestBody AcceptRisk asked, HttpServletRequest request) {
    LocalDate until;
    try {
      until = LocalDate.parse(asked.until());
    } catch (java.time.format.DateTimeParseException e) {
      throw Problem.invalid(
          "DATE", "\"" + asked.until() + "\" is not a day such as 2027-01-31.", "/until");
    }
    return view(
        by(request),
        engine
            .promotions()
            .acceptRisk(by(request), number(number, "P-"), asked.finding(), asked.reason(), until));
  }

  @PostMapping("/promotions/{number}/approve")
  PromotionView approve(
      @PathVariable String number, @RequestBody Approve asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .promotions()
            .approve(
                by(request),
                number(number, "P-"),
                true,
                asked.fingerprint(),
                asked.comment() == null ? "" : asked.comment()));
  }

  @PostMapping("/promotions/{number}/reject")
  PromotionView reject(
      @PathVariable String number, @RequestBody Approve asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .promotions()
            .approve(
                by(request),
                number(number, "P-"),
                false,
                asked.fingerprint(),
                asked.comment() == null ? "" : asked.comment()));
  }

  /** Writes other notes, until the run starts; the history keeps both. */
  @PostMapping("/promotions/{number}/notes")
  PromotionView notes(
      @PathVariable String number, @RequestBody NotesAsked asked, HttpServletRequest request) {
    return view(
        by(request), engine.notes().write(by(request), number(number, "P-"), asked.notes()));
  }

  /** Asks something before a yes; a start is held until it is answered. */
  @PostMapping("/promotions/{number}/ask")
  PromotionView ask(
      @PathVariable String number, @RequestBody Ask asked, HttpServletRequest request) {
    return view(
        by(request), engine.questions().ask(by(request), number(number, "P-"), asked.text()));
  }

  /** Answers what was asked. */
  @PostMapping("/promotions/{number}/answer")
  PromotionView answer(
      @PathVariable String number, @RequestBody AnswerAsked asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .questions()
            .answer(by(request), number(number, "P-"), asked.question(), asked.text()));
  }

  /** Declares that it cannot wait; what that passes is owed afterwards. */
  @PostMapping("/promotions/{number}/emergency")
  PromotionView emergency(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    return view(
        by(request),
        engine.emergencies().declare(by(request), number(number, "P-"), asked.reason()));
  }

  private @Nullable UrgencyView urgency(Promotion p) {
    Urgency u = p.urgency();
    if (u == null) {
      return null;
    }
    Emergency allowed = engine.promotions().leg(p).emergency();
    return new UrgencyView(
        u.said().stream().map(s -> new SaidView(s.by(), s.at(), Shown.plain(s.reason()))).toList(),
        allowed == null ? 0 : allowed.people(),
        engine.promotions().gates(p).owed().stream().map(Gate::words).toList(),
        u.until(),
        engine.emergencies().owed(p));
  }

  private static AskedView asked(Question q) {
    Question.Answer a = q.answer();
    return new AskedView(
        q.number(),
        q.by(),
        q.at(),
        Shown.plain(q.text()),
        a == null ? null : Shown.plain(a.text()),
        a == null ? null : a.by(),
        a == null ? null : a.at());
  }

  /** Takes back one's own yes or no, until the run starts. */
  @PostMapping("/promotions/{number}/take-back")
  PromotionView takeBack(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    return view(
        by(request),
        engine.promotions().takeBack(by(request), number(number, "P-"), asked.reason()));
  }

  @PostMapping("/promotions/{number}/withdraw")
  PromotionView withdrawPromotion(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    return view(
        by(request),
        engine.promotions().withdraw(by(request), number(number, "P-"), asked.reason()));
  }

  /** What the version of a promotion is called. */
  static String title(Engine engine, Promotion p) {
    return engine
        .tools()
        .keeper()
        .read(kept -> kept.versions().head(p.application() + "@" + p.version()))
        .map(VersionHead::title)
        .orElse("");
  }

  /** How much of its source the version has; null where that is not known. */
  static @Nullable String coverage(Engine engine, Promotion p) {
    return engine
        .tools()
        .keeper()
        .read(kept -> kept.versions().head(p.application() + "@" + p.version()))
        .flatMap(v -> v.coverage().stream().findFirst())
        .map(Shown::plain)
        .orElse(null);
  }

  /** The newest run of a promotion, null when it never ran. */
  static @Nullable String run(Engine engine, Promotion p) {
    return engine.runs().of(p).stream().map(Run::shown).findFirst().orElse(null);
  }

  PromotionView view(Person by, Promotion p) {
    Stage stage = engine.promotions().stage(p);
    VisibleValues sight = VisibleValues.of(engine, by, p);
    List<VersionHead> brought = engine.notes().brought(p);
    Spans spans = engine.runs().spans(p);
    Duties duties = engine.promotions().duties(p);
    return new PromotionView(
        p.shown(),
        new GoalView(
            p.application(),
            p.version().text(),
            title(engine, p),
            p.notes(),
            p.site().toString(),
            stage.name(),
            stage.production(),
            p.purpose().code(),
            engine.promotions().path(p).key(),
            putBack(p.putBack(), sight),
            p.release(),
            p.waves(),
            coverage(engine, p)),
        new PreparedView(p.preparedBy(), p.preparedAt(), Shown.plain(DraftedNotes.of(p, brought))),
        p.state().code(),
        new ComparedView(
            p.comparedAt(),
            text(p.present()),
            text(p.base()),
            Views.counts(p.counts()),
            Views.components(p.components()),
            Views.gives(p.gives()),
            p.moved().stream().map(Shown::plain).toList(),
            TakenAway.by(p).stream().map(Shown::plain).toList(),
            brought.stream()
                .map(
                    v ->
                        new BroughtView(
                            v.number().text(),
                            Shown.plain(v.title()),
                            Shown.plain(v.notes()),
                            v.tasks().stream().map(Shown::plain).toList()))
                .toList()),
        new ImpactView(
            engine.promotions().checks(),
            p.findings().stream().map(f -> Views.finding(f, sight)).toList()),
        new ChoicesView(
            Views.decisions(p),
            p.activate().stream().sorted().map(ComponentKey::toString).toList(),
            p.obstacles().stream().map(o -> RollbackController.view(o, sight)).toList(),
            ManualShown.views(p.manual())),
        Views.plan(p.plan()),
        new AgreementView(
            p.approvals().stream().map(Views::approval).toList(),
            engine.promotions().approvers(p),
            needed(duties),
            asks(duties),
            p.questions().stream().map(PromotionController::asked).toList(),
            urgency(p),
            p.coveredBy()),
        gates(p),
        may(by, p),
        run(engine, p),
        Views.seconds(spans.usualWhole()),
        Views.span(spans.whole()),
        Views.span(spans.usersOut()),
        RehearsalController.rehearsed(engine, by, p),
        ProposalController.since(engine, p),
        outside(p),
        p.sentence(),
        p.revision());
  }

  private @Nullable OutsideStanding outside(Promotion p) {
    OutsideYes asked = p.brings() ? engine.promotions().leg(p).outside() : null;
    if (asked == null) {
      return null;
    }
    OutsideAnswer answer = p.outside();
    return new OutsideStanding(
        asked.name(),
        asked.address(),
        asked.seconds(),
        answer == null ? null : answer.yes(),
        SaidOutside.ofThisPlan(asked, p),
        answer == null ? "" : Shown.plain(answer.said()),
        answer == null ? null : answer.at(),
        answer == null ? null : answer.by());
  }

  /** Asks whoever outside must say yes, by a signed question; no answer counts as no. */
  @PostMapping("/promotions/{number}/ask-outside")
  PromotionView askOutside(@PathVariable String number, HttpServletRequest request) {
    return view(by(request), engine.outside().ask(by(request), number(number, "P-")));
  }

  private static int needed(Duties duties) {
    int asked = duties.leg().needed();
    return asked == 0 ? 0 : asked + duties.strangers().size();
  }

  /** What the leg asks, and what authors ask whom nobody here is known to be. */
  private static List<String> asks(Duties duties) {
    List<String> out = new ArrayList<>();
    duties.leg().approvals().forEach(q -> out.add(q.words()));
    List<String> strangers = duties.strangers();
    if (!out.isEmpty() && !strangers.isEmpty()) {
      out.add(
          Words.count(strangers.size(), "more approval")
              + ", because nobody here is known to be "
              + Shown.plain(String.join(" or ", strangers)));
    }
    return out;
  }

  private static @Nullable PutBackView putBack(@Nullable PutBack p, VisibleValues sight) {
    return p == null
        ? null
        : new PutBackView(
            Views.places(p.only().stream().sorted().toList(), sight),
            Views.places(p.away().stream().sorted().toList(), sight),
            p.again().stream()
                .map(s -> Words.count(s.count(), "row") + " of " + s.table())
                .toList());
  }

  private static @Nullable String text(@Nullable SemVer v) {
    return v == null ? null : v.text();
  }
}
