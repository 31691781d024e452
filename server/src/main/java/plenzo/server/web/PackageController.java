package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Packages.BringIn;
import plenzo.api.Packages.Build;
import plenzo.api.Packages.ContentsView;
import plenzo.api.Packages.KeyView;
import plenzo.api.Packages.NewKey;
import plenzo.api.Packages.PackageView;
import plenzo.api.Packages.Revoke;
import plenzo.api.Packages.Trust;
import plenzo.api.Page;
import plenzo.api.Versions.VersionView;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.trust.Parcel;
import plenzo.core.trust.Signer;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.engine.Engine;
import plenzo.engine.packaging.Packages;
import plenzo.packages.Manifest;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Packages: built, handed out, received, brought in; and the keys that sign them. */
@RestController
@RequestMapping("/api/v1")
class PackageController {
  /** The one call that takes a file instead of JSON. */
  private final Engine engine;

  private final VersionController versions;

  PackageController(Engine engine, VersionController versions) {
    this.engine = engine;
    this.versions = versions;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private PackageView view(Person by, Parcel p) {
    return view(by, p, false);
  }

  private PackageView view(Person by, Parcel p, boolean already) {
    String name =
        engine.keys().list(by).stream()
            .filter(s -> s.id().equals(p.signer()))
            .map(Signer::name)
            .findFirst()
            .orElse("");
    return new PackageView(
        p.id(),
        p.state().code(),
        p.application(),
        p.number(),
        Shown.plain(p.name()),
        p.size(),
        p.manifest(),
        p.signer(),
        Shown.plain(name),
        Shown.plain(p.problem()),
        p.before().stream().map(Shown::plain).toList(),
        engine.packages().missing(p).map(Shown::plain).orElse(""),
        Shown.plain(p.from()),
        p.at(),
        p.by(),
        p.handedOutAt(),
        p.handedOutBy(),
        already);
  }

  @GetMapping("/packages")
  Page<PackageView> packages(
      @RequestParam(required = false) @Nullable String application,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    return Paging.page(
        engine
            .packages()
            .list(by, Paging.part(Kept.Filter.application(application), cursor, limit)),
        p -> view(by, p));
  }

  @PostMapping("/packages")
  PackageView build(@RequestBody Build asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.packages().build(by, asked.application(), new SemVer(asked.number())));
  }

  /** What a package holds, before anything happens. */
  @GetMapping("/packages/{id}/contents")
  ContentsView contents(@PathVariable String id, HttpServletRequest request) {
    Manifest m = engine.packages().contents(by(request), id);
    Version v = m.version();
    boolean application =
        engine.tools().keeper().read(kept -> kept.applications().find(v.application()).isPresent());
    boolean version =
        engine.tools().keeper().read(kept -> kept.versions().head(v.ref()).isPresent());
    return new ContentsView(
        Shown.plain(v.title()),
        Shown.plain(v.notes()),
        Shown.plain(v.author()),
        v.sealedAt(),
        v.parent() == null ? null : v.parent().text(),
        v.digest().hex(),
        v.head().kinds(),
        m.bytes(),
        v.entries().stream().limit(1000).map(e -> Shown.plain(e.key().toString())).toList(),
        Views.texts(v.removals()),
        application,
        version);
  }

  /** The file itself; who took it is recorded. */
  @GetMapping(value = "/packages/{id}/file", produces = "application/zip")
  void file(@PathVariable String id, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Parcel p = engine.packages().get(by(request), id);
    try (InputStream in = engine.packages().handOut(by(request), id)) {
      response.setContentType("application/zip");
      response.setContentLengthLong(p.size());
      response.setHeader(
          "Content-Disposition", "attachment; filename=\"" + p.name().replace("\"", "") + "\"");
      in.transferTo(response.getOutputStream());
    }
  }

  /** Takes in a file and reads all of it; nothing else happens yet. */
  @PutMapping(value = "/packages/received", consumes = "application/zip")
  PackageView receive(@RequestParam String name, HttpServletRequest request) throws IOException {
    Person by = by(request);
    try (InputStream in = request.getInputStream()) {
      Packages.Taken taken =
          engine.packages().receive(by, name, in, request.getContentLengthLong());
      return view(by, taken.parcel(), taken.already());
    }
  }

  /** Makes a received package a version here. */
  @PostMapping("/packages/{id}/bring-in")
  VersionView bringIn(
      @PathVariable String id, @RequestBody BringIn asked, HttpServletRequest request) {
    Version v = engine.packages().bringIn(by(request), id, asked.path());
    return versions.view(by(request), v.head());
  }

  /** Takes a received package away again. */
  @PostMapping("/packages/{id}/drop")
  void drop(@PathVariable String id, HttpServletRequest request) {
    engine.packages().drop(by(request), id);
  }

  private static KeyView key(Signer s) {
    return new KeyView(
        s.id(),
        Shown.plain(s.name()),
        s.open(),
        s.own(),
        s.trusted(),
        s.revokedAt(),
        Shown.plain(s.because()),
        s.at(),
        s.by());
  }

  @GetMapping("/keys")
  List<KeyView> keys(HttpServletRequest request) {
    return engine.keys().list(by(request)).stream().map(PackageController::key).toList();
  }

  /** Makes a key of this service's own; packages are signed with the newest. */
  @PostMapping("/keys")
  KeyView newKey(@RequestBody NewKey asked, HttpServletRequest request) {
    return key(engine.keys().make(by(request), asked.name()));
  }

  @PostMapping("/keys/trust")
  KeyView trust(@RequestBody Trust asked, HttpServletRequest request) {
    return key(engine.keys().trust(by(request), asked.name(), asked.key()));
  }

  @PostMapping("/keys/revoke")
  KeyView revoke(@RequestBody Revoke asked, HttpServletRequest request) {
    return key(engine.keys().revoke(by(request), asked.id(), asked.reason()));
  }
}
