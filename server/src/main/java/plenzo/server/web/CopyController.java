package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Copies.CopyEvery;
import plenzo.api.Copies.SourceCopiesView;
import plenzo.api.Copies.SourceCopyView;
import plenzo.core.person.Person;
import plenzo.core.source.SourceCopies;
import plenzo.engine.Engine;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Copies of what editing stages hold. */
@RestController
@RequestMapping("/api/v1/applications/{key}/copies")
class CopyController {
  private final Engine engine;

  CopyController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @GetMapping
  SourceCopiesView list(@PathVariable String key, HttpServletRequest request) {
    return view(engine.copies().of(by(request), key));
  }

  /** Says how often one is taken. */
  @PutMapping
  SourceCopiesView every(
      @PathVariable String key, @RequestBody CopyEvery asked, HttpServletRequest request) {
    return view(engine.copies().every(by(request), key, asked.every()));
  }

  /** Takes one now. */
  @PostMapping
  SourceCopyView take(@PathVariable String key, HttpServletRequest request) {
    return view(engine.copies().take(by(request), key));
  }

  /** The copy itself, a ZIP file of component documents. */
  @GetMapping(value = "/{id}/file", produces = "application/zip")
  void file(
      @PathVariable String key,
      @PathVariable String id,
      HttpServletRequest request,
      HttpServletResponse response)
      throws IOException {
    try (InputStream in = engine.copies().open(by(request), key, id)) {
      response.setContentType("application/zip");
      response.setHeader(
          "Content-Disposition",
          "attachment; filename=\""
              + (key + "-" + id).replaceAll("[^A-Za-z0-9._-]", "_")
              + ".zip\"");
      in.transferTo(response.getOutputStream());
    }
  }

  private SourceCopiesView view(SourceCopies c) {
    return new SourceCopiesView(
        c.every(),
        Shown.plain(c.trouble()),
        c.tried(),
        Shown.plain(c.warning(engine.tools().now())),
        c.copies().stream().map(CopyController::view).toList());
  }

  private static SourceCopyView view(SourceCopies.Copy c) {
    return new SourceCopyView(
        c.id(),
        c.at(),
        c.by(),
        c.site(),
        c.bytes(),
        c.digest().hex(),
        c.leftOut().stream().map(Shown::plain).toList());
  }
}
