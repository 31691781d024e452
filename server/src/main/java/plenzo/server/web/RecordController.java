package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ContentDisposition;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Records.FigureRow;
import plenzo.api.Records.FiguresView;
import plenzo.api.Records.ReportFact;
import plenzo.api.Records.ReportSection;
import plenzo.api.Records.WentBack;
import plenzo.api.Records.WholeRecord;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.report.Figures;
import plenzo.core.report.Report;
import plenzo.core.report.Sarif;
import plenzo.core.stage.SiteKey;
import plenzo.engine.Engine;
import plenzo.engine.recording.Counting;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** The record as documents, findings and comparisons as files, and figures. */
@RestController
@RequestMapping("/api/v1")
class RecordController {
  private static final int BACKS = 100;

  private final Engine engine;

  RecordController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  /** What a promotion used and did, as far as the caller may see it. */
  @GetMapping("/promotions/{number}/record")
  WholeRecord promotion(@PathVariable String number, HttpServletRequest request) {
    return view(promotion(by(request), number));
  }

  private Report promotion(Person by, String number) {
    Promotion p = engine.promotions().get(by, PromotionController.number(number, "P-"));
    return engine.records().of(by, p.number(), VisibleValues.of(engine, by, p).values());
  }

  /**
   * The same as a file.
   *
   * @param form md or html
   */
  @GetMapping("/promotions/{number}/record/{form}")
  ResponseEntity<byte[]> promotion(
      @PathVariable String number, @PathVariable String form, HttpServletRequest request) {
    return file(promotion(by(request), number), number, form);
  }

  @GetMapping("/releases/{key}/record")
  WholeRecord release(@PathVariable String key, HttpServletRequest request) {
    return view(release(by(request), key));
  }

  private Report release(Person by, String key) {
    return engine.records().release(by, key, by.may(Right.SEE_VALUES, Person.EVERY, Person.EVERY));
  }

  /**
   * The same as a file.
   *
   * @param form md or html
   */
  @GetMapping("/releases/{key}/record/{form}")
  ResponseEntity<byte[]> release(
      @PathVariable String key, @PathVariable String form, HttpServletRequest request) {
    return file(release(by(request), key), "release-" + key, form);
  }

  /** What went otherwise than the rules say, in a span. */
  @GetMapping("/exceptions")
  WholeRecord exceptions(
      @RequestParam Instant from, @RequestParam Instant until, HttpServletRequest request) {
    return view(engine.exceptions().of(by(request), from, until));
  }

  /**
   * The same as a file.
   *
   * @param form md or html
   */
  @GetMapping("/exceptions/{form}")
  ResponseEntity<byte[]> exceptions(
      @PathVariable String form,
      @RequestParam Instant from,
      @RequestParam Instant until,
      HttpServletRequest request) {
    return file(engine.exceptions().of(by(request), from, until), "exceptions", form);
  }

  /** What changed of an application at a site between two moments. */
  @GetMapping("/records/{application}/{stage}/{site}/between")
  WholeRecord between(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @RequestParam Instant from,
      @RequestParam Instant until,
      HttpServletRequest request) {
    SiteKey at = new SiteKey(stage, site);
    return view(engine.between().of(by(request), application, at, from, until));
  }

  /**
   * The same as a file.
   *
   * @param form md or html
   */
  @GetMapping("/records/{application}/{stage}/{site}/between/{form}")
  ResponseEntity<byte[]> between(
      @PathVariable String application,
      @PathVariable String stage,
      @PathVariable String site,
      @PathVariable String form,
      @RequestParam Instant from,
      @RequestParam Instant until,
      HttpServletRequest request) {
    SiteKey at = new SiteKey(stage, site);
    return file(
        engine.between().of(by(request), application, at, from, until),
        application + "-" + stage + "-" + site,
        form);
  }

  private static WholeRecord view(Report r) {
    return new WholeRecord(
        Shown.plain(r.title()),
        r.made(),
        r.sections().stream()
            .map(
                s ->
                    new ReportSection(
                        Shown.plain(s.heading()),
                        Shown.plain(s.text()),
                        s.facts().stream()
                            .map(f -> new ReportFact(f.name(), Shown.plain(f.value())))
                            .toList(),
                        s.heads(),
                        s.rows().stream()
                            .map(row -> row.stream().map(Shown::plain).toList())
                            .toList()))
            .toList());
  }

  private static ResponseEntity<byte[]> file(Report r, String name, String form) {
    return switch (form) {
      case "md" -> file(r.markdown(), "text/markdown", name + ".md");
      case "html" -> file(r.html(), "text/html", name + ".html");
      default ->
          throw Problem.invalid(
              "FORM", "A record is written as md or html, not \"" + form + "\".", "/form");
    };
  }

  /** Saved, never shown by the browser as a page of the console. */
  private static ResponseEntity<byte[]> file(String text, String type, String name) {
    return ResponseEntity.ok()
        .contentType(new MediaType(MediaType.parseMediaType(type), StandardCharsets.UTF_8))
        .header(
            "Content-Disposition",
            ContentDisposition.attachment()
                .filename(name.replaceAll("[^A-Za-z0-9._-]", "_"))
                .build()
                .toString())
        .body(text.getBytes(StandardCharsets.UTF_8));
  }

  /** What checks found, in SARIF 2.1.0. */
  @GetMapping("/promotions/{number}/findings/sarif")
  ResponseEntity<byte[]> sarif(@PathVariable String number, HttpServletRequest request) {
    Promotion p = engine.promotions().get(by(request), PromotionController.number(number, "P-"));
    return file(
        Sarif.of(
            p.findings(),
            p.shown() + ": " + p.application() + " " + p.version() + " to " + p.site(),
            SessionController.VERSION),
        "application/sarif+json",
        p.shown() + ".sarif");
  }

  /** What the comparison found, component by component and part by part. */
  @GetMapping("/promotions/{number}/comparison/csv")
  ResponseEntity<byte[]> comparison(@PathVariable String number, HttpServletRequest request) {
    Promotion p = engine.promotions().get(by(request), PromotionController.number(number, "P-"));
    List<List<String>> rows = new ArrayList<>();
    p.components()
        .forEach(
            c -> {
              rows.add(
                  Report.row(
                      c.key().toString(),
                      "",
                      c.difference().code(),
                      String.valueOf(c.counts().added()),
                      String.valueOf(c.counts().changed()),
                      String.valueOf(c.counts().removed()),
                      String.valueOf(c.counts().conflict())));
              c.parts()
                  .forEach(
                      part ->
                          rows.add(
                              Report.row(
                                  c.key().toString(),
                                  part.part().code() + " " + part.name(),
                                  part.difference().code(),
                                  "",
                                  "",
                                  "",
                                  "")));
            });
    Report.Section table =
        new Report.Section(
            "Comparison",
            "",
            List.of(),
            List.of("component", "part", "difference", "added", "changed", "removed", "conflict"),
            rows);
    return file(table.csv(), "text/csv", p.shown() + "-comparison.csv");
  }

  /**
   * @param application only of that one
   */
  @GetMapping("/figures")
  FiguresView figures(
      @RequestParam Instant from,
      @RequestParam Instant until,
      @RequestParam(required = false) @Nullable String application,
      HttpServletRequest request) {
    Counting.Counted c = engine.counting().count(by(request), from, until, application);
    return new FiguresView(
        from,
        until,
        row(Figures.whole(c.runs())),
        Figures.byStage(c.runs()).stream().map(RecordController::row).toList(),
        Figures.byApplication(c.runs()).stream().map(RecordController::row).toList(),
        Figures.byMonth(c.runs()).stream().map(RecordController::row).toList(),
        c.backs().stream()
            .limit(BACKS)
            .map(
                b ->
                    new WentBack(
                        b.run().shown(),
                        b.run().application(),
                        b.run().site().toString(),
                        b.run().startedAt() == null ? b.run().queuedAt() : b.run().startedAt(),
                        Shown.plain(b.why())))
            .toList());
  }

  private static FigureRow row(Figures.Row r) {
    return new FigureRow(
        r.name(),
        r.runs(),
        r.cameThrough(),
        r.toLookAt(),
        r.stopped(),
        r.putBack(),
        r.halfWritten(),
        r.wentBack(),
        r.usersOut().toSeconds(),
        seconds(r.tookMedian()),
        seconds(r.tookMost()),
        seconds(r.sealingMedian()),
        seconds(r.forYesMedian()),
        seconds(r.forStartMedian()));
  }

  private static @Nullable Long seconds(@Nullable Duration d) {
    return d == null ? null : d.toSeconds();
  }
}
