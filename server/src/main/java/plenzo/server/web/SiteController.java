package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Stages.Bind;
import plenzo.api.Stages.InputView;
import plenzo.api.Stages.MaintenanceWish;
import plenzo.api.Stages.NeedView;
import plenzo.api.Stages.SwitchOn;
import plenzo.api.Stages.Unbind;
import plenzo.api.Stages.WorkItemView;
import plenzo.api.Stages.WorkView;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.ItemsCase;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Binding;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.engine.binding.Bindings;
import plenzo.engine.hosting.Hosts;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** What a site gives declared inputs, and what goes on in its application host. */
@RestController
@RequestMapping("/api/v1")
class SiteController {
  private final Engine engine;

  SiteController(Engine engine) {
    this.engine = engine;
  }

  private static plenzo.core.person.Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /** Every declared input of a version as a site would give it; the version there by default. */
  @GetMapping("/applications/{key}/inputs")
  List<InputView> inputs(
      @PathVariable String key,
      @RequestParam String site,
      @RequestParam(required = false) @Nullable String version,
      HttpServletRequest request) {
    SiteKey at = SiteKey.of(site);
    SemVer number =
        version != null
            ? new SemVer(version)
            : engine
                .versions()
                .highest(by(request), key)
                .orElseThrow(() -> Problem.notFound("version of", key));
    return engine.bindings().list(by(request), key, at, number).stream()
        .map(SiteController::input)
        .toList();
  }

  private static InputView input(Bindings.State s) {
    Binding b = s.binding();
    ItemsCase.InputState state = s.state();
    String word =
        state.missing()
            ? "missing"
            : !state.problem().isEmpty() ? "wrong" : b == null ? "default" : "bound";
    String note =
        !state.problem().isEmpty()
            ? state.problem()
            : state.sameAs().isEmpty() ? "" : "the same as in " + state.sameAs();
    return new InputView(
        s.input().name(),
        s.input().type().code(),
        Shown.plain(s.input().description()),
        s.input().secret(),
        s.input().fallback(),
        s.input().pattern(),
        s.neededBy().stream().map(ComponentKey::toString).toList(),
        word,
        note,
        b == null ? null : Shown.plain(b.shown()),
        b == null ? null : b.place(),
        b == null ? null : b.setAt(),
        b == null ? null : b.setBy(),
        s.given().code(),
        b == null ? 0 : b.revision());
  }

  private static Bindings.Place place(String application, String place, String input) {
    int slash = place.indexOf('/');
    return new Bindings.Place(
        application,
        slash < 0 ? place : place.substring(0, slash),
        slash < 0 ? "" : place.substring(slash + 1),
        input);
  }

  /** Binds an input at a stage or one of its sites. */
  @PostMapping("/bindings")
  InputView bind(@RequestBody Bind asked, HttpServletRequest request) {
    Binding b =
        engine
            .bindings()
            .bind(
                by(request),
                place(asked.application(), asked.place(), asked.input()),
                asked.value(),
                Boolean.TRUE.equals(asked.secret()),
                asked.connection(),
                Objects.requireNonNull(IfMatch.revision(request, asked.revision())));
    return new InputView(
        b.input(),
        "",
        "",
        b.secret(),
        null,
        null,
        List.of(),
        "bound",
        "",
        Shown.plain(b.shown()),
        b.place(),
        b.setAt(),
        b.setBy(),
        "",
        b.revision());
  }

  @PostMapping("/bindings/clear")
  void unbind(@RequestBody Unbind asked, HttpServletRequest request) {
    engine
        .bindings()
        .clear(
            by(request),
            place(asked.application(), asked.place(), asked.input()),
            IfMatch.revision(request, asked.revision()));
  }

  /** Running work, people and maintenance of a site's application host. */
  @GetMapping("/sites/{stage}/{site}/work")
  WorkView work(@PathVariable String stage, @PathVariable String site, HttpServletRequest request) {
    Hosts.HostWork w = engine.hosts().work(by(request), new SiteKey(stage, site));
    return new WorkView(
        w.running().stream()
            .map(
                i ->
                    new WorkItemView(
                        Shown.plain(i.id()),
                        Shown.plain(i.what()),
                        Shown.plain(i.person()),
                        Shown.plain(i.component())))
            .toList(),
        w.others(),
        w.people(),
        w.maintenance());
  }

  /** Lets only operators in, or everybody again. */
  @PostMapping("/sites/{stage}/{site}/maintenance")
  WorkView maintenance(
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody MaintenanceWish asked,
      HttpServletRequest request) {
    engine.hosts().maintenance(by(request), new SiteKey(stage, site), asked.on(), asked.reason());
    return work(stage, site, request);
  }

  /** What is there and off, unbound, or in no version. */
  @GetMapping("/sites/{stage}/{site}/needs")
  List<NeedView> needs(
      @PathVariable String stage,
      @PathVariable String site,
      @RequestParam String application,
      HttpServletRequest request) {
    return engine.hosts().needs(by(request), application, new SiteKey(stage, site)).stream()
        .map(n -> new NeedView(n.component().toString(), n.why().code(), Shown.plain(n.text())))
        .toList();
  }

  /** Switches one rule, form or integration on or off. */
  @PostMapping("/sites/{stage}/{site}/activation")
  List<NeedView> activate(
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody SwitchOn asked,
      HttpServletRequest request) {
    engine
        .hosts()
        .activate(
            by(request),
            asked.application(),
            new SiteKey(stage, site),
            ComponentKey.of(asked.component()),
            asked.on(),
            asked.reason());
    return needs(stage, site, asked.application(), request);
  }
}
