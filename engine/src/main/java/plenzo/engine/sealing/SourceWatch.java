package plenzo.engine.sealing;

import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.source.Commits;
import plenzo.core.source.Repository;
import plenzo.core.source.Repository.Follow;
import plenzo.core.source.SourceCopies;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Adoption;

/**
 * Looks at sources from time to time: what changed there and is in no version, and new tags of
 * repositories, which become drafts or versions where an application says so.
 */
public final class SourceWatch {
  /** From here on a stored copy is old while its source moves on (guess). */
  private static final Duration OLD = Duration.ofDays(30);

  private static final int LONGEST_TITLE = 200;

  private final Tools tools;
  private final Sources sources;
  private final Drafts drafts;
  private final Set<String> looking = ConcurrentHashMap.newKeySet();

  public SourceWatch(Tools tools, Sources sources, Drafts drafts) {
    this.tools = tools;
    this.sources = sources;
    this.drafts = drafts;
  }

  /** Who acts when a tag is followed: may author this application and nothing else. */
  private static Person git(String application) {
    return Person.invited("git", "Git", "", false)
        .withGrants(
            List.of(
                new Person.Grant(Right.LOOK, Person.EVERY, application),
                new Person.Grant(Right.AUTHOR, Person.EVERY, application)));
  }

  /** What was seen last; nothing yet when nobody looked. */
  public SourceRecord seen(String application) {
    return tools
        .keeper()
        .read(kept -> kept.sources().find(application))
        .orElse(SourceRecord.none(application));
  }

  private void save(SourceRecord next) {
    tools
        .keeper()
        .write(
            kept -> {
              if (kept.sources().find(next.application()).isEmpty()) {
                kept.sources().insert(next);
              } else if (!kept.sources().update(next)) {
                throw Problem.changed(
                    "CHANGED", "Somebody else looked at the source meanwhile.", "Look again");
              }
              return null;
            });
  }

  /** Looks now, on a person's word. */
  public SourceRecord look(Person by, String application) {
    Rights.require(by, Right.LOOK, Person.ANY, application);
    tools.keeper().read(kept -> kept.application(application));
    return look(application);
  }

  /** Looks at one source; one look at a time, another one meanwhile says what was seen last. */
  public SourceRecord look(String application) {
    if (!looking.add(application)) {
      return seen(application);
    }
    try {
      Application a =
          tools.keeper().read(kept -> kept.applications().find(application)).orElseThrow();
      String trouble = "";
      try {
        Repository r = a.repository();
        if (r != null && r.follow() != Follow.NOTHING) {
          trouble = follow(a, r);
        }
        changes(a); // after new tags became versions
      } catch (TargetFailed | Problem e) {
        trouble = "Its source could not be looked at: " + e.getMessage();
      }
      if (!trouble.equals(seen(application).trouble())) {
        save(seen(application).troubled(trouble));
      }
      return seen(application);
    } finally {
      looking.remove(application);
    }
  }

  private static Optional<VersionHead> newest(List<VersionHead> versions) {
    return versions.stream()
        .filter(v -> !v.withdrawn())
        .max(Comparator.comparing(VersionHead::number));
  }

  private List<VersionHead> versions(String application) {
    return tools.keeper().read(kept -> kept.versions().list(application)).stream()
        .filter(v -> !v.withdrawn())
        .toList();
  }

  private void changes(Application a) {
    VersionHead newest = newest(versions(a.key())).orElse(null);
    SiteKey place = place(a);
    if (newest == null || place == null) {
      return;
    }
    long changed =
        sources.against(git(a.key()), a.key(), place, newest.number()).components().stream()
            .filter(c -> !c.state().equals("same"))
            .count();
    save(seen(a.key()).looked(newest.number(), changed, tools.now()));
  }

  /** The branch of the repository, or the first site of the path's source. */
  private @Nullable SiteKey place(Application a) {
    if (a.repository() != null) {
      return new SiteKey(Sources.GIT, sources.commit(git(a.key()), a.key(), null).hash());
    }
    return sources.home(a);
  }

  /** New tags, oldest number first; returns why one became nothing, empty when none failed. */
  private String follow(Application a, Repository repository) {
    Map<SemVer, Map.Entry<String, Commits.Commit>> fresh = new TreeMap<>();
    Map<String, String> all = new TreeMap<>();
    SourceRecord before = seen(a.key());
    Map<String, String> seen = before.tags();
    sources.tags(
        git(a.key()),
        a.key(),
        (tag, commit) -> {
          SemVer number = repository.number(tag);
          if (number != null) {
            all.put(tag, commit.hash());
            if (seen != null && !seen.containsKey(tag)) {
              fresh.put(number, Map.entry(tag, commit));
            }
          }
        });
    String trouble = "";
    for (Map.Entry<SemVer, Map.Entry<String, Commits.Commit>> e : fresh.entrySet()) {
      String tag = e.getValue().getKey();
      try {
        String why = become(a, repository.follow(), e.getKey(), tag, e.getValue().getValue());
        trouble = trouble.isEmpty() ? why : trouble;
      } catch (TargetFailed | Problem x) {
        trouble = "The tag " + tag + " became nothing: " + x.getMessage();
        note(a.key(), "tag not taken", e.getKey(), trouble);
      }
    }
    // what was there when following began is not taken
    save(seen(a.key()).withTags(all));
    return trouble;
  }

  private void note(String application, String what, SemVer number, String text) {
    tools
        .keeper()
        .write(
            kept ->
                kept.note(
                    new Event(
                        "git", what, application, null, null, number.text(), null, null, text),
                    tools.now()));
  }

  private String become(
      Application a, Follow follow, SemVer number, String tag, Commits.Commit commit) {
    Person git = git(a.key());
    if (versions(a.key()).stream().anyMatch(v -> v.number().equals(number))) {
      return "";
    }
    VersionHead from =
        versions(a.key()).stream()
            .filter(v -> v.number().compareTo(number) < 0)
            .max(Comparator.comparing(VersionHead::number))
            .orElseThrow(
                () ->
                    Problem.stopped(
                        "NO_VERSION", "there is no version below " + number + " to draft from"));
    SiteKey place = new SiteKey(Sources.GIT, commit.hash());
    Sources.Held held = sources.against(git, a.key(), place, from.number());
    List<Adoption.Pick> picks =
        held.carried().map(c -> new Adoption.Pick(c.key(), null, false)).toList();
    note(
        a.key(),
        "tag seen",
        number,
        tag + " at " + commit.brief() + " by " + commit.author() + ": " + commit.message());
    Draft draft = drafts.start(git, a.key(), from.number());
    if (picks.isEmpty()) {
      return held.leftOut().isEmpty()
          ? "The tag " + tag + " changes nothing; " + draft.id() + " stays empty"
          : stays(tag, draft, held.leftOut());
    }
    drafts.add(git, draft.id(), place, picks);
    Draft checked = drafts.check(git, draft.id());
    List<String> leftOut = held.leftOut();
    if (!leftOut.isEmpty()) {
      return stays(tag, draft, leftOut); // a version without them would say it is the commit's
    }
    if (follow == Follow.DRAFT) {
      return "";
    }
    if (!checked.problems().isEmpty()) {
      return stays(tag, draft, checked.problems());
    }
    String title = commit.message().isBlank() ? tag : commit.message();
    drafts.seal(
        git,
        draft.id(),
        new Drafts.Statement(
            number,
            title.length() > LONGEST_TITLE ? title.substring(0, LONGEST_TITLE) : title,
            "From the tag " + tag,
            null,
            List.of()),
        commit.author());
    return "";
  }

  private static String stays(String tag, Draft draft, List<String> why) {
    return "The tag " + tag + " stays the draft " + draft.id() + ": " + String.join("; ", why);
  }

  /**
   * What people should know about the stored source of an application: empty when its newest
   * version holds what the source has, or is young.
   */
  public String warning(Application a, SourceRecord seen) {
    return warning(a, seen, newest(versions(a.key())).orElse(null));
  }

  /**
   * The same where the newest version that may be promoted is known.
   *
   * @param newest null when there is none
   */
  public String warning(Application a, SourceRecord seen, @Nullable VersionHead newest) {
    SourceCopies copies =
        tools.keeper().read(kept -> kept.copies().find(a.key())).orElse(SourceCopies.none(a.key()));
    String late = copies.warning(tools.now());
    if (!late.isEmpty() || copies.newest().isPresent() && copies.every() > 0) {
      return late;
    }
    if (newest == null) {
      return a.repository() != null
          ? ""
          : "Nothing of it is stored: there is no version and no repository.";
    }
    boolean old = newest.sealedAt().plus(OLD).isBefore(tools.now());
    if (seen.changed() > 0 && old && newest.number().equals(seen.against())) {
      return "The newest stored copy is "
          + newest.number()
          + " of "
          + newest.sealedAt().toString().substring(0, 10)
          + "; the source has moved on since.";
    }
    return "";
  }

  private static String hookId(String application) {
    return "hook/" + application;
  }

  /**
   * Makes a new secret for calls that say "look now"; an older one no longer counts. It is told
   * once.
   */
  public String newHook(Person by, String application) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, application);
    String secret = tools.newId() + tools.newId();
    String id = hookId(application);
    tools
        .keeper()
        .write(
            kept -> {
              kept.application(application);
              kept.secrets().remove(id);
              kept.secrets()
                  .insert(
                      new Kept.Secret(
                          id, tools.vault().encrypt(id, secret), tools.vault().keyId(), 0));
              return kept.note(
                  new Event(by.login(), "hook made", application, null, null, null, null, null, ""),
                  tools.now());
            });
    return secret;
  }

  /**
   * A call from a repository's server: looks in the background when its signature fits. The body
   * itself is not believed, only that something moved.
   *
   * @param header the call's headers by name: the one that the repository names holds "sha256=" and
   *     the HMAC of the body in hexadecimal
   * @return whether the signature fits; the same answer for an application that has no hook
   */
  public boolean called(
      String application, byte[] body, Function<String, @Nullable String> header) {
    String id = hookId(application);
    String secret =
        tools
            .keeper()
            .read(kept -> kept.secrets().find(id))
            .map(s -> tools.vault().decrypt(id, s.cipher()))
            .orElse("");
    String name =
        tools
            .keeper()
            .read(kept -> kept.applications().find(application))
            .map(Application::repository)
            .map(Repository::signature)
            .orElse(Repository.SIGNATURE);
    if (!HookSignature.fits(secret, body, header.apply(name))) {
      return false;
    }
    tools.background().execute(() -> quietly(application));
    return true;
  }

  private void quietly(String application) {
    try {
      look(application);
    } catch (RuntimeException e) {
      System.getLogger(SourceWatch.class.getName())
          .log(System.Logger.Level.ERROR, "Looking at the source of " + application, e);
    }
  }
}
