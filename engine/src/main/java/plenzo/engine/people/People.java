package plenzo.engine.people;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Semaphore;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal.Place;
import plenzo.core.proposal.Proposed;
import plenzo.engine.Tools;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/** People who can sign in: their passwords, and that they come and go. */
public final class People {
  /** After so many failures in a row the account waits, twice as long each time. */
  private static final int FAILURES = 5;

  private static final int MIN_PASSWORD = 10;

  private static final String RESET = "password reset";
  private static final String PASSWORD_OF = "Password of ";

  /** Names that share a door wait for one another (guess: enough for people at once). */
  private static final int DOORS = 64;

  private final Tools tools;
  private final PasswordHasher hasher;
  private final AccessKeys keys;
  private final SecondPerson second;
  private final Addresses addresses = new Addresses();
  private final Semaphore few = new Semaphore(4);

  /** One try at a name is judged and counted before the next: tries at once counted as one. */
  private final List<Object> doors = Stream.generate(Object::new).limit(DOORS).toList();

  /** Hashes passwords slowly. */
  public interface PasswordHasher {
    String hash(String password);

    boolean matches(String password, String hash);
  }

  private final String nobody;

  /**
   * @param second is asked before somebody who has rights at production is kept out or let in
   */
  public People(Tools tools, PasswordHasher hasher, AccessKeys keys, SecondPerson second) {
    this.tools = tools;
    this.hasher = hasher;
    this.keys = keys;
    this.second = second;
    this.nobody = hasher.hash(tools.newId());
  }

  /**
   * Makes the first administrator when there is nobody; the password, or empty when there was
   * somebody.
   *
   * @param given a password for trying out, which need not be changed; empty to make one
   */
  public Optional<String> firstAdministrator(String given) {
    String password = given.isEmpty() ? keys.secret().substring(0, 16) : given;
    String hash = hasher.hash(password);
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.people().all().isEmpty()) {
                return Optional.empty();
              }
              List<Person.Grant> grants = new ArrayList<>();
              for (Right right :
                  List.of(Right.LOOK, Right.ADMINISTER, Right.OPERATE, Right.AUDIT)) {
                grants.add(new Person.Grant(right, Person.EVERY, Person.EVERY));
              }
              kept.people()
                  .insert(
                      Person.invited("admin", "Administrator", hash, given.isEmpty())
                          .withGrants(grants));
              kept.note(
                  Event.of("plenzo", "person invited", "First administrator \"admin\""),
                  tools.now());
              return Optional.of(password);
            });
  }

  /**
   * Signs a browser in.
   *
   * @throws Problem when name and password do not belong together; equal for unknown names
   */
  public AccessKeys.Issued signIn(String login, String password, String address) {
    synchronized (doors.get(Math.floorMod(login.hashCode(), DOORS))) {
      return judged(login, password, address);
    }
  }

  private AccessKeys.Issued judged(String login, String password, String address) {
    Optional<Person> found = tools.keeper().read(kept -> kept.people().find(login));
    Instant now = tools.now();
    Person person = found.orElse(null);
    boolean locked =
        !addresses.judges(address, login, now)
            || (person != null
                && person.lockedUntil() != null
                && now.isBefore(person.lockedUntil()));
    boolean right = matches(password, person == null ? nobody : person.passwordHash());
    if (person == null || person.disabled() || locked || !right) {
      if (!right) {
        addresses.failed(address, now);
      }
      if (person != null && !locked && !right) {
        fail(person, now, address);
      }
      throw new Problem(
          Problem.Reason.NOT_SIGNED_IN,
          "SIGN_IN_FAILED",
          "Name and password do not belong together, or too many tries were made.",
          List.of("Try again in a minute"),
          null);
    }
    addresses.succeeded(address, login);
    AccessKeys.Issued issued = keys.session(person.login());
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Person present = kept.people().find(person.login()).orElseThrow();
              kept.people().replace(present.withFailures(0, null));
              kept.accessKeys().insert(issued.key());
              kept.note(Event.of(person.login(), "signed in", "Signed in"), now);
              return issued;
            });
  }

  private boolean matches(String password, String hash) {
    few.acquireUninterruptibly();
    try {
      return hasher.matches(password, hash);
    } finally {
      few.release();
    }
  }

  private void fail(Person person, Instant now, String address) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Person present = kept.people().find(person.login()).orElseThrow();
              int failures = present.failures() + 1;
              Instant until =
                  failures < FAILURES
                      ? null
                      : now.plusSeconds(30L << Math.min(failures - FAILURES, 6));
              kept.people().replace(present.withFailures(failures, until));
              kept.note(
                  Event.of(
                      person.login(),
                      "sign-in failed",
                      "Sign-in failed, " + failures + " in a row, from " + address),
                  now);
              return null;
            });
  }

  /** Whether the person has a right there, and if not, who has. */
  public May may(Person by, Right right, String stage, String application) {
    return May.byRight(by, right, stage, application, tools.everybody());
  }

  static Person there(Kept kept, String login) {
    return kept.people().find(login).orElseThrow(() -> Problem.notFound("person", login));
  }

  /** Changes the own password, which ends the other sessions; tokens go on. */
  public void changePassword(AccessKeys.SignedIn who, String old, String fresh) {
    AccessKeys.requireWhole(who);
    Person person = who.person();
    if (!matches(old, person.passwordHash())) {
      throw Problem.invalid("PASSWORD", "The present password is another one.", "/old");
    }
    checkPassword(fresh);
    String hash = hasher.hash(fresh);
    tools
        .keeper()
        .write(
            kept -> {
              kept.people().replace(there(kept, person.login()).withPassword(hash, false));
              keys.endAll(kept, person.login(), who.key(), /* tokensToo= */ false);
              kept.note(
                  Event.of(person.login(), "password changed", "Changed the own password"),
                  tools.now());
              return null;
            });
  }

  /**
   * Gives somebody a password for once, which they must change; their sessions and tokens end, and
   * they need not wait for tries that failed.
   */
  public Person resetPassword(Person by, String login, String password) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    checkPassword(password);
    String hash = hasher.hash(password);
    return tools
        .keeper()
        .write(
            kept -> {
              Person person = there(kept, login).withPassword(hash, /* mustChange= */ true);
              kept.people().replace(person);
              long ended = keys.endAll(kept, login, null, /* tokensToo= */ true);
              kept.note(
                  Event.of(by.login(), RESET, PASSWORD_OF + login + " reset" + endedWords(ended)),
                  tools.now());
              return person;
            });
  }

  /** The newest passwords that somebody gave others, the newest first. */
  public static List<HistoryEntry> passwordsGiven(Kept kept, String by) {
    return kept.history(
        new Kept.HistoryFilter(null, null, RESET, by, /* before= */ 0, /* limit= */ 200));
  }

  /** Whether it was that person's password. */
  public static boolean isOf(HistoryEntry reset, String login) {
    return reset.text().startsWith(PASSWORD_OF + login + " ");
  }

  private static String endedWords(long ended) {
    return ended == 0
        ? ""
        : "; " + ended + (ended == 1 ? " session or token" : " sessions and tokens") + " ended";
  }

  /**
   * What may be changed of a person; null leaves a fact as it is.
   *
   * @param writesAs addresses under which they write in repositories; the whole list
   */
  public record Facts(
      @Nullable String name, @Nullable Boolean disabled, @Nullable List<String> writesAs) {}

  /**
   * Changes how somebody is shown, whether they may sign in, and under which addresses they write:
   * somebody who is kept out loses sessions and tokens at once.
   *
   * @param revision of the person that was looked at; null when nobody looked
   */
  public Person change(Person by, String login, Facts asked, @Nullable Integer revision) {
    return change(by, login, asked, revision, /* agreed= */ null);
  }

  /**
   * @param agreed a second person's word; null when it is asked for now
   */
  public Person change(
      Person by, String login, Facts asked, @Nullable Integer revision, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    String name = asked.name();
    if (name != null && (name.isBlank() || name.length() > 100)) {
      throw Problem.invalid("NAME", "A name has 1 to 100 characters.", "/name");
    }
    return second.change(by, agreed, kept -> changed(kept, by, login, asked, revision));
  }

  private Made<Person> changed(
      Kept kept, Person by, String login, Facts asked, @Nullable Integer revision) {
    Person was = there(kept, login);
    if (revision != null && revision != was.revision()) {
      throw Problem.changedMeanwhile(login);
    }
    if (asked.name() != null && !asked.name().equals(was.name())) {
      rename(kept, by, was, asked.name());
    }
    if (asked.disabled() != null && asked.disabled() != was.disabled()) {
      disable(kept, by, login, asked.disabled());
    }
    if (asked.writesAs() != null) {
      writes(kept, by, there(kept, login), asked.writesAs());
    }
    Person now = there(kept, login);
    Set<String> guarded = new TreeSet<>();
    List<String> words = new ArrayList<>();
    if (now.disabled() != was.disabled()) {
      words.add(login + (now.disabled() ? " can no longer sign in" : " can sign in again"));
      guarded.addAll(outAtOnce(was, now) ? Set.of() : Roles.guardedBy(now));
    }
    if (!now.writesAs().equals(was.writesAs())) {
      // who is an author decides who may approve
      words.add(addresses(now) + "; before: " + addresses(was));
      guarded.add(Person.EVERY);
    }
    return new Made<>(
        now,
        Proposed.person(login, new Proposed.PersonIs(now.name(), now.disabled(), now.writesAs())),
        SecondPerson.production(kept, guarded),
        List.of(Place.EVERYWHERE),
        String.join("; ", words));
  }

  private static String addresses(Person p) {
    return p.login()
        + " writes in repositories as "
        + (p.writesAs().isEmpty() ? "nobody known" : String.join(", ", p.writesAs()));
  }

  private void writes(Kept kept, Person by, Person was, List<String> asked) {
    List<String> all =
        asked.stream().map(a -> a.strip().toLowerCase(Locale.ROOT)).distinct().sorted().toList();
    for (String address : all) {
      if (address.length() > 200 || !address.matches("[^\\s<>]+@[^\\s<>]+")) {
        throw Problem.invalid(
            "ADDRESS", "\"" + address + "\" is no address such as ines@example.org.", "/writesAs");
      }
      kept.people().all().stream()
          .filter(p -> !p.login().equals(was.login()) && p.writesAs().contains(address))
          .findFirst()
          .ifPresent(
              p -> {
                throw Problem.invalid(
                    "ADDRESS_TAKEN", p.login() + " writes as " + address + ".", "/writesAs");
              });
    }
    if (!all.equals(was.writesAs())) {
      Person now = was.withWritesAs(all);
      kept.people().replace(now);
      kept.note(Event.of(by.login(), "person changed", addresses(now)), tools.now());
    }
  }

  /** Whoever leaves is kept out at once, but for those who administer: they watch each other. */
  private static boolean outAtOnce(Person was, Person now) {
    return now.disabled() && !was.may(Right.ADMINISTER, Person.ANY, Person.ANY);
  }

  private void rename(Kept kept, Person by, Person was, String name) {
    kept.people().replace(was.withName(name));
    kept.note(
        Event.of(by.login(), "person changed", was.login() + " is now shown as " + name),
        tools.now());
  }

  private void disable(Kept kept, Person by, String login, boolean disabled) {
    kept.people().replace(there(kept, login).withDisabled(disabled));
    Rights.requireAdministrator(kept);
    long ended = disabled ? keys.endAll(kept, login, null, /* tokensToo= */ true) : 0;
    kept.note(
        Event.of(
            by.login(),
            disabled ? "person disabled" : "person enabled",
            login
                + (disabled ? " can no longer sign in" : " can sign in again")
                + endedWords(ended)),
        tools.now());
  }

  private static void checkPassword(String password) {
    if (password.length() < MIN_PASSWORD || password.length() > 72) {
      throw Problem.invalid(
          "PASSWORD",
          "A password has "
              + MIN_PASSWORD
              + " to 72 characters; this one has "
              + password.length()
              + ".",
          "/password");
    }
  }

  /**
   * Everybody whose name or full name has these letters, large or small, for whoever grants rights
   * anywhere; no letters mean everybody.
   */
  public Slice<Person> all(Person by, String find, Kept.Filter part) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    String letters = find.strip().toLowerCase(Locale.ROOT);
    return tools
        .keeper()
        .read(
            kept ->
                letters.isEmpty()
                    ? kept.people().slice(part, Sight.EVERYWHERE)
                    : Slice.filled(
                        part,
                        next -> kept.people().slice(next, Sight.EVERYWHERE),
                        p ->
                            p.login().toLowerCase(Locale.ROOT).contains(letters)
                                || p.name().toLowerCase(Locale.ROOT).contains(letters)));
  }

  /** One person, for themselves or whoever grants rights anywhere. */
  public Person get(Person by, String login) {
    if (!by.login().equals(login)) {
      Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    }
    return tools.keeper().read(kept -> there(kept, login));
  }

  /** Adds a person with a first password, which they must change. */
  public Person invite(Person by, String login, String name, String password, boolean mustChange) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    if (!login.matches("[a-z][a-z0-9.-]{1,39}")) {
      throw Problem.invalid(
          "LOGIN",
          "A sign-in name is 2 to 40 lower-case letters, digits, dots and hyphens.",
          "/login");
    }
    checkPassword(password);
    Person person =
        Person.invited(login, name.isBlank() ? login : name, hasher.hash(password), mustChange);
    return tools
        .keeper()
        .write(
            kept -> {
              if (kept.people().find(login).isPresent()) {
                throw Problem.invalid(
                    "TAKEN", "There is already a person \"" + login + "\".", "/login");
              }
              kept.people().insert(person);
              kept.note(
                  Event.of(by.login(), "person invited", "Invited " + login + " (" + name + ")"),
                  tools.now());
              return person;
            });
  }
}
