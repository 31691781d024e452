package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Deputies.DeputyView;
import plenzo.api.Deputies.NameDeputy;
import plenzo.api.Page;
import plenzo.core.person.Deputy;
import plenzo.core.person.Person;
import plenzo.engine.Engine;
import plenzo.engine.people.Deputies;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Who stands in for whom. */
@RestController
@RequestMapping("/api/v1/deputies")
class DeputyController {
  private final Engine engine;

  DeputyController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /** All of them that are to come, now, or over since less than 30 days. */
  @GetMapping
  Page<DeputyView> deputies(HttpServletRequest request) {
    Person by = by(request);
    return new Page<>(
        engine.deputies().list().stream().map(n -> view(by, n)).toList(), /* next= */ null);
  }

  @PostMapping
  DeputyView name(@RequestBody NameDeputy asked, HttpServletRequest request) {
    Person by = by(request);
    return view(
        by,
        engine
            .deputies()
            .name(
                by,
                new Deputies.Asked(
                    or(asked.of(), by.login()),
                    asked.deputy(),
                    or(asked.role(), ""),
                    or(asked.stage(), Person.EVERY),
                    asked.from(),
                    asked.until(),
                    or(asked.reason(), ""))));
  }

  @PostMapping("/{number}/end")
  DeputyView end(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.deputies().end(by, PromotionController.number(number, "DP-")));
  }

  private static String or(@Nullable String said, String usual) {
    return said == null || said.isBlank() ? usual : said;
  }

  private DeputyView view(Person by, Deputies.Named n) {
    Deputy d = n.deputy();
    Instant now = engine.tools().now();
    return new DeputyView(
        d.shown(),
        n.of(),
        d.login(),
        d.role(),
        d.stage(),
        d.from(),
        d.until(),
        d.over(now) ? "over" : d.active(now) ? "now" : "to-come",
        d.by(),
        Shown.plain(d.reason()),
        !d.over(now) && engine.deputies().may(by, n.of()));
  }
}
