package plenzo.engine.sealing;

import java.io.InputStream;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import plenzo.core.digest.Digest;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.retention.Sort;
import plenzo.core.source.SourceCopies;
import plenzo.core.source.SourceCopies.Copy;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.keeping.Cleared;
import plenzo.engine.people.Rights;

/** Takes copies of what editing stages hold, on a schedule and on a word, and hands them out. */
public final class SourceCopier {
  /** Room that must be left beside a copy. */
  private static final long ROOM = 256L << 20;

  private final Tools tools;
  private final Documents documents;
  private final Sources sources;
  private final Set<String> copying = ConcurrentHashMap.newKeySet();

  public SourceCopier(Tools tools, Documents documents, Sources sources) {
    this.tools = tools;
    this.documents = documents;
    this.sources = sources;
  }

  /** Who copies where nobody asks: may look at this application and hand it out, nothing else. */
  private static Person itself(String application) {
    return Person.invited("plenzo", "Plenzo", "", false)
        .withGrants(
            List.of(
                new Person.Grant(Right.LOOK, Person.EVERY, application),
                new Person.Grant(Right.HAND_OUT, Person.EVERY, application)));
  }

  private static SourceCopies of(Kept kept, String application) {
    return kept.copies().find(application).orElse(SourceCopies.none(application));
  }

  public SourceCopies of(Person by, String application) {
    Rights.require(by, Right.LOOK, Person.ANY, application);
    return of(application);
  }

  /** What is known of copies of an application, for whoever may see that. */
  public SourceCopies of(String application) {
    return tools.keeper().read(kept -> of(kept, application));
  }

  private static void save(Kept kept, SourceCopies next) {
    if (kept.copies().find(next.application()).isEmpty()) {
      kept.copies().insert(next);
    } else {
      kept.copies().replace(next);
    }
  }

  /**
   * Says how often one is taken.
   *
   * @param every days; 0 for not by itself
   */
  public SourceCopies every(Person by, String application, int every) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, application);
    editing(application);
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              SourceCopies next = of(kept, application).taking(every);
              save(kept, next);
              kept.note(
                  event(
                      by.login(),
                      "copies of a source planned",
                      application,
                      every == 0 ? "none by itself" : "every " + every + " days"),
                  tools.now());
              return of(kept, application);
            });
  }

  private static Event event(String by, String what, String application, String text) {
    return new Event(by, what, application, null, null, null, null, null, text);
  }

  /**
   * The site that is edited.
   *
   * @throws Problem when there is none: a repository keeps its own past
   */
  private SiteKey editing(String application) {
    Application a = tools.keeper().read(kept -> kept.application(application));
    SiteKey site = sources.home(a);
    if (site == null) {
      throw Problem.stopped(
          "NO_EDITING_STAGE",
          a.repository() != null
              ? "The source of " + application + " is a repository, which keeps its own past."
              : "Nobody edits " + application + " at any stage here.");
    }
    return site;
  }

  /** Takes one now, on a person's word. */
  public Copy take(Person by, String application) {
    Rights.require(by, Right.HAND_OUT, Person.ANY, application);
    return taken(by, application);
  }

  private Copy taken(Person by, String application) {
    SiteKey site = editing(application);
    if (tools.files().room() < ROOM) {
      throw Problem.stopped("NO_ROOM", "There is no room for another copy.", "Free some room");
    }
    String id = "C-" + tools.keeper().<Long>write(kept -> kept.next("copy"));
    String file = Copy.file(id);
    MessageDigest sum = Digest.sha256();
    List<String> leftOut = new ArrayList<>();
    tools
        .files()
        .write(
            file,
            out ->
                leftOut.addAll(
                    documents.ofSite(
                        itself(application), application, site, new DigestOutputStream(out, sum))));
    Copy copy =
        new Copy(
            id,
            tools.now(),
            by.login(),
            site.toString(),
            tools.files().size(file),
            Digest.of(sum),
            leftOut);
    tools
        .keeper()
        .writeAgain(
            kept -> {
              save(kept, of(kept, application).with(copy));
              return kept.note(
                  event(
                      by.login(),
                      "source copied",
                      application,
                      id
                          + " of "
                          + site
                          + ", "
                          + copy.bytes()
                          + " bytes"
                          + (leftOut.isEmpty() ? "" : ", without " + String.join(", ", leftOut))),
                  tools.now());
            });
    return copy;
  }

  /** Takes what is due; one that cannot be taken keeps no other from it and says why. */
  public void goOn() {
    for (Application a : tools.keeper().read(kept -> kept.applications().all())) {
      if (a.retired() == null && of(a.key()).due(tools.now()) && copying.add(a.key())) {
        try {
          taken(itself(a.key()), a.key());
        } catch (TargetFailed | Problem | java.io.UncheckedIOException e) {
          failed(a.key(), String.valueOf(e.getMessage()));
        } finally {
          copying.remove(a.key());
        }
      }
    }
  }

  private void failed(String application, String why) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              SourceCopies before = of(kept, application);
              save(kept, before.failed(why, tools.now()));
              return before.trouble().equals(why)
                  ? null // said before
                  : kept.note(event("plenzo", "source not copied", application, why), tools.now());
            });
  }

  /**
   * The file itself.
   *
   * @throws Problem when there is none, or it was cleared
   */
  public InputStream open(Person by, String application, String id) {
    Rights.require(by, Right.HAND_OUT, Person.ANY, application); // rows leave with it
    Cleared.requireThere(tools, Sort.COPY, id);
    Copy copy =
        of(application).copies().stream()
            .filter(c -> c.id().equals(id))
            .findFirst()
            .orElseThrow(() -> Problem.notFound("copy", id));
    return tools.files().open(copy.file(), 0);
  }
}
