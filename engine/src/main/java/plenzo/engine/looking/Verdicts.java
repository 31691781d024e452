package plenzo.engine.looking;

import java.util.List;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.may.Duties;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.Apart;
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

  /** The same with nothing that shows it. */
  public SiteRecord judge(
      Person by, String application, SiteKey site, SemVer version, boolean good, String reason) {
    return judge(by, application, site, version, good, reason, List.of());
  }

  /**
   * A person's word about what is at a site. Bad holds every open promotion of the version.
   *
   * @param evidence numbers of the files that show it, each of this version at this site
   */
  public SiteRecord judge(
      Person by,
      String application,
      SiteKey site,
      SemVer version,
      boolean good,
      String reason,
      List<Long> evidence) {
    Rights.require(by, Right.JUDGE, site.stage(), application);
    if (reason.isBlank()) {
      throw Problem.invalid(
          "REASON", "A verdict needs a reason: what was tried, what was seen.", "/reason");
    }
    requireApart(by, application, site, version);
    requireEvidence(application, site, version, evidence);
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
                          new SiteRecord.Verdict(
                              version, good, reason, by.login(), tools.now(), evidence));
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
                          reason
                              + (evidence.isEmpty()
                                  ? ""
                                  : " (shown by "
                                      + String.join(
                                          ", ", evidence.stream().map(n -> "E-" + n).toList())
                                      + ")")),
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

  private void requireEvidence(
      String application, SiteKey site, SemVer version, List<Long> evidence) {
    for (long n : evidence) {
      boolean its =
          tools
              .keeper()
              .read(kept -> kept.evidence().find(String.valueOf(n)))
              .filter(
                  e ->
                      e.application().equals(application)
                          && e.site().equals(site)
                          && e.version().equals(version))
              .isPresent();
      if (!its) {
        throw Problem.invalid(
            "NOT_ITS_EVIDENCE",
            "E-" + n + " is not about " + application + "@" + version + " at " + site + ".",
            "/evidence");
      }
    }
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

  /** Who did something about it that keeps them from judging it, by the path that it came. */
  private void requireApart(Person by, String application, SiteKey site, SemVer version) {
    tools
        .keeper()
        .read(kept -> kept.sites().find(application + "@" + site))
        .flatMap(r -> r.lastPlacement())
        .filter(p -> p.version().equals(version) && p.run() != null)
        .flatMap(p -> tools.keeper().read(kept -> kept.runs().find(String.valueOf(p.run()))))
        .ifPresent(run -> requireApart(by, run));
  }

  private void requireApart(Person by, Run run) {
    Promotion p =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
            .orElse(null);
    if (p == null || !p.brings()) {
      return;
    }
    Duties before = promotions.duties(p);
    Duties all = new Duties(p, before.leg(), before.made(), run.startedBy());
    all.against(by.login(), Apart.Duty.TESTER)
        .ifPresent(
            did -> {
              throw new Problem(
                  Problem.Reason.NOT_ALLOWED,
                  "OWN_WORK",
                  all.words(did) + ", so somebody else judges it.",
                  May.ask(by, Right.JUDGE, p.site().stage(), p.application(), tools.everybody()),
                  null);
            });
  }
}
