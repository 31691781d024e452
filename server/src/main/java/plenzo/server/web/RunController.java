package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
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
import plenzo.api.Manuals.DoneByHand;
import plenzo.api.Manuals.TakeOver;
import plenzo.api.Page;
import plenzo.api.Runs.BackupView;
import plenzo.api.Runs.LogView;
import plenzo.api.Runs.RunLine;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.Start;
import plenzo.api.Sheets.SheetLine;
import plenzo.api.Sheets.SheetView;
import plenzo.api.Versions.Reason;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.NextStep;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.run.Sheet;
import plenzo.core.stage.Stage;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Runs, their logs and events, and backups. */
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
        engine.runs().place(r),
        engine.runs().spans(r),
        engine.runs().usersOut(r),
        VisibleValues.of(engine, by, p).values(),
        NextStep.of(r, p, engine.standing().record(by, r.application(), r.site())).orElse(null),
        engine.runs().steering().may(by, r),
        waitsFor(by, r),
        engine.tools().now());
  }

  /** What is before it in line; of what one may not look at, that there is something. */
  private @Nullable String waitsFor(Person by, Run r) {
    List<Run> before = engine.runs().before(r);
    if (before.isEmpty()) {
      return null;
    }
    Run first = before.get(0);
    String more = before.size() == 1 ? "" : " and " + (before.size() - 1) + " more in line";
    if (!by.may(Right.LOOK, first.site().stage(), first.application())) {
      return "another run at " + r.site() + ", which you may not see" + more;
    }
    return first.shown()
        + " of "
        + first.application()
        + " "
        + first.version()
        + ", which is "
        + first.state().code()
        + more;
  }

  private static long run(String number) {
    return PromotionController.number(number, "R-");
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
      @RequestParam(required = false) @Nullable String state,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    if (promotion != null) {
      Promotion p = engine.promotions().get(by, PromotionController.number(promotion, "P-"));
      return Paging.page(
          Slice.whole(engine.runs().of(p).stream().map(r -> RunHead.of(r, p.purpose())).toList()),
          this::line);
    }
    Kept.Filter filter = Kept.Filter.application(application).stage(stage);
    if (state != null) {
      filter =
          filter.in(
              state.equals(PromotionController.OPEN)
                  ? RunState.openCodes()
                  : List.of(RunState.of(state).code()));
    }
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
        r.purpose().code(),
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

  /** What stood at its site when it had read it back. */
  @GetMapping("/runs/{number}/sheet")
  SheetView sheet(@PathVariable String number, HttpServletRequest request) {
    Sheet s = engine.runs().sheet(by(request), PromotionController.number(number, "R-"));
    return new SheetView(
        number,
        s.at(),
        s.asPlanned(),
        s.lines().stream()
            .map(
                l ->
                    new SheetLine(
                        l.component(),
                        l.where(),
                        l.planned(),
                        l.asPlanned(),
                        l.found(),
                        l.active(),
                        l.visible(),
                        l.unbound(),
                        l.by() == null ? null : Shown.plain(l.by()),
                        l.changed()))
            .toList(),
        s.more(),
        s.odd().stream().map(Shown::plain).toList(),
        s.uncarried().stream().map(Shown::plain).toList());
  }

  @PostMapping("/runs/{number}/abort")
  RunView abort(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    return view(
        by(request),
        engine.runs().abort(by(request), PromotionController.number(number, "R-"), asked.reason()));
  }

  /** Pauses it before its next step; never between targets that switch. */
  @PostMapping("/runs/{number}/pause")
  RunView pause(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().pause(by, run(number), asked.reason()));
  }

  /** Lets it go on where it was paused. */
  @PostMapping("/runs/{number}/resume")
  RunView resume(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().resume(by, run(number)));
  }

  /** Answers for it from now on, in place of whoever did. */
  @PostMapping("/runs/{number}/take-over")
  RunView takeOver(
      @PathVariable String number, @RequestBody TakeOver asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        by,
        engine.runs().steering().takeOver(by, run(number), or(asked.from()), or(asked.reason())));
  }

  /** Ends a paused run where it stands after its switch, with users out. */
  @PostMapping("/runs/{number}/end")
  RunView end(@PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().end(by, run(number), asked.reason()));
  }

  /** Lets users in although an answer is not as it should be. */
  @PostMapping("/runs/{number}/let-in")
  RunView letIn(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().letIn(by, run(number), asked.reason()));
  }

  /** Is at a piece of work by hand. */
  @PostMapping("/runs/{number}/steps/{step}/take")
  RunView take(
      @PathVariable String number,
      @PathVariable int step,
      @RequestBody TakeOver asked,
      HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().take(by, run(number), step, asked.from()));
  }

  /** Work by hand is done. */
  @PostMapping("/runs/{number}/steps/{step}/done")
  RunView done(
      @PathVariable String number,
      @PathVariable int step,
      @RequestBody DoneByHand asked,
      HttpServletRequest request) {
    Person by = by(request);
    return view(
        by,
        engine
            .runs()
            .steering()
            .done(
                by,
                run(number),
                step,
                or(asked.note()),
                asked.evidence() == null
                    ? null
                    : PromotionController.number(asked.evidence(), "E-")));
  }

  /** Work by hand could not be done. */
  @PostMapping("/runs/{number}/steps/{step}/not-done")
  RunView notDone(
      @PathVariable String number,
      @PathVariable int step,
      @RequestBody Reason asked,
      HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().notDone(by, run(number), step, asked.reason()));
  }

  /** The run goes on without it, where the plan allows that. */
  @PostMapping("/runs/{number}/steps/{step}/leave-out")
  RunView leaveOut(
      @PathVariable String number,
      @PathVariable int step,
      @RequestBody Reason asked,
      HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.runs().steering().leaveOut(by, run(number), step, asked.reason()));
  }

  private static String or(@Nullable String text) {
    return text == null ? "" : text;
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
}
