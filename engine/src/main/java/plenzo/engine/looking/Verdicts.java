package plenzo.engine.looking;

import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;

/** What people say of a version at a site, and of a run that failed there. */
public final class Verdicts {
  private final Tools tools;
  private final Promotions promotions;

  public Verdicts(Tools tools, Promotions promotions) {
    this.tools = tools;
    this.promotions = promotions;
  }

  /** A person's word about what is at a site. Bad holds every open promotion of the version. */
  public SiteRecord judge(
      Person by, String application, SiteKey site, SemVer version, boolean good, String reason) {
    Rights.require(by, Right.JUDGE, site.stage(), application);
    if (reason.isBlank()) {
      throw Problem.invalid(
          "REASON", "A verdict needs a reason: what was tried, what was seen.", "/reason");
    }
    SiteRecord judged =
        tools
            .keeper()
            .write(
                kept -> {
                  SiteRecord r =
                      kept.sites()
                          .find(application + "@" + site)
                          .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
                  if (r.placements().stream().noneMatch(p -> p.version().equals(version))) {
                    throw Problem.invalid(
                        "NOT_HERE",
                        application + "@" + version + " was never at " + site + ".",
                        "/version");
                  }
                  SiteRecord next =
                      r.judged(
                          new SiteRecord.Verdict(version, good, reason, by.login(), tools.now()));
                  if (!kept.sites().update(next)) {
                    throw Problem.changed(
                        "CHANGED", "The record of " + r.id() + " moved meanwhile.", "Look again");
                  }
                  kept.note(
                      new Event(
                          by.login(),
                          good ? "judged good" : "judged bad",
                          application,
                          site.stage(),
                          site.site(),
                          version.text(),
                          null,
                          null,
                          reason),
                      tools.now());
                  return next;
                });
    promotions.judgeAgain(
        all ->
            all.stream()
                .filter(p -> p.application().equals(application) && p.version().equals(version))
                .toList());
    return judged;
  }

  /** Closes a failure with a note. */
  public void closeFailure(Person by, String application, SiteKey site, String note) {
    Rights.require(by, Right.RUN, site.stage(), application);
    if (note.isBlank()) {
      throw Problem.invalid("REASON", "Closing a failure needs a note.", "/reason");
    }
    tools
        .keeper()
        .write(
            kept -> {
              SiteRecord r =
                  kept.sites()
                      .find(application + "@" + site)
                      .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
              kept.sites().replace(r.withFailed(null));
              return kept.note(
                  new Event(
                      by.login(),
                      "failure closed",
                      application,
                      site.stage(),
                      site.site(),
                      null,
                      null,
                      null,
                      note),
                  tools.now());
            });
  }
}
