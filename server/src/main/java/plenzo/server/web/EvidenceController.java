package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ContentDisposition;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Evidences.EvidenceView;
import plenzo.api.Evidences.FailedView;
import plenzo.api.Evidences.ReportView;
import plenzo.api.Evidences.SuiteView;
import plenzo.api.Page;
import plenzo.core.evidence.Evidence;
import plenzo.core.evidence.TestReport;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.stage.SiteKey;
import plenzo.engine.Engine;
import plenzo.engine.evidence.EvidenceDesk;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Files that show what was tried or done; they are handed out as attachments alone. */
@RestController
@RequestMapping("/api/v1/evidence")
class EvidenceController {
  private final Engine engine;

  EvidenceController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private static long number(String shown) {
    return PromotionController.number(shown, "E-");
  }

  /**
   * @param run only of that run
   */
  @GetMapping
  Page<EvidenceView> evidence(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String site,
      @RequestParam(required = false) @Nullable String run,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    Kept.Filter filter =
        application != null && site != null
            ? Kept.Filter.at(application, SiteKey.of(site))
            : Kept.Filter.application(application);
    Kept.Filter part = Paging.part(filter, cursor, limit);
    return Paging.page(
        run == null
            ? engine.evidence().list(by, part)
            : engine.evidence().list(by, part, PromotionController.number(run, "R-")),
        EvidenceController::view);
  }

  @GetMapping("/{number}")
  EvidenceView one(@PathVariable String number, HttpServletRequest request) {
    return view(engine.evidence().get(by(request), number(number)));
  }

  /** The file itself. */
  @GetMapping(value = "/{number}/file", produces = "application/octet-stream")
  void file(@PathVariable String number, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Person by = by(request);
    Evidence e = engine.evidence().get(by, number(number));
    try (InputStream in = engine.evidence().open(by, number(number))) {
      response.setContentType("application/octet-stream");
      response.setContentLengthLong(e.bytes());
      response.setHeader(
          "Content-Disposition",
          ContentDisposition.attachment()
              .filename(e.name(), StandardCharsets.UTF_8)
              .build()
              .toString());
      in.transferTo(response.getOutputStream());
    }
  }

  /** Keeps a file about a run, of 10 MB at most; a test report is read. */
  @PutMapping(consumes = "application/octet-stream")
  EvidenceView give(
      @RequestParam String run,
      @RequestParam(defaultValue = "0") int step,
      @RequestParam String name,
      @RequestParam(defaultValue = "") String about,
      HttpServletRequest request)
      throws IOException {
    try (InputStream in = request.getInputStream()) {
      return view(
          engine
              .evidence()
              .give(
                  by(request),
                  new EvidenceDesk.About(PromotionController.number(run, "R-"), step, name, about),
                  in));
    }
  }

  static EvidenceView view(Evidence e) {
    return new EvidenceView(
        e.shown(),
        e.application(),
        e.version().text(),
        e.site().toString(),
        "R-" + e.run(),
        e.step(),
        Shown.plain(e.name()),
        e.bytes(),
        e.digest().hex(),
        Shown.plain(e.about()),
        e.report() == null ? null : report(e.report()),
        e.by(),
        e.at());
  }

  private static ReportView report(TestReport r) {
    return new ReportView(
        r.tests(),
        r.bad(),
        r.skipped(),
        r.passed(),
        r.words(),
        r.suites().stream()
            .map(
                s ->
                    new SuiteView(
                        Shown.plain(s.name()), s.tests(), s.failures(), s.errors(), s.skipped()))
            .toList(),
        r.failed().stream()
            .map(
                f ->
                    new FailedView(
                        Shown.plain(f.suite()), Shown.plain(f.test()), Shown.plain(f.message())))
            .toList());
  }
}
