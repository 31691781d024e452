package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Duration;
import java.util.List;
import org.springframework.http.ResponseCookie;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.People.MadeToken;
import plenzo.api.People.Me;
import plenzo.api.People.NewToken;
import plenzo.api.People.Password;
import plenzo.api.People.SignIn;
import plenzo.api.People.Token;
import plenzo.api.Promotions.MayView;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys;
import plenzo.server.security.Asking;

/** Signing in and out, the own password and tokens. */
@RestController
@RequestMapping("/api/v1")
class SessionController {
  /** Number of this Plenzo. */
  static final String VERSION = "0.1.0";

  private final Engine engine;

  SessionController(Engine engine) {
    this.engine = engine;
  }

  private static Me me(Person p, AccessKey key) {
    return new Me(
        p.login(),
        p.name(),
        p.mustChange(),
        key.csrf(),
        key.expiresAt(),
        PeopleViews.grants(p.holds()),
        PeopleViews.only(key.only()),
        VERSION);
  }

  /**
   * Whether the person has a right there, and if not, who has; "*" asks for everywhere, "?" for
   * anywhere.
   */
  @GetMapping("/session/may")
  MayView may(
      @RequestParam String right,
      @RequestParam(defaultValue = "?") String stage,
      @RequestParam(defaultValue = "?") String application,
      HttpServletRequest request) {
    return Views.may(
        engine
            .people()
            .may(Asking.signedIn(request).person(), Right.of(right), stage, application));
  }

  @PostMapping("/session")
  Me signIn(@RequestBody SignIn asked, HttpServletRequest request, HttpServletResponse response) {
    AccessKeys.Issued issued =
        engine
            .people()
            .signIn(
                String.valueOf(asked.login()),
                String.valueOf(asked.password()),
                request.getRemoteAddr());
    boolean loopback =
        request.getLocalAddr().startsWith("127.")
            || request.getLocalAddr().equals("0:0:0:0:0:0:0:1");
    response.addHeader(
        "Set-Cookie",
        ResponseCookie.from(Asking.COOKIE, issued.secret())
            .httpOnly(true)
            .sameSite("Lax")
            .secure(request.isSecure() || !loopback)
            .path("/")
            .maxAge(Duration.ofHours(12))
            .build()
            .toString());
    Person person = engine.accessKeys().whoHolds(issued.secret()).orElseThrow().person();
    return me(person, issued.key());
  }

  @GetMapping("/session")
  Me who(HttpServletRequest request) {
    AccessKeys.SignedIn s = Asking.signedIn(request);
    return me(s.person(), s.key());
  }

  @DeleteMapping("/session")
  void signOut(HttpServletRequest request, HttpServletResponse response) {
    engine.accessKeys().signOut(Asking.signedIn(request).key());
    response.addHeader(
        "Set-Cookie",
        ResponseCookie.from(Asking.COOKIE, "")
            .httpOnly(true)
            .path("/")
            .maxAge(0)
            .build()
            .toString());
  }

  @PutMapping("/session/password")
  void changePassword(@RequestBody Password asked, HttpServletRequest request) {
    engine.people().changePassword(Asking.signedIn(request), asked.old(), asked.password());
  }

  @GetMapping("/tokens")
  List<Token> tokens(HttpServletRequest request) {
    AccessKeys.SignedIn who = Asking.signedIn(request);
    return engine.accessKeys().keys(who, who.person().login()).stream()
        .filter(AccessKey::token)
        .map(
            k ->
                new Token(
                    k.brief(), k.label(), k.createdAt(), k.expiresAt(), PeopleViews.only(k.only())))
        .toList();
  }

  @PostMapping("/tokens")
  MadeToken newToken(@RequestBody NewToken asked, HttpServletRequest request) {
    AccessKeys.Issued issued =
        engine
            .accessKeys()
            .newToken(
                Asking.signedIn(request),
                asked.label(),
                PeopleViews.narrowing(asked.only()),
                asked.days() == null ? AccessKeys.MOST_DAYS : asked.days());
    return new MadeToken(
        issued.key().brief(), asked.label(), issued.key().expiresAt(), issued.secret());
  }

  @DeleteMapping("/tokens/{id}")
  void revoke(@PathVariable String id, HttpServletRequest request) {
    AccessKeys.SignedIn who = Asking.signedIn(request);
    engine.accessKeys().end(who, who.person().login(), id);
  }
}
