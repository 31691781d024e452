package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
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
import plenzo.api.Page;
import plenzo.api.People.AccessKeyView;
import plenzo.api.People.BlankedView;
import plenzo.api.People.BlankingView;
import plenzo.api.People.ChangePerson;
import plenzo.api.People.Grants;
import plenzo.api.People.HeldRole;
import plenzo.api.People.Invitation;
import plenzo.api.People.PersonView;
import plenzo.api.People.ResetPassword;
import plenzo.api.People.RightView;
import plenzo.api.People.RoleChange;
import plenzo.api.People.RoleView;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.engine.Engine;
import plenzo.engine.people.Blanking;
import plenzo.engine.people.People;
import plenzo.server.security.Asking;

/** People and roles, for whoever administers. */
@RestController
@RequestMapping("/api/v1")
class PeopleController {
  private final Engine engine;

  PeopleController(Engine engine) {
    this.engine = engine;
  }

  @GetMapping("/people")
  Page<PersonView> people(
      @RequestParam(required = false) @Nullable String find,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    return Paging.page(
        engine
            .people()
            .all(
                Asking.signedIn(request).person(),
                find == null ? "" : find,
                Paging.part(Kept.Filter.all(), cursor, limit)),
        PeopleViews::person);
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
    return PeopleViews.person(p);
  }

  @GetMapping("/people/{login}")
  PersonView one(@PathVariable String login, HttpServletRequest request) {
    return PeopleViews.person(engine.people().get(Asking.signedIn(request).person(), login));
  }

  /** What blanking their names would come to; nothing is changed. */
  @GetMapping("/people/{login}/blanking")
  BlankingView blanking(@PathVariable String login, HttpServletRequest request) {
    Blanking.Outlook o = engine.blanking().outlook(Asking.signedIn(request).person(), login);
    return new BlankingView(o.names(), o.inTheWay(), o.keeps());
  }

  /** Takes their names out of all that is stored, for good; a second administrator must agree. */
  @PostMapping("/people/{login}/blank")
  BlankedView blank(@PathVariable String login, HttpServletRequest request) {
    Kept.Blanked b =
        engine.blanking().blank(Asking.signedIn(request).person(), login, /* agreed= */ null);
    return new BlankedView(b.signs(), b.entries(), b.records(), b.unsigned());
  }

  @PutMapping("/people/{login}")
  PersonView change(
      @PathVariable String login, @RequestBody ChangePerson asked, HttpServletRequest request) {
    Person by = Asking.signedIn(request).person();
    return PeopleViews.person(
        engine
            .people()
            .change(
                by,
                login,
                new People.Facts(asked.name(), asked.disabled(), asked.writesAs()),
                IfMatch.revision(request, null)));
  }

  /** Gives a password for once; sessions and tokens end. */
  @PostMapping("/people/{login}/password")
  PersonView resetPassword(
      @PathVariable String login, @RequestBody ResetPassword asked, HttpServletRequest request) {
    return PeopleViews.person(
        engine.people().resetPassword(Asking.signedIn(request).person(), login, asked.password()));
  }

  /** Where somebody is signed in, and their tokens. */
  @GetMapping("/people/{login}/keys")
  List<AccessKeyView> keys(@PathVariable String login, HttpServletRequest request) {
    return engine.accessKeys().keys(Asking.signedIn(request), login).stream()
        .map(
            k ->
                new AccessKeyView(
                    k.brief(),
                    k.label(),
                    k.token(),
                    k.createdAt(),
                    k.expiresAt(),
                    PeopleViews.only(k.only())))
        .toList();
  }

  @DeleteMapping("/people/{login}/keys/{id}")
  void endKey(@PathVariable String login, @PathVariable String id, HttpServletRequest request) {
    engine.accessKeys().end(Asking.signedIn(request), login, id);
  }

  @PutMapping("/people/{login}/grants")
  PersonView grant(
      @PathVariable String login, @RequestBody Grants asked, HttpServletRequest request) {
    List<HeldRole> roles = asked.roles();
    return PeopleViews.person(
        engine
            .roles()
            .grant(
                Asking.signedIn(request).person(),
                login,
                asked.grants().stream().map(PeopleViews::grant).toList(),
                roles == null ? null : roles.stream().map(PeopleViews::given).toList(),
                IfMatch.revision(request, asked.revision())));
  }

  /** Every right that can be given, and what it lets one do. */
  @GetMapping("/rights")
  List<RightView> rights() {
    return PeopleViews.allRights();
  }

  /** Named sets of rights. */
  @GetMapping("/roles")
  List<RoleView> roles(HttpServletRequest request) {
    return engine.roles().all(Asking.signedIn(request).person()).stream()
        .map(PeopleViews::role)
        .toList();
  }

  /** Makes a role, or changes it for everybody who holds it. */
  @PutMapping("/roles/{key}")
  RoleView saveRole(
      @PathVariable String key, @RequestBody RoleChange asked, HttpServletRequest request) {
    return PeopleViews.role(
        engine
            .roles()
            .save(
                Asking.signedIn(request).person(),
                key,
                asked.name(),
                PeopleViews.rights(asked.rights(), "/rights"),
                IfMatch.revision(request, asked.revision())));
  }

  @DeleteMapping("/roles/{key}")
  void removeRole(@PathVariable String key, HttpServletRequest request) {
    engine.roles().remove(Asking.signedIn(request).person(), key);
  }
}
