package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Calendars.ErrandView;
import plenzo.api.Calendars.NewRepeat;
import plenzo.api.Calendars.RepeatView;
import plenzo.core.calendar.Errand;
import plenzo.core.calendar.Repeat;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.engine.Engine;
import plenzo.engine.timing.Repeats;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Versions that go on without anybody starting that: again and again, and link by link. */
@RestController
@RequestMapping("/api/v1")
class OnwardController {
  private final Engine engine;

  OnwardController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping("/repeats")
  List<RepeatView> repeats(
      @RequestParam(required = false) @Nullable String application, HttpServletRequest request) {
    Person by = by(request);
    return engine.repeats().list(by, Kept.Filter.application(application)).stream()
        .map(r -> view(by, r))
        .toList();
  }

  /** Lets the newest good version of an application go to a stage again and again. */
  @PostMapping("/repeats")
  RepeatView add(@RequestBody NewRepeat asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        by,
        engine
            .repeats()
            .add(
                by,
                new Repeats.Asked(
                    asked.application(), asked.stage(), asked.path(), asked.rule(), asked.ends())));
  }

  /** Ends one; what is on its way goes on. */
  @PostMapping("/repeats/{number}/end")
  RepeatView end(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.repeats().end(by, PromotionController.number(number, "RP-")));
  }

  private static RepeatView view(Person by, Repeat r) {
    return new RepeatView(
        r.shown(),
        r.application(),
        r.path(),
        r.stage(),
        r.rule(),
        r.ends(),
        r.by(),
        r.state().code(),
        r.next(),
        r.last(),
        Shown.plain(r.sentence()),
        r.state() == Repeat.State.ACTIVE && by.may(Right.RUN, r.stage(), r.application()));
  }

  /**
   * What is on its way, and what became of it.
   *
   * @param state only those that are waiting, done or stopped
   */
  @GetMapping("/errands")
  List<ErrandView> errands(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String state,
      HttpServletRequest request) {
    Person by = by(request);
    Kept.Filter of = Kept.Filter.application(application);
    return engine.errands().list(by, state == null ? of : of.in(List.of(state))).stream()
        .map(e -> view(by, e))
        .toList();
  }

  /** Stops one; a promotion that was prepared for it stays as it is. */
  @PostMapping("/errands/{number}/stop")
  ErrandView stop(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.errands().stop(by, PromotionController.number(number, "ER-")));
  }

  private static ErrandView view(Person by, Errand e) {
    return new ErrandView(
        e.shown(),
        Shown.plain(e.cause()),
        e.application(),
        e.version(),
        e.site().toString(),
        e.how().code(),
        e.by(),
        e.made(),
        e.state().code(),
        e.promotion() == null ? null : "P-" + e.promotion(),
        e.run() == null ? null : "R-" + e.run(),
        Shown.plain(e.sentence()),
        e.state() == Errand.State.WAITING
            && by.may(Right.PREPARE, e.site().stage(), e.application()));
  }
}
