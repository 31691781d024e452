package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
import plenzo.api.Promotions.MayView;
import plenzo.api.Releases.AgreeRelease;
import plenzo.api.Releases.ReleaseCase;
import plenzo.api.Releases.ReleaseMember;
import plenzo.api.Releases.ReleaseView;
import plenzo.api.Releases.SaveRelease;
import plenzo.api.Releases.StartRelease;
import plenzo.api.Releases.TakeRelease;
import plenzo.api.Releases.WithdrawRelease;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Release;
import plenzo.core.promotion.TakenAway;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.releasing.Releases;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Releases: collected, taken to sites, approved and started as one. */
@RestController
@RequestMapping("/api/v1/releases")
class ReleaseController {
  private final Engine engine;

  ReleaseController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping
  Page<ReleaseView> releases(
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    return Paging.page(
        engine.releases().list(by, Paging.part(Kept.Filter.all(), cursor, limit)),
        r -> view(by, r));
  }

  @GetMapping("/{key}")
  ReleaseView release(@PathVariable String key, HttpServletRequest request) {
    return view(by(request), engine.releases().get(by(request), key));
  }

  /** Collects versions under a key, or changes what is collected until it is taken to a stage. */
  @PutMapping("/{key}")
  ReleaseView saveRelease(
      @PathVariable String key, @RequestBody SaveRelease asked, HttpServletRequest request) {
    return view(
        by(request),
        engine
            .releases()
            .save(
                by(request),
                key,
                asked.title(),
                asked.members().stream().map(ReleaseController::member).toList(),
                IfMatch.revision(request, null)));
  }

  private static Release.Member member(String text) {
    int at = text.indexOf('@');
    if (at < 1) {
      throw Problem.invalid(
          "MEMBER", "A member is written APPLICATION@NUMBER; got \"" + text + "\".", "/members");
    }
    return new Release.Member(text.substring(0, at), new SemVer(text.substring(at + 1)));
  }

  /** Opens a promotion for every member that the site does not have yet. */
  @PostMapping("/{key}/prepare")
  ReleaseView prepareRelease(
      @PathVariable String key, @RequestBody TakeRelease asked, HttpServletRequest request) {
    return view(
        engine
            .releases()
            .prepare(
                by(request),
                key,
                SiteKey.of(asked.site()),
                asked.path(),
                asked.notes() == null ? "" : asked.notes()),
        request);
  }

  private ReleaseView view(Releases.Standing s, HttpServletRequest request) {
    return release(s.release().key(), request);
  }

  @PostMapping("/{key}/approve")
  ReleaseView approveRelease(
      @PathVariable String key, @RequestBody AgreeRelease asked, HttpServletRequest request) {
    return say(key, true, asked, request);
  }

  @PostMapping("/{key}/reject")
  ReleaseView rejectRelease(
      @PathVariable String key, @RequestBody AgreeRelease asked, HttpServletRequest request) {
    return say(key, false, asked, request);
  }

  private ReleaseView say(String key, boolean yes, AgreeRelease asked, HttpServletRequest request) {
    return view(
        engine
            .releases()
            .approve(
                by(request),
                key,
                SiteKey.of(asked.site()),
                yes,
                asked.fingerprint(),
                asked.comment() == null ? "" : asked.comment()),
        request);
  }

  /** Starts the first member; the others follow, each when the one before is there. */
  @PostMapping("/{key}/start")
  ReleaseView startRelease(
      @PathVariable String key, @RequestBody StartRelease asked, HttpServletRequest request) {
    return view(
        engine.releases().start(by(request), key, SiteKey.of(asked.site()), asked.fingerprint()),
        request);
  }

  @PostMapping("/{key}/withdraw")
  ReleaseView withdrawRelease(
      @PathVariable String key, @RequestBody WithdrawRelease asked, HttpServletRequest request) {
    return view(
        engine.releases().withdraw(by(request), key, SiteKey.of(asked.site()), asked.reason()),
        request);
  }

  private ReleaseView view(Person by, Release r) {
    return new ReleaseView(
        r.key(),
        r.title(),
        r.members().stream().map(Release.Member::toString).toList(),
        r.by(),
        r.at(),
        engine.releases().standings(by, r).stream().map(s -> at(by, s)).toList(),
        r.revision());
  }

  private ReleaseCase at(Person by, Releases.Standing s) {
    Release.Case c = s.at();
    boolean production =
        s.members().stream().anyMatch(p -> engine.promotions().stage(p).production());
    return new ReleaseCase(
        c.site().toString(),
        production,
        c.state().code(),
        Shown.plain(c.sentence()),
        c.preparedBy(),
        c.preparedAt(),
        c.startedBy(),
        s.fingerprint() == null ? null : s.fingerprint().shown(),
        s.fingerprint() == null ? null : s.fingerprint().digest().hex(),
        s.members().stream().map(this::member).toList(),
        c.skipped().stream().map(Release.Member::toString).toList(),
        c.state() == Release.State.OPEN ? s.closed() : List.of(),
        may(by, s));
  }

  private ReleaseMember member(Promotion p) {
    return new ReleaseMember(
        p.shown(),
        p.application() + "@" + p.version(),
        PromotionController.title(engine, p),
        p.present() == null ? null : p.present().text(),
        p.state().code(),
        Views.counts(p.counts()),
        Views.count(p, Finding.Severity.BLOCKER),
        Views.count(p, Finding.Severity.RISK),
        TakenAway.by(p).stream().map(Shown::plain).toList(),
        Views.approvedBy(p),
        engine.promotions().approvers(p),
        PromotionController.run(engine, p));
  }

  private Map<String, MayView> may(Person by, Releases.Standing s) {
    Map<String, MayView> out = new LinkedHashMap<>();
    engine.releases().may(by, s).all().forEach((d, m) -> out.put(d.code(), Views.may(m)));
    return out;
  }
}
