package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Promotions.RehearsedView;
import plenzo.api.Rehearsals.RehearsalPart;
import plenzo.api.Rehearsals.RehearsalView;
import plenzo.api.Rehearsals.TryDraft;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.stage.SiteKey;
import plenzo.engine.Engine;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Plans that are carried out on copies. */
@RestController
@RequestMapping("/api/v1")
class RehearsalController {
  private final Engine engine;

  RehearsalController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private static long number(String shown) {
    return PromotionController.number(shown, "RH-");
  }

  private static long promotion(String shown) {
    return PromotionController.number(shown, "P-");
  }

  /**
   * @param promotion only of that one
   * @param draft only of that one
   */
  @GetMapping("/rehearsals")
  Page<RehearsalView> rehearsals(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String promotion,
      @RequestParam(required = false) @Nullable String draft,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    if (promotion != null) {
      List<RehearsalView> all =
          engine.rehearsals().of(by, promotion(promotion)).stream().map(r -> view(by, r)).toList();
      return new Page<>(all, null);
    }
    if (draft != null) {
      return new Page<>(
          engine.rehearsals().of(by, draft).stream().map(r -> view(by, r)).toList(), null);
    }
    return Paging.page(
        engine
            .rehearsals()
            .list(by, Paging.part(Kept.Filter.application(application), cursor, limit)),
        r -> view(by, r));
  }

  @GetMapping("/rehearsals/{number}")
  RehearsalView one(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.rehearsals().get(by, number(number)));
  }

  /** Carries the plan out on a copy, in the background; the site is only read. */
  @PostMapping("/promotions/{number}/rehearse")
  RehearsalView start(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.rehearsals().start(by, promotion(number)));
  }

  /** Tries a draft on copies before it is sealed, in the background; the site is only read. */
  @PostMapping("/drafts/{id}/try")
  RehearsalView tryDraft(
      @PathVariable String id, @RequestBody TryDraft asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.rehearsals().tryDraft(by, id, SiteKey.of(asked.site())));
  }

  /** Stops one that goes on; its copies go. */
  @PostMapping("/rehearsals/{number}/stop")
  RehearsalView stop(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.rehearsals().stop(by, number(number)));
  }

  /** The newest of a promotion in short; null where there is none. */
  static @Nullable RehearsedView rehearsed(Engine engine, Person by, Promotion p) {
    return engine.rehearsals().of(by, p.number()).stream()
        .findFirst()
        .map(
            r ->
                new RehearsedView(
                    r.shown(),
                    r.result().code(),
                    engine.rehearsals().ofThisPlan(r),
                    r.beside().size(),
                    r.switches().map(d -> d.toMillis() / 1000.0).orElse(null)))
        .orElse(null);
  }

  private RehearsalView view(Person by, Rehearsal r) {
    return new RehearsalView(
        r.shown(),
        r.draft() == null ? "P-" + r.promotion() : "",
        r.application(),
        r.version().text(),
        r.site().toString(),
        r.fingerprint().isEmpty() ? "" : new Fingerprint(new Digest(r.fingerprint())).shown(),
        r.draft() != null || engine.rehearsals().ofThisPlan(r),
        r.by(),
        r.began(),
        r.ended(),
        r.result().code(),
        Shown.plain(r.sentence()),
        r.parts().stream().map(RehearsalController::part).toList(),
        r.beside().stream().map(Shown::plain).toList(),
        engine.rehearsals().mayStop(by, r),
        r.draft());
  }

  private static RehearsalPart part(Rehearsal.Part part) {
    Duration took = part.took();
    return new RehearsalPart(
        part.name(),
        part.began(),
        took == null ? null : took.toMillis() / 1000.0,
        Shown.plain(part.note()));
  }
}
