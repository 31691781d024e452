package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Calendars.CalendarRun;
import plenzo.api.Calendars.CalendarView;
import plenzo.api.Calendars.FreezeHolds;
import plenzo.api.Calendars.FreezeView;
import plenzo.api.Calendars.LiftFreeze;
import plenzo.api.Calendars.NewFreeze;
import plenzo.api.Calendars.NewSchedule;
import plenzo.api.Calendars.RepeatTime;
import plenzo.api.Calendars.ScheduleView;
import plenzo.api.Calendars.SpanOpen;
import plenzo.api.Calendars.StageCalendar;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Openings;
import plenzo.core.calendar.Schedule;
import plenzo.core.calendar.Window;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.Spans;
import plenzo.core.stage.Stage;
import plenzo.engine.Engine;
import plenzo.engine.timing.Freezes;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Freezes, runs that start by themselves, and both beside what ran. */
@RestController
@RequestMapping("/api/v1")
class CalendarController {
  /** Longest span that is shown at once. */
  private static final Duration LONGEST = Duration.ofDays(100);

  private final Engine engine;

  CalendarController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping("/freezes")
  List<FreezeView> freezes(
      @RequestParam(required = false) @Nullable String stage, HttpServletRequest request) {
    return engine.freezes().list(by(request), stage).stream().map(this::view).toList();
  }

  /** What a freeze would hold; nothing is changed. */
  @PostMapping("/freezes/holds")
  FreezeHolds holds(@RequestBody NewFreeze asked, HttpServletRequest request) {
    Freezes.Holds holds = engine.freezes().holds(by(request), asked(asked));
    return new FreezeHolds(
        holds.promotions().stream().map(CalendarController::words).toList(),
        holds.schedules().stream()
            .map(s -> s.shown() + " P-" + s.promotion() + " at " + s.at())
            .toList());
  }

  private static String words(Promotion p) {
    return p.shown() + " " + p.application() + " " + p.version() + " to " + p.site();
  }

  @PostMapping("/freezes")
  FreezeView freeze(@RequestBody NewFreeze asked, HttpServletRequest request) {
    return view(engine.freezes().add(by(request), asked(asked)));
  }

  private static Freezes.Asked asked(NewFreeze n) {
    return new Freezes.Asked(
        n.stage(), n.from(), n.until(), n.reason(), n.except() == null ? List.of() : n.except());
  }

  @PostMapping("/freezes/{number}/lift")
  FreezeView lift(
      @PathVariable String number, @RequestBody LiftFreeze asked, HttpServletRequest request) {
    return view(
        engine
            .freezes()
            .lift(by(request), PromotionController.number(number, "FZ-"), asked.reason()));
  }

  private FreezeView view(Freeze f) {
    Freeze.Lifted lifted = f.lifted();
    return new FreezeView(
        f.shown(),
        f.stage(),
        f.from(),
        f.until(),
        Shown.plain(f.reason()),
        f.except(),
        f.by(),
        lifted == null ? null : lifted.by(),
        lifted == null ? null : lifted.at(),
        lifted == null ? null : Shown.plain(lifted.reason()),
        f.over(engine.tools().now()));
  }

  /**
   * @param promotion only of that one
   */
  @GetMapping("/schedules")
  List<ScheduleView> schedules(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String promotion,
      HttpServletRequest request) {
    Person by = by(request);
    long only = promotion == null ? 0 : PromotionController.number(promotion, "P-");
    return engine.schedules().list(by, Kept.Filter.application(application)).stream()
        .filter(s -> only == 0 || s.promotion() == only)
        .map(s -> view(by, s))
        .toList();
  }

  /** Lets an agreed promotion's run start by itself. */
  @PostMapping("/promotions/{number}/schedule")
  ScheduleView schedule(
      @PathVariable String number, @RequestBody NewSchedule asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        by,
        engine
            .schedules()
            .add(
                by,
                PromotionController.number(number, "P-"),
                asked.at(),
                asked.after() == null ? null : PromotionController.number(asked.after(), "P-"),
                asked.fingerprint()));
  }

  @PostMapping("/schedules/{number}/withdraw")
  ScheduleView withdraw(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.schedules().withdraw(by, PromotionController.number(number, "SC-")));
  }

  private ScheduleView view(Person by, Schedule s) {
    boolean waits = s.state() == Schedule.State.WAITING;
    Spans spans = waits ? spans(by, s) : null;
    return new ScheduleView(
        s.shown(),
        "P-" + s.promotion(),
        s.application(),
        s.version(),
        s.site().toString(),
        s.at(),
        s.by(),
        s.state().code(),
        Shown.plain(s.sentence()),
        waits ? s.nextLook() : null,
        s.run() == null ? null : "R-" + s.run(),
        waits && by.may(Right.RUN, s.site().stage(), s.application()),
        s.after() == null ? null : "P-" + s.after(),
        spans == null ? null : Views.span(spans.whole()),
        spans == null ? null : Views.span(spans.usersOut()));
  }

  private @Nullable Spans spans(Person by, Schedule s) {
    Promotion p = engine.promotions().get(by, s.promotion());
    return p.plan() == null ? null : engine.runs().spans(p);
  }

  /**
   * What is on at the stages that one may look at.
   *
   * @param stage only at that one
   */
  @GetMapping("/calendar")
  CalendarView calendar(
      @RequestParam Instant from,
      @RequestParam Instant until,
      @RequestParam(required = false) @Nullable String stage,
      HttpServletRequest request) {
    if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
      throw Problem.invalid(
          "SPAN", "A calendar shows " + LONGEST.toDays() + " days at most.", "/until");
    }
    return view(by(request), from, until, stage);
  }

  CalendarView view(Person by, Instant from, Instant until, @Nullable String stage) {
    List<Stage> stages =
        engine.stages().list(by).stream()
            .filter(s -> stage == null || s.key().equals(stage))
            .toList();
    List<String> keys = stages.stream().map(Stage::key).toList();
    List<ScheduleView> schedules =
        engine.schedules().list(by, Kept.Filter.all()).stream()
            .filter(s -> keys.contains(s.site().stage()))
            // what waits for another run has no time
            .filter(s -> s.after() == null || s.state() != Schedule.State.WAITING)
            .filter(s -> !s.at().isBefore(from) && s.at().isBefore(until))
            .map(s -> view(by, s))
            .toList();
    List<CalendarRun> runs =
        engine.runs().began(by, from, until).stream()
            .filter(r -> keys.contains(r.site().stage()))
            .map(CalendarController::run)
            .toList();
    Clashes clashes = new Clashes(engine, by);
    List<RepeatTime> repeats =
        engine.repeats().times(by, from, until).stream()
            .filter(t -> keys.contains(t.repeat().stage()))
            .map(
                t ->
                    new RepeatTime(
                        t.repeat().shown(), t.repeat().application(), t.repeat().stage(), t.at()))
            .toList();
    return new CalendarView(
        stages.stream().map(s -> stage(by, s, from, until)).toList(),
        schedules,
        runs,
        repeats,
        clashes.of(schedules, repeats));
  }

  private StageCalendar stage(Person by, Stage s, Instant from, Instant until) {
    Openings openings =
        new Openings(s.name(), ZoneId.of(s.zone()), s.windows(), List.of(), Person.ANY);
    return new StageCalendar(
        s.key(),
        s.name(),
        s.zone(),
        s.production(),
        s.windows().stream().map(Window::words).toList(),
        openings.spans(from, until).stream()
            .map(w -> new SpanOpen(w.from(), w.until(), w.note()))
            .toList(),
        engine.freezes().list(by, s.key()).stream()
            .filter(f -> f.from().isBefore(until) && f.over().isAfter(from))
            .map(this::view)
            .toList());
  }

  private static CalendarRun run(Run r) {
    return new CalendarRun(
        r.shown(),
        r.application(),
        r.version(),
        r.site().toString(),
        r.times().startedAt(),
        r.times().endedAt(),
        r.state().code(),
        r.usersOutSince().orElse(null),
        r.usersInAgain().orElse(null));
  }
}
