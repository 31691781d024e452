package plenzo.engine.looking;

import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** What is recorded of an application at a site, and lines of the history about it. */
final class Recorded {
  private Recorded() {}

  /**
   * @throws Problem when the person may not look there, or nothing is recorded
   */
  static SiteRecord at(Tools tools, Person by, String application, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return tools
        .keeper()
        .read(kept -> kept.sites().find(application + "@" + site))
        .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
  }

  /** Within the transaction of what it tells. */
  static void note(Tools tools, Kept kept, String actor, SiteRecord r, String what, String text) {
    kept.note(
        new Event(
            actor,
            what,
            r.application(),
            r.site().stage(),
            r.site().site(),
            String.valueOf(r.present()),
            null,
            null,
            text),
        tools.now());
  }
}
