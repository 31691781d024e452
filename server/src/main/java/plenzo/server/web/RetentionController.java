package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Retentions.ClearStored;
import plenzo.api.Retentions.KeepStored;
import plenzo.api.Retentions.KeepingNote;
import plenzo.api.Retentions.RetentionPreview;
import plenzo.api.Retentions.RetentionView;
import plenzo.api.Retentions.SetRetention;
import plenzo.api.Retentions.StoredLine;
import plenzo.core.person.Person;
import plenzo.core.retention.Keeping;
import plenzo.core.retention.Preview;
import plenzo.core.retention.Rules;
import plenzo.engine.Engine;
import plenzo.engine.keeping.Retention;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** How long Plenzo's own files stay. */
@RestController
@RequestMapping("/api/v1/retention")
class RetentionController {
  private final Engine engine;

  RetentionController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping
  RetentionView rules(HttpServletRequest request) {
    by(request);
    return view(engine.retention().rules());
  }

  @PutMapping
  RetentionView set(@RequestBody SetRetention asked, HttpServletRequest request) {
    return view(
        engine.retention().set(by(request), asked.days(), Boolean.TRUE.equals(asked.daily())));
  }

  /**
   * What would go, and what stays although it is old; nothing is cleared.
   *
   * @param days other rules than those that are set, such as {@code backup=90}; repeatable
   */
  @GetMapping("/preview")
  RetentionPreview preview(
      @RequestParam(required = false) @Nullable List<String> days, HttpServletRequest request) {
    Person by = by(request);
    Retention.Listed l =
        days == null ? engine.retention().preview(by) : engine.retention().preview(by, pairs(days));
    return view(l.list(), l.rules());
  }

  /** Clears what was listed, for good. */
  @PostMapping("/clear")
  RetentionPreview clear(@RequestBody ClearStored asked, HttpServletRequest request) {
    return view(engine.retention().clear(by(request), asked.expect()), engine.retention().rules());
  }

  @GetMapping("/notes")
  List<KeepingNote> notes(HttpServletRequest request) {
    return engine.retention().notes(by(request)).stream().map(RetentionController::view).toList();
  }

  @PutMapping("/notes")
  KeepingNote keep(@RequestBody KeepStored asked, HttpServletRequest request) {
    return view(
        engine.retention().keep(by(request), asked.subject(), asked.reason(), asked.until()));
  }

  @DeleteMapping("/notes")
  void letGo(@RequestParam String subject, HttpServletRequest request) {
    engine.retention().letGo(by(request), subject);
  }

  /** What is no number is none that the rules take. */
  private static Map<String, Integer> pairs(List<String> said) {
    Map<String, Integer> out = new TreeMap<>();
    for (String pair : said) {
      String[] p = pair.split("=", 2);
      out.put(p[0], p.length == 2 && p[1].matches("[0-9]{1,5}") ? Integer.parseInt(p[1]) : 0);
    }
    return out;
  }

  private static RetentionView view(Rules r) {
    Map<String, Integer> days = new TreeMap<>();
    r.days().forEach((sort, n) -> days.put(sort.code(), n));
    return new RetentionView(days, r.daily(), Retention.words(r));
  }

  private static RetentionPreview view(Preview p, Rules rules) {
    return new RetentionPreview(
        view(rules),
        p.lines().stream()
            .filter(l -> l.bytes() >= 0)
            .map(
                l ->
                    new StoredLine(
                        l.item().id(),
                        l.item().sort().code(),
                        Shown.plain(l.item().of()),
                        l.item().at(),
                        l.bytes(),
                        l.goes(),
                        Shown.plain(l.why())))
            .toList(),
        p.lines().stream().filter(l -> l.bytes() < 0).count(),
        p.counted(),
        p.bytes(),
        p.digest().hex());
  }

  private static KeepingNote view(Keeping k) {
    return new KeepingNote(k.id(), Shown.plain(k.reason()), k.until(), k.by(), k.at());
  }
}
