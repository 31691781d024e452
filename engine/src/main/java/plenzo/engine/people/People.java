package plenzo.engine.people;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Semaphore;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memos;
import plenzo.core.keeping.Slice;
import plenzo.core.may.May;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.engine.Tools;

/** Signing in, tokens, people and their rights. */
public final class People {
  /** How long a browser stays signed in (guess: a working day). */
  private static final Duration SESSION = Duration.ofHours(12);

  private static final Duration TOKEN = Duration.ofDays(90);
  private static final Duration KEPT_AFTERWARDS = Duration.ofDays(7);

  /** After so many failures in a row the account waits, twice as long each time. */
  private static final int FAILURES = 5;

  private static final int MIN_PASSWORD = 10;

  /** Names that share a door wait for one another (guess: enough for people at once). */
  private static final int DOORS = 64;

  private final Tools tools;
  private final PasswordHasher hasher;
  private final Addresses addresses = new Addresses();
  private final Semaphore few = new Semaphore(4);

  /** One try at a name is judged and counted before the next: tries at once counted as one. */
  private final List<Object> doors = Stream.generate(Object::new).limit(DOORS).toList();

  /** Hashes passwords slowly. */
  public interface PasswordHasher {
    String hash(String password);

    boolean matches(String password, String hash);
  }

  /** A new secret, told once, with the record that knows its hash. */
  public record Issued(String secret, AccessKey key) {}

  /** Asked for with every request; a stranger's guesses push out others, which are read again. */
  private final Memos<String, Optional<AccessKey>> keys = new Memos<>(500);

  private final String nobody;

  public People(Tools tools, PasswordHasher hasher) {
    this.tools = tools;
    this.hasher = hasher;
    this.nobody = hasher.hash(tools.newId());
  }

  /**
   * Makes the first administrator when there is nobody; the password, or empty when there was
   * somebody.
   *
   * @param given a password for trying out, which need not be changed; empty to make one
   */
  public Optional<String> firstAdministrator(String given) {
    String password = given.isEmpty() ? secret().substring(0, 16) : given;
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
                      new Person(
                          "admin",
                          "Administrator",
                          hash,
                          given.isEmpty(),
                          false,
                          0,
                          null,
                          grants,
                          0));
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
  public Issued signIn(String login, String password, String address) {
    synchronized (doors.get(Math.floorMod(login.hashCode(), DOORS))) {
      return judged(login, password, address);
    }
  }

  private Issued judged(String login, String password, String address) {
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
    Issued issued = issue(person.login(), "browser", false, now.plus(SESSION));
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

  private String secret() {
    byte[] bytes = new byte[32];
    tools.random().nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  private Issued issue(String login, String label, boolean token, Instant until) {
    String secret = secret();
    return new Issued(
        secret,
        new AccessKey(
            hash(secret),
            login,
            label,
            token,
            token ? null : secret(),
            tools.now(),
            until,
            false,
            0));
  }

  private static String hash(String secret) {
    return Digest.of(new String(secret.getBytes(StandardCharsets.UTF_8), StandardCharsets.UTF_8))
        .hex();
  }

  /**
   * Who holds this secret now; empty when it is unknown, expired or revoked, or the person may no
   * longer sign in.
   */
  public Optional<SignedIn> whoHolds(String secret) {
    String hash = hash(secret);
    return keys.get(
            hash,
            tools.keeper().stampOfKeys(),
            () -> tools.keeper().read(kept -> kept.accessKeys().find(hash)))
        .filter(k -> !k.revoked() && tools.now().isBefore(k.expiresAt()))
        .flatMap(this::signedIn);
  }

  private Optional<SignedIn> signedIn(AccessKey key) {
    return tools.keeper().everybody().stream()
        .filter(p -> p.login().equals(key.login()) && !p.disabled())
        .findFirst()
        .map(p -> new SignedIn(p, key));
  }

  /**
   * Forgets what is over since seven days: sessions, tokens, and answers kept for repeated calls.
   *
   * @return how many records
   */
  public int forgetWhatIsOver() {
    Instant answers = tools.now().minus(KEPT_AFTERWARDS);
    return tools
        .keeper()
        .write(kept -> kept.forget(answers, answers.minus(SESSION), answers.minus(TOKEN)));
  }

  /** A person and how they signed in. */
  public record SignedIn(Person person, AccessKey key) {}

  /** Whether the person has a right there, and if not, who has. */
  public May may(Person by, Right right, String stage, String application) {
    return May.byRight(by, right, stage, application, tools.keeper().everybody());
  }

  public void signOut(AccessKey key) {
    tools
        .keeper()
        .write(
            kept -> {
              kept.accessKeys().replace(key.ended());
              return null;
            });
  }

  public Issued newToken(Person person, String label) {
    if (label.isBlank() || label.length() > 100) {
      throw Problem.invalid(
          "LABEL",
          "A token needs a label of 1 to 100 characters that says what it is for.",
          "/label");
    }
    Issued issued = issue(person.login(), label, true, tools.now().plus(TOKEN));
    return tools
        .keeper()
        .write(
            kept -> {
              kept.accessKeys().insert(issued.key());
              kept.note(
                  Event.of(
                      person.login(),
                      "token made",
                      "Token \"" + label + "\" until " + issued.key().expiresAt()),
                  tools.now());
              return issued;
            });
  }

  public List<AccessKey> tokens(Person person) {
    return tools.keeper().read(kept -> valid(kept, person.login())).stream()
        .filter(AccessKey::token)
        .toList();
  }

  private List<AccessKey> valid(Kept kept, String login) {
    return kept.accessKeys().list(Kept.Filter.state(login)).stream()
        .filter(k -> !k.revoked() && tools.now().isBefore(k.expiresAt()))
        .toList();
  }

  /**
   * @param brief the token as lists show it
   */
  public void revoke(Person person, String brief) {
    AccessKey key =
        tokens(person).stream()
            .filter(k -> k.brief().equals(brief))
            .findFirst()
            .orElseThrow(() -> Problem.notFound("token", brief));
    signOut(key);
  }

  /** Sessions and tokens that hold, of oneself or, for administrators, of anybody. */
  public List<AccessKey> keys(Person by, String login) {
    requireSelfOrAll(by, login);
    return tools
        .keeper()
        .read(
            kept -> {
              there(kept, login);
              return valid(kept, login);
            });
  }

  /**
   * Ends a session or a token.
   *
   * @param brief the key as lists show it
   */
  public void end(Person by, String login, String brief) {
    requireSelfOrAll(by, login);
    tools
        .keeper()
        .write(
            kept -> {
              AccessKey key =
                  valid(kept, login).stream()
                      .filter(k -> k.brief().equals(brief))
                      .findFirst()
                      .orElseThrow(() -> Problem.notFound("session or token", brief));
              kept.accessKeys().replace(key.ended());
              kept.note(
                  Event.of(
                      by.login(),
                      "key ended",
                      (key.token() ? "Token \"" + key.label() + "\"" : "A session")
                          + " of "
                          + login
                          + " ended"),
                  tools.now());
              return null;
            });
  }

  private static void requireSelfOrAll(Person by, String login) {
    if (!by.login().equals(login)) {
      Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    }
  }

  private static Person there(Kept kept, String login) {
    return kept.people().find(login).orElseThrow(() -> Problem.notFound("person", login));
  }

  /** Ends what somebody signed in with; the one key is left, or none. */
  private long endAll(Kept kept, String login, @Nullable AccessKey but, boolean tokensToo) {
    List<AccessKey> over =
        valid(kept, login).stream()
            .filter(k -> but == null || !k.hash().equals(but.hash()))
            .filter(k -> tokensToo || !k.token())
            .toList();
    over.forEach(k -> kept.accessKeys().replace(k.ended()));
    return over.size();
  }

  /** Changes the own password, which ends the other sessions; tokens go on. */
  public void changePassword(SignedIn who, String old, String fresh) {
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
              kept.people().replace(person.withPassword(hash, false));
              endAll(kept, person.login(), who.key(), /* tokensToo= */ false);
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
              long ended = endAll(kept, login, null, /* tokensToo= */ true);
              kept.note(
                  Event.of(
                      by.login(),
                      "password reset",
                      "Password of " + login + " reset" + endedWords(ended)),
                  tools.now());
              return person;
            });
  }

  private static String endedWords(long ended) {
    return ended == 0
        ? ""
        : "; " + ended + (ended == 1 ? " session or token" : " sessions and tokens") + " ended";
  }

  /** Changes how somebody is shown. */
  public Person rename(Person by, String login, String name) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    if (name.isBlank() || name.length() > 100) {
      throw Problem.invalid("NAME", "A name has 1 to 100 characters.", "/name");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Person person = there(kept, login).withName(name);
              kept.people().replace(person);
              kept.note(
                  Event.of(by.login(), "person changed", login + " is now shown as " + name),
                  tools.now());
              return person;
            });
  }

  /** Keeps somebody out, whose sessions and tokens end at once, or lets them in again. */
  public Person disable(Person by, String login, boolean disabled) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return tools
        .keeper()
        .write(
            kept -> {
              Person person = there(kept, login);
              if (person.disabled() == disabled) {
                return person;
              }
              Person changed = person.withDisabled(disabled);
              requireAdministrator(kept, changed);
              kept.people().replace(changed);
              long ended = disabled ? endAll(kept, login, null, /* tokensToo= */ true) : 0;
              kept.note(
                  Event.of(
                      by.login(),
                      disabled ? "person disabled" : "person enabled",
                      login
                          + (disabled ? " can no longer sign in" : " can sign in again")
                          + endedWords(ended)),
                  tools.now());
              return changed;
            });
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

  /** Everybody, for whoever grants rights anywhere. */
  public Slice<Person> all(Person by, Kept.Filter part) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return tools.keeper().read(kept -> kept.people().slice(part, Sight.EVERYWHERE));
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
        new Person(
            login,
            name.isBlank() ? login : name,
            hasher.hash(password),
            mustChange,
            false,
            0,
            null,
            List.of(),
            0);
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

  /**
   * Replaces what a person may do. Nobody gives or takes what they do not administer themselves.
   *
   * @param grants name stages and applications that exist, or every one
   * @param revision of the person that was looked at; null when nobody looked
   */
  public Person grant(
      Person by, String login, List<Person.Grant> grants, @Nullable Integer revision) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return tools
        .keeper()
        .write(
            kept -> {
              Person person = there(kept, login);
              if (revision != null && revision != person.revision()) {
                throw changedMeanwhile(login);
              }
              requireScope(by, person.grants(), grants);
              grants.forEach(g -> requireThere(kept, g));
              Person changed = person.withGrants(grants);
              requireAdministrator(kept, changed);
              if (!kept.people().update(changed)) {
                throw changedMeanwhile(login);
              }
              kept.note(
                  Event.of(
                      by.login(),
                      "rights changed",
                      "Rights of " + login + " are now " + describe(grants)),
                  tools.now());
              return changed;
            });
  }

  private static Problem changedMeanwhile(String login) {
    return Problem.changed(
        "CHANGED", "Somebody else changed " + login + " meanwhile.", "Look again");
  }

  /** Somebody administers everything, else nobody could ever change anything again. */
  private static void requireAdministrator(Kept kept, Person changed) {
    if (!changed.may(Right.ADMINISTER, Person.EVERY, Person.EVERY)
        && kept.people().all().stream()
            .filter(p -> !p.login().equals(changed.login()))
            .noneMatch(p -> p.may(Right.ADMINISTER, Person.EVERY, Person.EVERY))) {
      throw Problem.stopped(
          "LAST_ADMINISTRATOR",
          changed.login() + " is the last administrator of everything.",
          "Make somebody else administrator of everything first");
    }
  }

  private static void requireScope(Person by, List<Person.Grant> was, List<Person.Grant> is) {
    Set<Person.Grant> changed = new LinkedHashSet<>(is);
    was.forEach(changed::remove);
    was.stream().filter(g -> !is.contains(g)).forEach(changed::add);
    for (Person.Grant g : changed) {
      Rights.require(by, Right.ADMINISTER, g.stage(), g.application());
    }
  }

  private static void requireThere(Kept kept, Person.Grant g) {
    if (!g.stage().equals(Person.EVERY) && kept.stages().find(g.stage()).isEmpty()) {
      throw Problem.invalid("UNKNOWN_STAGE", "There is no stage \"" + g.stage() + "\".", "/grants");
    }
    if (!g.application().equals(Person.EVERY)
        && kept.applications().find(g.application()).isEmpty()) {
      throw Problem.invalid(
          "UNKNOWN_APPLICATION", "There is no application \"" + g.application() + "\".", "/grants");
    }
  }

  private static String describe(List<Person.Grant> grants) {
    List<String> out = new ArrayList<>();
    grants.forEach(g -> out.add(g.right().code() + " " + g.stage() + " " + g.application()));
    return out.isEmpty() ? "none" : String.join(", ", out);
  }
}
