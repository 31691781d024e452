package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
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
import plenzo.api.Page;
import plenzo.api.People.AccessKeyView;
import plenzo.api.People.ChangePerson;
import plenzo.api.People.Grant;
import plenzo.api.People.Grants;
import plenzo.api.People.Invitation;
import plenzo.api.People.MadeToken;
import plenzo.api.People.Me;
import plenzo.api.People.NewToken;
import plenzo.api.People.Password;
import plenzo.api.People.PersonView;
import plenzo.api.People.ResetPassword;
import plenzo.api.People.SignIn;
import plenzo.api.People.Token;
import plenzo.api.Promotions.MayView;
import plenzo.core.keeping.Kept;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.engine.Engine;
import plenzo.engine.people.People;
import plenzo.server.security.Asking;

/** Signing in and out, tokens, people. */
@RestController
@RequestMapping("/api/v1")
class SessionController {
  private final Engine engine;

  SessionController(Engine engine) {
    this.engine = engine;
  }

  private static Me me(Person p, AccessKey key) {
    return new Me(
        p.login(), p.name(), p.mustChange(), key.csrf(), key.expiresAt(), grants(p), "0.1.0");
  }

  private static PersonView person(Person p) {
    return new PersonView(
        p.login(), p.name(), p.disabled(), p.mustChange(), grants(p), p.revision());
  }

  private static List<Grant> grants(Person p) {
    return p.grants().stream()
        .map(g -> new Grant(g.right().code(), g.stage(), g.application()))
        .toList();
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
    People.Issued issued =
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
    Person person = engine.people().whoHolds(issued.secret()).orElseThrow().person();
    return me(person, issued.key());
  }

  @GetMapping("/session")
  Me who(HttpServletRequest request) {
    People.SignedIn s = Asking.signedIn(request);
    return me(s.person(), s.key());
  }

  @DeleteMapping("/session")
  void signOut(HttpServletRequest request, HttpServletResponse response) {
    engine.people().signOut(Asking.signedIn(request).key());
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
    return engine.people().tokens(Asking.signedIn(request).person()).stream()
        .map(k -> new Token(k.brief(), k.label(), k.createdAt(), k.expiresAt()))
        .toList();
  }

  @PostMapping("/tokens")
  MadeToken newToken(@RequestBody NewToken asked, HttpServletRequest request) {
    People.Issued issued =
        engine.people().newToken(Asking.signedIn(request).person(), asked.label());
    return new MadeToken(
        issued.key().brief(), asked.label(), issued.key().expiresAt(), issued.secret());
  }

  @DeleteMapping("/tokens/{id}")
  void revoke(@PathVariable String id, HttpServletRequest request) {
    engine.people().revoke(Asking.signedIn(request).person(), id);
  }

  @GetMapping("/people")
  Page<PersonView> people(
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    return Paging.page(
        engine
            .people()
            .all(Asking.signedIn(request).person(), Paging.part(Kept.Filter.all(), cursor, limit)),
        SessionController::person);
  }

  @PostMapping("/people")
  PersonView invite(@RequestBody Invitation asked, HttpServletRequest request) {
    boolean must = asked.mustChangePassword() == null || asked.mustChangePassword();
    Person p =
        engine
            .people()
            .invite(
                Asking.signedIn(request).person(),
                asked.login(),
                asked.name(),
                asked.password(),
                must);
    return person(p);
  }

  @GetMapping("/people/{login}")
  PersonView one(@PathVariable String login, HttpServletRequest request) {
    return person(engine.people().get(Asking.signedIn(request).person(), login));
  }

  @PutMapping("/people/{login}")
  PersonView change(
      @PathVariable String login, @RequestBody ChangePerson asked, HttpServletRequest request) {
    Person by = Asking.signedIn(request).person();
    if (asked.name() != null) {
      engine.people().rename(by, login, asked.name());
    }
    if (asked.disabled() != null) {
      engine.people().disable(by, login, asked.disabled());
    }
    return person(engine.people().get(by, login));
  }

  /** Gives a password for once; sessions and tokens end. */
  @PostMapping("/people/{login}/password")
  PersonView resetPassword(
      @PathVariable String login, @RequestBody ResetPassword asked, HttpServletRequest request) {
    return person(
        engine.people().resetPassword(Asking.signedIn(request).person(), login, asked.password()));
  }

  /** Where somebody is signed in, and their tokens. */
  @GetMapping("/people/{login}/keys")
  List<AccessKeyView> keys(@PathVariable String login, HttpServletRequest request) {
    return engine.people().keys(Asking.signedIn(request).person(), login).stream()
        .map(k -> new AccessKeyView(k.brief(), k.label(), k.token(), k.createdAt(), k.expiresAt()))
        .toList();
  }

  @DeleteMapping("/people/{login}/keys/{id}")
  void endKey(@PathVariable String login, @PathVariable String id, HttpServletRequest request) {
    engine.people().end(Asking.signedIn(request).person(), login, id);
  }

  @PutMapping("/people/{login}/grants")
  PersonView grant(
      @PathVariable String login, @RequestBody Grants asked, HttpServletRequest request) {
    List<Person.Grant> grants =
        asked.grants().stream()
            .map(g -> new Person.Grant(Right.of(g.right()), g.stage(), g.application()))
            .toList();
    Person p =
        engine.people().grant(Asking.signedIn(request).person(), login, grants, asked.revision());
    return person(p);
  }
}
