package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Standings.SourceView;
import plenzo.api.Versions.CommitView;
import plenzo.api.Versions.HookView;
import plenzo.api.Versions.RepositoryView;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.source.Commits;
import plenzo.core.source.Repository;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.Engine;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Repositories as sources, and components as documents. */
@RestController
@RequestMapping("/api/v1/applications/{key}")
class RepositoryController {
  private final Engine engine;

  RepositoryController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  @PutMapping("/repository")
  RepositoryView save(
      @PathVariable String key, @RequestBody RepositoryView asked, HttpServletRequest request) {
    Repository repository;
    try {
      repository =
          new Repository(
              asked.address(),
              or(asked.folder(), ""),
              or(asked.branch(), ""),
              or(asked.account(), ""),
              Repository.Follow.of(or(asked.follow(), "nothing")),
              or(asked.tagPrefix(), "v"),
              asked.signedIn() == null || asked.signedIn().isEmpty() ? null : asked.signedIn());
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("REPOSITORY", e.getMessage() + ".", "/address");
    }
    Integer seen = IfMatch.revision(request, asked.revision());
    return view(engine.repositories().name(by(request), key, repository, asked.secret(), seen));
  }

  private static RepositoryView view(Application a) {
    Repository r = a.repository();
    return r == null
        ? new RepositoryView(
            "",
            "",
            "",
            "",
            null,
            "nothing",
            "v",
            plenzo.core.source.Repository.SIGNATURE,
            a.revision())
        : new RepositoryView(
            r.address(),
            r.folder(),
            r.branch(),
            r.account(),
            null,
            r.follow().code(),
            r.tagPrefix(),
            r.signature(),
            a.revision());
  }

  private static String or(@Nullable String asked, String other) {
    return asked == null ? other : asked;
  }

  /** Looks at the source now: what changed there, and new tags. */
  @PostMapping("/look-at-source")
  SourceView lookAtSource(@PathVariable String key, HttpServletRequest request) {
    SourceRecord seen = engine.sourceWatch().look(by(request), key);
    return StandingController.source(
        seen, engine.sourceWatch().warning(engine.applications().get(by(request), key), seen));
  }

  /** Makes a new secret for the call that says "look now"; an older one no longer counts. */
  @PostMapping("/hook")
  HookView newHook(@PathVariable String key, HttpServletRequest request) {
    return new HookView(Asking.HOOKS + "/" + key, engine.sourceWatch().newHook(by(request), key));
  }

  @GetMapping("/repository")
  RepositoryView repository(@PathVariable String key, HttpServletRequest request) {
    return view(engine.applications().get(by(request), key));
  }

  @DeleteMapping("/repository")
  void forget(@PathVariable String key, HttpServletRequest request) {
    engine.repositories().name(by(request), key, null, null, IfMatch.revision(request, null));
  }

  /** The commit that a branch, tag or hash names. */
  @GetMapping("/commit")
  CommitView commit(
      @PathVariable String key,
      @RequestParam(required = false) @Nullable String revision,
      HttpServletRequest request) {
    Commits.Commit c = engine.sources().commit(by(request), key, revision);
    return new CommitView(
        c.hash(), Shown.plain(c.author()), c.at(), Shown.plain(c.message()), c.tags());
  }

  /** What a site or a version holds, as a ZIP file of component documents. */
  @GetMapping(value = "/documents", produces = "application/zip")
  void documents(
      @PathVariable String key,
      @RequestParam(required = false) @Nullable String site,
      @RequestParam(required = false) @Nullable String version,
      HttpServletRequest request,
      HttpServletResponse response)
      throws IOException {
    if ((site == null) == (version == null)) {
      throw Problem.invalid("WHAT", "Name either a site or a version.", "/site");
    }
    response.setContentType("application/zip");
    response.setHeader("Content-Disposition", "attachment; filename=\"" + key + "-documents.zip\"");
    if (site != null) {
      engine.documents().ofSite(by(request), key, SiteKey.of(site), response.getOutputStream());
    } else {
      engine
          .documents()
          .ofVersion(by(request), key, new SemVer(version), response.getOutputStream());
    }
  }
}
