package plenzo.engine.people;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal;
import plenzo.core.proposal.Proposed;
import plenzo.core.proposal.Proposed.RightsOf;
import plenzo.core.proposal.Proposed.RoleAt;
import plenzo.engine.Tools;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/** What people may do: rights one by one, and roles, which are named sets of them. */
public final class Roles {
  private static final String FACT = "roles";

  private final Tools tools;

  /** A role as it is given: at a stage for an application; "*" means every one. */
  public record Given(String role, String stage, String application) {}

  private final SecondPerson second;

  /**
   * @param second is asked for what people may at production
   */
  public Roles(Tools tools, SecondPerson second) {
    this.tools = tools;
    this.second = second;
  }

  /** Gives an installation the roles that it begins with, once. */
  public void begin() {
    tools
        .keeper()
        .write(
            kept -> {
              if (kept.fact(FACT).isEmpty()) {
                Role.FIRST.forEach(r -> kept.roles().insert(r));
                kept.fact(FACT, "begun");
              }
              return null;
            });
  }

  /** By key, for whoever gives rights anywhere. */
  public List<Role> all(Person by) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return tools.keeper().read(kept -> kept.roles().all()).stream()
        .sorted(java.util.Comparator.comparing(Role::key))
        .toList();
  }

  /**
   * Makes a role, or changes it for everybody who holds it.
   *
   * @param revision of the role that was looked at; null when nobody looked
   */
  public Role save(
      Person by, String key, String name, List<Right> rights, @Nullable Integer revision) {
    return save(by, key, name, rights, revision, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Role save(
      Person by,
      String key,
      String name,
      List<Right> rights,
      @Nullable Integer revision,
      @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    if (!key.matches("[a-z][a-z0-9-]{1,39}")) {
      throw Problem.invalid(
          "KEY", "A role's key is 2 to 40 lower-case letters, digits and hyphens.", "/key");
    }
    if (name.isBlank() || name.length() > 100) {
      throw Problem.invalid("NAME", "A name has 1 to 100 characters.", "/name");
    }
    if (rights.isEmpty()) {
      throw Problem.invalid("RIGHTS", "A role gives one right at least.", "/rights");
    }
    return second.change(
        by, agreed, kept -> save(kept, by, new Role(key, name, rights, 0), revision));
  }

  private Made<Role> save(Kept kept, Person by, Role asked, @Nullable Integer revision) {
    Role was = kept.roles().find(asked.key()).orElse(null);
    int there = was == null ? 0 : was.revision();
    if (revision != null && (was == null || revision != there)) {
      throw Problem.changedMeanwhile("the role " + asked.key());
    }
    Role role = new Role(asked.key(), asked.name(), asked.rights(), there);
    if (was == null) {
      kept.roles().insert(role);
    } else {
      kept.roles().replace(role);
    }
    List<Person> holders = was == null ? List.of() : holders(kept, role.key());
    for (Person p : holders) {
      kept.people()
          .replace(
              p.withRoles(
                  p.roles().stream()
                      .map(
                          h ->
                              h.role().equals(role.key()) ? role.at(h.stage(), h.application()) : h)
                      .toList()));
    }
    Rights.requireAdministrator(kept);
    String gives =
        "Role "
            + role.key()
            + " gives "
            + String.join(", ", role.rights().stream().map(Right::code).toList())
            + (holders.isEmpty() ? "" : "; held by " + logins(holders));
    kept.note(Event.of(by.login(), was == null ? "role made" : "role changed", gives), tools.now());
    boolean moved = was != null && !was.rights().equals(role.rights());
    return new Made<>(
        kept.roles().find(role.key()).orElseThrow(),
        Proposed.role(role, there),
        moved ? SecondPerson.production(kept, heldAt(holders, role.key())) : Set.of(),
        List.of(Proposal.Place.EVERYWHERE),
        gives);
  }

  private static Set<String> heldAt(List<Person> holders, String role) {
    return holders.stream()
        .flatMap(p -> p.roles().stream())
        .filter(h -> h.role().equals(role))
        .map(Person.Held::stage)
        .collect(Collectors.toSet());
  }

  /** Stages where somebody may do more than look. */
  static Set<String> guardedBy(Person p) {
    return p.holds().stream()
        .filter(g -> g.right() != Right.LOOK)
        .map(Person.Grant::stage)
        .collect(Collectors.toSet());
  }

  private static List<Person> holders(Kept kept, String role) {
    return kept.people().all().stream()
        .filter(p -> p.roles().stream().anyMatch(h -> h.role().equals(role)))
        .toList();
  }

  private static String logins(List<Person> people) {
    return String.join(", ", people.stream().map(Person::login).sorted().toList());
  }

  /**
   * Removes a role that nobody holds.
   *
   * @throws Problem when somebody holds it
   */
  public void remove(Person by, String key) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    tools
        .keeper()
        .write(
            kept -> {
              find(kept, key);
              List<Person> holders = holders(kept, key);
              if (!holders.isEmpty()) {
                throw Problem.stopped(
                    "ROLE_HELD",
                    "The role " + key + " is held by " + logins(holders) + ".",
                    "Take it away from them first");
              }
              List<String> legs =
                  kept.paths().all().stream()
                      .flatMap(
                          path ->
                              path.legs().stream()
                                  .filter(
                                      leg ->
                                          leg.approvals().stream()
                                              .anyMatch(q -> q.role().equals(key)))
                                  .map(leg -> path.key() + " to " + leg.stage()))
                      .toList();
              if (!legs.isEmpty()) {
                throw Problem.stopped(
                    "ROLE_ASKED",
                    "The approval of the role "
                        + key
                        + " is asked for: "
                        + String.join(", ", legs)
                        + ".",
                    "Ask another role there: plenzo path gates");
              }
              kept.roles().remove(key);
              kept.note(Event.of(by.login(), "role removed", "Role " + key), tools.now());
              return null;
            });
  }

  private static Role find(Kept kept, String key) {
    return kept.roles().find(key).orElseThrow(() -> Problem.notFound("role", key));
  }

  /**
   * Replaces what a person may do. Nobody gives or takes what they do not administer themselves.
   *
   * @param grants name stages and applications that exist, or every one
   * @param roles the same; null leaves them as they are
   * @param revision of the person that was looked at; null when nobody looked
   */
  public Person grant(
      Person by,
      String login,
      List<Person.Grant> grants,
      @Nullable List<Given> roles,
      @Nullable Integer revision) {
    return grant(by, login, grants, roles, revision, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Person grant(
      Person by,
      String login,
      List<Person.Grant> grants,
      @Nullable List<Given> roles,
      @Nullable Integer revision,
      @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return second.change(
        by,
        agreed,
        kept -> {
          Person person = People.there(kept, login);
          if (revision != null && revision != person.revision()) {
            throw Problem.changedMeanwhile(login);
          }
          List<Person.Held> held = roles == null ? person.roles() : held(kept, roles);
          Person changed = person.withGrants(grants).withRoles(held);
          requireScope(by, person, changed);
          places(changed).forEach(p -> requireThere(kept, p));
          if (!kept.people().update(changed)) {
            throw Problem.changedMeanwhile(login);
          }
          Rights.requireAdministrator(kept);
          String now = "Rights of " + login + " are now " + describe(changed);
          kept.note(Event.of(by.login(), "rights changed", now), tools.now());
          return new Made<>(
              kept.people().find(login).orElseThrow(),
              Proposed.rights(login, asked(grants, roles), person.revision()),
              SecondPerson.production(kept, moved(person, changed)),
              placesOf(person, changed),
              now + "; before: " + describe(person));
        });
  }

  private static RightsOf asked(List<Person.Grant> grants, @Nullable List<Given> roles) {
    return new RightsOf(
        grants,
        roles == null
            ? null
            : roles.stream().map(g -> new RoleAt(g.role(), g.stage(), g.application())).toList());
  }

  /** Stages where more or less than looking is given. */
  private static Set<String> moved(Person was, Person is) {
    List<Person.Grant> before = was.holds();
    List<Person.Grant> after = is.holds();
    // a role may be asked for as such, whatever it gives
    Stream<String> roles =
        Stream.concat(was.roles().stream(), is.roles().stream())
            .filter(h -> !(was.roles().contains(h) && is.roles().contains(h)))
            .filter(h -> !h.rights().equals(List.of(Right.LOOK)))
            .map(Person.Held::stage);
    Stream<String> rights =
        Stream.concat(before.stream(), after.stream())
            .filter(g -> !(before.contains(g) && after.contains(g)))
            .filter(g -> g.right() != Right.LOOK)
            .map(Person.Grant::stage);
    return Stream.concat(roles, rights).collect(Collectors.toSet());
  }

  private static List<Proposal.Place> placesOf(Person was, Person is) {
    return difference(was, is)
        .map(p -> new Proposal.Place(p.stage(), p.application()))
        .distinct()
        .toList();
  }

  private static List<Person.Held> held(Kept kept, List<Given> roles) {
    return roles.stream()
        .distinct()
        .map(g -> find(kept, g.role()).at(g.stage(), g.application()))
        .toList();
  }

  /** What was given there, with its name: a right or a role. */
  private record Place(String what, String stage, String application) {
    /** "approve at production for fares", "look everywhere". */
    String words() {
      boolean everyStage = stage.equals(Person.EVERY);
      boolean everyApplication = application.equals(Person.EVERY);
      return what
          + (everyStage && everyApplication
              ? " everywhere"
              : (everyStage ? "" : " at " + stage)
                  + (everyApplication ? "" : " for " + application));
    }
  }

  private static Set<Place> places(Person p) {
    Set<Place> out = new LinkedHashSet<>();
    p.grants().forEach(g -> out.add(new Place(g.right().code(), g.stage(), g.application())));
    p.roles().forEach(h -> out.add(new Place("role " + h.role(), h.stage(), h.application())));
    return out;
  }

  private static Stream<Place> difference(Person was, Person is) {
    Set<Place> before = places(was);
    Set<Place> after = places(is);
    return Stream.concat(before.stream(), after.stream())
        .filter(p -> !(before.contains(p) && after.contains(p)));
  }

  private static void requireScope(Person by, Person was, Person is) {
    difference(was, is)
        .forEach(p -> Rights.require(by, Right.ADMINISTER, p.stage(), p.application()));
  }

  private static void requireThere(Kept kept, Place p) {
    if (!p.stage().equals(Person.EVERY)) {
      Rights.requireStage(kept, p.stage(), "/grants");
    }
    if (!p.application().equals(Person.EVERY)) {
      Rights.requireApplication(kept, p.application(), "/grants");
    }
  }

  private static String describe(Person p) {
    List<String> out = new ArrayList<>();
    places(p).forEach(g -> out.add(g.words()));
    return out.isEmpty() ? "none" : String.join(", ", out);
  }
}
