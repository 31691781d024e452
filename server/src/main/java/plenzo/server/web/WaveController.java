package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
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
import plenzo.api.Promotions.MayView;
import plenzo.api.Versions.Reason;
import plenzo.api.Wave.AgreeWaves;
import plenzo.api.Wave.LeaveSite;
import plenzo.api.Wave.LeftSite;
import plenzo.api.Wave.PartView;
import plenzo.api.Wave.PrepareWaves;
import plenzo.api.Wave.WavesView;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.TakenAway;
import plenzo.core.promotion.Waves;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.waves.InWaves;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** One version to several sites of a stage, wave after wave. */
@RestController
@RequestMapping("/api/v1/waves")
class WaveController {
  private final Engine engine;

  WaveController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private static long number(String shown) {
    return PromotionController.number(shown, "W-");
  }

  @GetMapping
  Page<WavesView> waves(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    return Paging.page(
        engine.waves().list(by, Paging.part(Kept.Filter.application(application), cursor, limit)),
        w -> view(by, engine.waves().standing(w)));
  }

  @GetMapping("/{number}")
  WavesView wave(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.waves().standing(by, number(number)));
  }

  /** Opens a promotion for every site. */
  @PostMapping
  WavesView prepareWaves(@RequestBody PrepareWaves asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.waves().prepare(by, asked(asked)));
  }

  private static InWaves.Asked asked(PrepareWaves a) {
    return new InWaves.Asked(
        a.application(),
        new SemVer(a.version()),
        a.stage(),
        a.path(),
        a.waves() == null
            ? List.of()
            : a.waves().stream().map(w -> w.stream().map(SiteKey::of).toList()).toList(),
        new Waves.Rules(
            a.between() == null ? Waves.Between.GO_ON : Waves.Between.of(a.between()),
            a.minutes() == null ? 0 : a.minutes(),
            a.failures() == null ? 0 : a.failures()),
        a.notes() == null ? "" : a.notes());
  }

  @PostMapping("/{number}/approve")
  WavesView approveWaves(
      @PathVariable String number, @RequestBody AgreeWaves asked, HttpServletRequest request) {
    return say(number, true, asked, request);
  }

  @PostMapping("/{number}/reject")
  WavesView rejectWaves(
      @PathVariable String number, @RequestBody AgreeWaves asked, HttpServletRequest request) {
    return say(number, false, asked, request);
  }

  private WavesView say(String number, boolean yes, AgreeWaves asked, HttpServletRequest request) {
    Person by = by(request);
    String comment = asked.comment();
    return view(
        by,
        engine
            .waves()
            .approve(by, number(number), yes, asked.fingerprint(), comment == null ? "" : comment));
  }

  /** Begins the first wave. */
  @PostMapping("/{number}/start")
  WavesView startWaves(
      @PathVariable String number, @RequestBody AgreeWaves asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.waves().start(by, number(number), asked.fingerprint()));
  }

  /** Begins the next wave, where one is waited for. */
  @PostMapping("/{number}/go-on")
  WavesView goOn(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.waves().goOn(by, number(number)));
  }

  /** Leaves a site for later: it is owed until it has the version. */
  @PostMapping("/{number}/leave")
  WavesView leave(
      @PathVariable String number, @RequestBody LeaveSite asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        by, engine.waves().leave(by, number(number), SiteKey.of(asked.site()), asked.reason()));
  }

  @PostMapping("/{number}/withdraw")
  WavesView withdrawWaves(
      @PathVariable String number, @RequestBody Reason asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.waves().withdraw(by, number(number), asked.reason()));
  }

  private WavesView view(Person by, InWaves.Standing s) {
    Waves w = s.waves();
    Stage stage = engine.promotions().stage(s.parts().get(0));
    List<List<PartView>> waves = new ArrayList<>();
    int n = 0;
    for (Waves.Wave wave : w.waves()) {
      List<PartView> parts = new ArrayList<>();
      for (int i = 0; i < wave.parts().size(); i++, n++) {
        parts.add(part(s.parts().get(n), s.came().get(n)));
      }
      waves.add(parts);
    }
    return new WavesView(
        w.shown(),
        w.application(),
        w.version().text(),
        PromotionController.title(engine, s.parts().get(0)),
        w.stage(),
        stage.name(),
        stage.production(),
        w.state().code(),
        Shown.plain(w.sentence()),
        waves,
        w.at(),
        w.rules().between().code(),
        w.rules().minutes(),
        w.rules().failures(),
        w.goesOnAt(),
        w.preparedBy(),
        w.preparedAt(),
        w.startedBy(),
        s.fingerprint() == null ? null : s.fingerprint().shown(),
        s.fingerprint() == null ? null : s.fingerprint().digest().hex(),
        w.state() == Waves.State.OPEN ? s.closed() : List.of(),
        s.there(),
        s.parts().size(),
        w.left().stream()
            .map(
                l ->
                    new LeftSite(
                        l.site().toString(),
                        l.by(),
                        l.at(),
                        Shown.plain(l.reason()),
                        s.owed().contains(l.site())))
            .toList(),
        may(by, s));
  }

  private Map<String, MayView> may(Person by, InWaves.Standing s) {
    Map<String, MayView> out = new LinkedHashMap<>();
    engine.waves().may(by, s).all().forEach((d, m) -> out.put(d.code(), Views.may(m)));
    return out;
  }

  private PartView part(Promotion p, Waves.Came came) {
    return new PartView(
        p.site().toString(),
        p.shown(),
        p.present() == null ? null : p.present().text(),
        p.state().code(),
        came.name().toLowerCase(Locale.ROOT).replace('_', '-'),
        Views.counts(p.counts()),
        Views.count(p, Finding.Severity.BLOCKER),
        Views.count(p, Finding.Severity.RISK),
        TakenAway.by(p).stream().map(Shown::plain).toList(),
        Views.approvedBy(p),
        engine.promotions().approvers(p),
        PromotionController.run(engine, p));
  }
}
