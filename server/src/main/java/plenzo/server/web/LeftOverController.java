package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Locale;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Drifts.LeftOverItem;
import plenzo.api.Drifts.LeftOverView;
import plenzo.api.Drifts.NamesAsked;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.stage.SiteKey;
import plenzo.engine.Engine;
import plenzo.engine.looking.LeftOver;
import plenzo.server.security.Asking;

/** What earlier runs left at a site, and clearing it. */
@RestController
@RequestMapping("/api/v1/records/{application}/{stage}/{site}/left-over")
class LeftOverController {
  private final Engine engine;

  LeftOverController(Engine engine) {
    this.engine = engine;
  }

  @GetMapping
  LeftOverView list(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      HttpServletRequest request) {
    Person by = Asking.signedIn(request).person();
    SiteKey key = new SiteKey(stage, site);
    return view(by, application, key, engine.leftOver().list(by, application, key));
  }

  /** Clears some of it: removed at the target, or no more kept as it is. */
  @PostMapping("/clear")
  LeftOverView clear(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestBody NamesAsked asked,
      HttpServletRequest request) {
    Person by = Asking.signedIn(request).person();
    SiteKey key = new SiteKey(stage, site);
    return view(by, application, key, engine.leftOver().clear(by, application, key, asked.names()));
  }

  private LeftOverView view(
      Person by, String application, SiteKey site, List<LeftOver.Item> items) {
    VisibleValues sight = VisibleValues.of(engine, by, site.stage(), application);
    return new LeftOverView(
        application,
        site.toString(),
        engine.stages().get(by, site.stage()).production(),
        items.stream().map(i -> view(i, sight)).toList(),
        Views.may(
            May.byRight(by, Right.OPERATE, site.stage(), application, engine.tools().everybody())));
  }

  private static LeftOverItem view(LeftOver.Item i, VisibleValues sight) {
    return new LeftOverItem(
        i.target(),
        i.sort().name().toLowerCase(Locale.ROOT),
        i.sort().shown(),
        i.sort() == LeftOver.Sort.KEPT ? Views.places(List.of(i.name()), sight).get(0) : i.name(),
        i.run() == null ? null : "R-" + i.run(),
        i.bytes(),
        i.since(),
        i.why());
  }
}
