package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Standings.UnderwayView;
import plenzo.engine.Engine;
import plenzo.engine.underway.Work;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** What takes its time at the service, and how far it is. */
@RestController
@RequestMapping("/api/v1")
class UnderwayController {
  private final Engine engine;

  UnderwayController(Engine engine) {
    this.engine = engine;
  }

  /** What goes on before what ended in the last minutes, each newest first. */
  @GetMapping("/underway")
  List<UnderwayView> underway(
      @RequestParam(required = false) @Nullable String about, HttpServletRequest request) {
    Instant now = engine.tools().now();
    return engine.tools().underway().list(Asking.signedIn(request).person(), about).stream()
        .map(w -> view(w, now))
        .toList();
  }

  private static UnderwayView view(Work w, Instant now) {
    return new UnderwayView(
        w.number(),
        w.by(),
        w.act().code(),
        w.about(),
        w.began(),
        w.done(),
        w.of(),
        w.unit(),
        Shown.plain(w.at()),
        w.left(now).orElse(null),
        w.ended(),
        Shown.plain(w.outcome()));
  }
}
