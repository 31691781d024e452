package plenzo.server.web;

import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.People.Grant;
import plenzo.api.People.HeldRole;
import plenzo.api.People.Only;
import plenzo.api.People.PersonView;
import plenzo.api.People.RightView;
import plenzo.api.People.RoleView;
import plenzo.core.person.Narrowing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.problem.Problem;
import plenzo.engine.people.Roles;

/** People, their rights and roles as the API says them, both ways. */
final class PeopleViews {
  private PeopleViews() {}

  static PersonView person(Person p) {
    return new PersonView(
        p.login(),
        p.name(),
        p.disabled(),
        p.mustChange(),
        grants(p.grants()),
        p.roles().stream().map(h -> new HeldRole(h.role(), h.stage(), h.application())).toList(),
        p.writesAs(),
        p.revision());
  }

  static List<Grant> grants(List<Person.Grant> grants) {
    return grants.stream()
        .map(g -> new Grant(g.right().code(), g.stage(), g.application()))
        .toList();
  }

  static Person.Grant grant(Grant g) {
    return new Person.Grant(right(g.right(), "/grants"), g.stage(), g.application());
  }

  static Roles.Given given(HeldRole h) {
    return new Roles.Given(h.role(), h.stage(), h.application());
  }

  static RoleView role(Role r) {
    return new RoleView(r.key(), r.name(), codes(r.rights()), r.revision());
  }

  private static List<String> codes(List<Right> rights) {
    return rights.stream().map(Right::code).toList();
  }

  static List<RightView> allRights() {
    return Arrays.stream(Right.values()).map(r -> new RightView(r.code(), r.words())).toList();
  }

  static List<Right> rights(List<String> codes, String pointer) {
    return codes.stream().map(c -> right(c, pointer)).toList();
  }

  static Right right(String code, String pointer) {
    return Right.find(code)
        .orElseThrow(
            () ->
                Problem.invalid(
                    "UNKNOWN_RIGHT",
                    "There is no right \""
                        + code
                        + "\"; there are "
                        + String.join(", ", codes(List.of(Right.values())))
                        + ".",
                    pointer));
  }

  static @Nullable Only only(@Nullable Narrowing n) {
    return n == null ? null : new Only(codes(n.rights()), n.stages(), n.applications());
  }

  static @Nullable Narrowing narrowing(@Nullable Only only) {
    return only == null
        ? null
        : new Narrowing(rights(only.rights(), "/only/rights"), only.stages(), only.applications());
  }
}
