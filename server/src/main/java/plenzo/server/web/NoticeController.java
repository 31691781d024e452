package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.LocalTime;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Tellings.CallOrderView;
import plenzo.api.Tellings.CallView;
import plenzo.api.Tellings.CalledView;
import plenzo.api.Tellings.CalleeView;
import plenzo.api.Tellings.FollowingView;
import plenzo.api.Tellings.FreshView;
import plenzo.api.Tellings.HandView;
import plenzo.api.Tellings.HeldView;
import plenzo.api.Tellings.NightView;
import plenzo.api.Tellings.NightWay;
import plenzo.api.Tellings.NoticeView;
import plenzo.api.Tellings.Seen;
import plenzo.api.Tellings.Tried;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Person;
import plenzo.core.telling.Call;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.Following;
import plenzo.core.telling.News;
import plenzo.engine.Engine;
import plenzo.engine.looking.Night;
import plenzo.engine.telling.Notices;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** What people are told of, and who is called when something is wrong. */
@RestController
@RequestMapping("/api/v1")
class NoticeController {
  private final Engine engine;

  NoticeController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /** What one follows, newest first. */
  @GetMapping("/notices")
  Page<NoticeView> notices(
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    long seen = engine.notices().following(by).seen();
    return Paging.page(
        engine.notices().list(by, Paging.from(cursor), Paging.limit(limit)), e -> view(e, seen));
  }

  private static NoticeView view(HistoryEntry e, long seen) {
    return new NoticeView(
        e.sequence(),
        e.at(),
        e.actor(),
        e.event(),
        News.about(e.event()).code(),
        e.application(),
        e.stage(),
        e.site(),
        e.version(),
        e.promotion() == null ? null : "P-" + e.promotion(),
        e.run() == null ? null : "R-" + e.run(),
        Shown.plain(e.text()),
        e.sequence() > seen);
  }

  @GetMapping("/notices/fresh")
  FreshView fresh(HttpServletRequest request) {
    Notices.Fresh f = engine.notices().fresh(by(request));
    return new FreshView(f.count(), f.more(), f.urgent());
  }

  /** One has seen everything up to an entry. */
  @PostMapping("/notices/seen")
  FreshView seen(@RequestBody Seen asked, HttpServletRequest request) {
    engine.notices().saw(by(request), asked.entry());
    return fresh(request);
  }

  @GetMapping("/notices/following")
  FollowingView following(HttpServletRequest request) {
    return view(engine.notices().following(by(request)));
  }

  /** Says what one follows. */
  @PutMapping("/notices/following")
  FollowingView follow(@RequestBody FollowingView asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        engine
            .notices()
            .follow(
                by,
                new Following(
                    by.login(),
                    asked.mail().strip(),
                    asked.stages(),
                    asked.applications(),
                    asked.news().stream().map(News::of).collect(Collectors.toSet()),
                    time(asked.quietFrom()),
                    time(asked.quietUntil()),
                    asked.zone(),
                    0,
                    0)));
  }

  private static @Nullable LocalTime time(@Nullable String text) {
    return text == null || text.isBlank() ? null : LocalTime.parse(text.strip());
  }

  private FollowingView view(Following f) {
    return new FollowingView(
        f.mail(),
        f.stages(),
        f.applications(),
        f.news().stream().sorted().map(News::code).toList(),
        News.codes(),
        f.quietFrom() == null ? null : f.quietFrom().toString(),
        f.quietUntil() == null ? null : f.quietUntil().toString(),
        f.zone(),
        engine.tools().mail().server().isPresent());
  }

  /** Sends a letter to one's own address now. */
  @PostMapping("/notices/try")
  Tried tryMail(HttpServletRequest request) {
    return new Tried(engine.notices().tryMail(by(request)));
  }

  @GetMapping("/stages/{key}/calls")
  CallOrderView order(@PathVariable String key, HttpServletRequest request) {
    return view(engine.calls().order(by(request), key));
  }

  /** Says who is called when something is wrong there. */
  @PutMapping("/stages/{key}/calls")
  CallOrderView order(
      @PathVariable String key, @RequestBody CallOrderView asked, HttpServletRequest request) {
    IfMatch.revision(request, asked.revision());
    return view(
        engine
            .calls()
            .say(
                by(request),
                new CallOrder(
                    key,
                    asked.callees().stream()
                        .map(c -> new CallOrder.Callee(c.login(), c.how(), c.minutes()))
                        .toList(),
                    asked.revision())));
  }

  private static CallOrderView view(CallOrder o) {
    return new CallOrderView(
        o.callees().stream()
            .map(c -> new CalleeView(c.login(), Shown.plain(c.how()), c.minutes()))
            .toList(),
        o.revision());
  }

  /**
   * @param state only those that are open, taken or over
   */
  @GetMapping("/calls")
  List<CallView> calls(
      @RequestParam(required = false) @Nullable String state, HttpServletRequest request) {
    return engine.calls().list(by(request)).stream()
        .filter(c -> state == null || c.state().code().equals(state))
        .map(NoticeController::view)
        .toList();
  }

  /** One comes: nobody else is called. */
  @PostMapping("/calls/{number}/take")
  CallView take(@PathVariable String number, HttpServletRequest request) {
    return answer(number, false, request);
  }

  /** It is settled. */
  @PostMapping("/calls/{number}/over")
  CallView over(@PathVariable String number, HttpServletRequest request) {
    return answer(number, true, request);
  }

  private CallView answer(String number, boolean over, HttpServletRequest request) {
    return view(
        engine.calls().answer(by(request), PromotionController.number(number, "CL-"), over));
  }

  private static CallView view(Call c) {
    return new CallView(
        c.shown(),
        c.stage(),
        c.application(),
        c.site(),
        c.run() == null ? null : "R-" + c.run(),
        Shown.plain(c.cause()),
        c.made(),
        c.told().stream()
            .map(t -> new CalledView(t.login(), t.at(), Shown.plain(t.words())))
            .toList(),
        c.next(),
        c.state().code(),
        c.by(),
        c.at());
  }

  /** What somebody must know who is woken by a run; ways back are asked of the site. */
  @GetMapping("/runs/{number}/night")
  NightView night(@PathVariable String number, HttpServletRequest request) {
    Night.Told t = engine.night().tell(by(request), PromotionController.number(number, "R-"));
    return new NightView(
        t.run().shown(),
        t.run().state().code(),
        t.run().sentence() == null ? null : Shown.plain(t.run().sentence()),
        Shown.plain(t.users()),
        t.targets().stream()
            .map(h -> new HeldView(h.target(), h.holds().code(), Night.words(h.holds(), t.run())))
            .toList(),
        Shown.plain(t.on()),
        t.ways().stream()
            .map(w -> new NightWay(w.code(), w.possible(), Shown.plain(w.words())))
            .toList(),
        Shown.plain(t.noWays()),
        t.hands().stream()
            .map(h -> new HandView(h.login(), Shown.plain(h.name()), Shown.plain(h.how())))
            .toList(),
        t.called().stream().map(Shown::plain).toList(),
        Shown.plain(Night.text(t)));
  }
}
