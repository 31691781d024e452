package plenzo.engine.setup;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.source.Commits;
import plenzo.core.source.Repository;
import plenzo.core.stage.Application;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Where the documents of applications are kept. */
public final class Repositories {
  private final Tools tools;
  private final Destinations allowed;
  private final Commits commits;

  public Repositories(Tools tools, Destinations allowed, Commits commits) {
    this.tools = tools;
    this.allowed = allowed;
    this.commits = commits;
  }

  /**
   * Names the repository that holds an application's documents, or none. It is looked at first: a
   * branch or a folder that is not there is said now, not when somebody drafts from it.
   *
   * @param asked with an empty branch: its own is taken
   * @param secret of its account, null to leave it
   * @param seen revision of the application that was looked at, null when nobody looked
   */
  public Application name(
      Person by,
      String key,
      @Nullable Repository asked,
      @Nullable String secret,
      @Nullable Integer seen) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, key);
    Repository repository = asked == null ? null : lookedAt(key, asked, secret);
    return tools
        .keeper()
        .write(
            kept -> {
              Application old = kept.application(key);
              Problem.requireSeen(seen, old.revision(), key);
              Repository was = old.repository();
              boolean elsewhere =
                  was != null
                      && (repository == null || !was.address().equals(repository.address()));
              String id = "repository/" + key;
              if (secret != null || elsewhere) {
                kept.secrets().remove(id);
              }
              if (secret != null) {
                kept.secrets()
                    .insert(
                        new Kept.Secret(
                            id, tools.vault().encrypt(id, secret), tools.vault().keyId(), 0));
              }
              boolean follows =
                  repository != null && repository.follow() != Repository.Follow.NOTHING;
              if (elsewhere || !follows) {
                // following begins anew: what is there then is not taken
                kept.sources()
                    .find(key)
                    .filter(r -> r.tags() != null)
                    .ifPresent(r -> kept.sources().replace(r.withTags(null)));
              }
              if (!kept.applications().update(old.at(repository))) {
                throw Problem.changedMeanwhile(key);
              }
              kept.note(
                  new Event(
                      by.login(),
                      "repository named",
                      key,
                      null,
                      null,
                      null,
                      null,
                      null,
                      repository == null
                          ? "none"
                          : repository.address()
                              + ", branch "
                              + repository.branch()
                              + (follows
                                  ? ", new tags "
                                      + repository.tagPrefix()
                                      + "… become a "
                                      + (repository.follow() == Repository.Follow.SEAL
                                          ? "version"
                                          : "draft")
                                  : "")),
                  tools.now());
              return kept.applications().find(key).orElseThrow();
            });
  }

  private Repository lookedAt(String key, Repository asked, @Nullable String secret) {
    String refusal = new Targets(tools, allowed).refusal(asked);
    if (refusal != null) {
      throw Problem.invalid("DESTINATION", refusal, "/address");
    }
    try {
      return asked.on(commits.branch(asked, secret == null ? kept(key, asked) : secret));
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("REPOSITORY", e.getMessage() + ".", "/address");
    } catch (TargetFailed e) {
      throw new Problem(
          Problem.Reason.NOT_REACHABLE,
          "NOT_REACHABLE",
          e.getMessage() + ".",
          List.of("Correct address, account or secret; nothing was kept"),
          "/address");
    }
  }

  /** The secret of the same address; to another one it is never sent. */
  private String kept(String key, Repository asked) {
    String id = "repository/" + key;
    return tools
        .keeper()
        .read(
            kept ->
                kept.applications()
                    .find(key)
                    .map(Application::repository)
                    .filter(was -> was.address().equals(asked.address()))
                    .flatMap(was -> kept.secrets().find(id)))
        .map(s -> tools.vault().decrypt(id, s.cipher()))
        .orElse("");
  }
}
