package plenzo.engine.people;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memos;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Narrowing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.Tools;

/** What people are let in with: sessions of browsers, and tokens. */
public final class AccessKeys {
  /** How long a browser stays signed in (guess: a working day). */
  private static final Duration SESSION = Duration.ofHours(12);

  /** How long a token holds at most, and if nobody says how long. */
  public static final int MOST_DAYS = 90;

  /** How long the calendar's feed can be read. */
  private static final int FEED_DAYS = 366;

  private static final Duration KEPT_AFTERWARDS = Duration.ofDays(7);

  private final Tools tools;

  /** Asked for with every request; a stranger's guesses push out others, which are read again. */
  private final Memos<String, Optional<AccessKey>> keys = new Memos<>(500);

  /** A new secret, told once, with the record that knows its hash. */
  public record Issued(String secret, AccessKey key) {}

  /**
   * A person and how they signed in.
   *
   * @param person with the rights that the key leaves them
   */
  public record SignedIn(Person person, AccessKey key) {}

  public AccessKeys(Tools tools) {
    this.tools = tools;
  }

  String secret() {
    byte[] bytes = new byte[32];
    tools.random().nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  /** A browser's, not stored yet. */
  Issued session(String login) {
    return issue(login, "browser", false, null, false, SESSION);
  }

  private Issued issue(
      String login,
      String label,
      boolean token,
      @Nullable Narrowing only,
      boolean feed,
      Duration holds) {
    String secret = secret();
    Instant now = tools.now();
    return new Issued(
        secret,
        new AccessKey(
            hash(secret),
            login,
            label,
            token,
            token ? null : secret(),
            now,
            now.plus(holds),
            /* revoked= */ false,
            only,
            feed ? true : null,
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
    return holds(secret).filter(s -> !s.key().opensFeedOnly());
  }

  /** Whose calendar this secret opens; empty as with {@link #whoHolds}. */
  public Optional<SignedIn> whoFollows(String secret) {
    return holds(secret).filter(s -> s.key().opensFeedOnly());
  }

  private Optional<SignedIn> holds(String secret) {
    String hash = hash(secret);
    return keys.get(
            hash,
            tools.keeper().stampOfKeys(),
            () -> tools.keeper().read(kept -> kept.accessKeys().find(hash)))
        .filter(k -> !k.revoked() && tools.now().isBefore(k.expiresAt()))
        .flatMap(this::signedIn);
  }

  private Optional<SignedIn> signedIn(AccessKey key) {
    // a narrowed token is for what its person may, and stands in for nobody
    List<Person> all = key.only() == null ? tools.everybody() : tools.keeper().everybody();
    return all.stream()
        .filter(p -> p.login().equals(key.login()) && !p.disabled())
        .findFirst()
        .map(p -> new SignedIn(key.only() == null ? p : key.only().of(p), key));
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
        .write(
            kept ->
                kept.forget(
                    answers, answers.minus(SESSION), answers.minus(Duration.ofDays(FEED_DAYS))));
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

  /**
   * Makes a token.
   *
   * @param only what it may at most; null for whatever its person may
   * @param days how long it holds, 1 to {@link #MOST_DAYS}
   * @throws Problem when whoever asks holds a narrowed token, or names what is not there
   */
  public Issued newToken(SignedIn who, String label, @Nullable Narrowing only, int days) {
    requireWhole(who);
    requireLabel(label);
    if (days < 1 || days > MOST_DAYS) {
      throw Problem.invalid("DAYS", "A token holds 1 to " + MOST_DAYS + " days.", "/days");
    }
    Narrowing narrowed = only == null || only.nothing() ? null : only;
    String login = who.person().login();
    Issued issued = issue(login, label, true, narrowed, false, Duration.ofDays(days));
    return tools
        .keeper()
        .write(
            kept -> {
              if (narrowed != null) {
                narrowed.stages().forEach(s -> Rights.requireStage(kept, s, "/only/stages"));
                narrowed
                    .applications()
                    .forEach(a -> Rights.requireApplication(kept, a, "/only/applications"));
                requireSomething(who.person(), narrowed);
              }
              kept.accessKeys().insert(issued.key());
              kept.note(
                  Event.of(
                      login,
                      "token made",
                      "Token \""
                          + label
                          + "\""
                          + (narrowed == null ? "" : " for " + words(narrowed))
                          + " until "
                          + issued.key().expiresAt()),
                  tools.now());
              return issued;
            });
  }

  private static void requireLabel(String label) {
    if (label.isBlank() || label.length() > 100) {
      throw Problem.invalid(
          "LABEL",
          "A token needs a label of 1 to 100 characters that says what it is for.",
          "/label");
    }
  }

  /**
   * Makes a token that opens the calendar's feed and nothing else: it stands in an address that
   * programs keep, so it may look and no more.
   */
  public Issued newFeed(SignedIn who, String label) {
    requireWhole(who);
    requireLabel(label);
    String login = who.person().login();
    Narrowing look = new Narrowing(List.of(Right.LOOK), List.of(), List.of());
    Issued issued = issue(login, label, true, look, true, Duration.ofDays(FEED_DAYS));
    return tools
        .keeper()
        .write(
            kept -> {
              kept.accessKeys().insert(issued.key());
              kept.note(
                  Event.of(
                      login,
                      "token made",
                      "Token \""
                          + label
                          + "\" for the calendar alone until "
                          + issued.key().expiresAt()),
                  tools.now());
              return issued;
            });
  }

  /** A token that may nothing is a mistake that would be noticed at night. */
  private static void requireSomething(Person person, Narrowing only) {
    if (only.of(person).grants().isEmpty()) {
      throw Problem.invalid(
          "NOTHING_LEFT",
          "Nothing of what you may is left: you have no right for " + words(only) + ".",
          "/only");
    }
  }

  /** As people read it. */
  private static String words(Narrowing only) {
    return (only.rights().isEmpty()
            ? "every right"
            : String.join(", ", only.rights().stream().map(Right::code).toList()))
        + (only.stages().isEmpty() ? "" : " at " + String.join(", ", only.stages()))
        + (only.applications().isEmpty()
            ? ""
            : " for the application " + String.join(", ", only.applications()));
  }

  /** What is done as oneself is not done by a token that was made to do less. */
  static void requireWhole(SignedIn who) {
    if (who.key().only() != null) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "NARROWED",
          "The token \"" + who.key().label() + "\" may only what it was made for.",
          List.of("Sign in as yourself"),
          null);
    }
  }

  private List<AccessKey> valid(Kept kept, String login) {
    return kept.accessKeys().list(Kept.Filter.state(login)).stream()
        .filter(k -> !k.revoked() && tools.now().isBefore(k.expiresAt()))
        .toList();
  }

  /** Sessions and tokens that hold, of oneself or, for administrators, of anybody. */
  public List<AccessKey> keys(SignedIn who, String login) {
    requireSelfOrAll(who, login);
    return tools
        .keeper()
        .read(
            kept -> {
              People.there(kept, login);
              return valid(kept, login);
            });
  }

  /**
   * Ends a session or a token.
   *
   * @param brief the key as lists show it
   */
  public void end(SignedIn who, String login, String brief) {
    requireSelfOrAll(who, login);
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
                      who.person().login(),
                      "key ended",
                      (key.token() ? "Token \"" + key.label() + "\"" : "A session")
                          + " of "
                          + login
                          + " ended"),
                  tools.now());
              return null;
            });
  }

  private static void requireSelfOrAll(SignedIn who, String login) {
    if (who.person().login().equals(login)) {
      requireWhole(who);
    } else {
      Rights.require(who.person(), Right.ADMINISTER, Person.EVERY, Person.EVERY);
    }
  }

  /** Ends what somebody signed in with; the one key is left, or none. */
  long endAll(Kept kept, String login, @Nullable AccessKey but, boolean tokensToo) {
    List<AccessKey> over =
        valid(kept, login).stream()
            .filter(k -> but == null || !k.hash().equals(but.hash()))
            .filter(k -> tokensToo || !k.token())
            .toList();
    over.forEach(k -> kept.accessKeys().replace(k.ended()));
    return over.size();
  }
}
