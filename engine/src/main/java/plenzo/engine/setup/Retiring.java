package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.Draft;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/**
 * Takes an application out of use for good: nothing new comes of it any more, and it is looked at
 * no more. What it holds at its sites, its versions and its history stay as they are.
 */
public final class Retiring {
  private final Tools tools;

  public Retiring(Tools tools) {
    this.tools = tools;
  }

  /**
   * What taking it out of use means.
   *
   * @param open cases and drafts that must be over first
   * @param holds sites and what stays there
   * @param versions how many stay, to be read
   */
  public record Cost(List<String> open, List<Holds> holds, int versions) {}

  /** What a site keeps. */
  public record Holds(String site, String version) {}

  public Cost cost(Person by, String key) {
    Rights.require(by, Right.LOOK, Person.ANY, key);
    return tools
        .keeper()
        .read(
            kept -> {
              kept.application(key);
              return cost(kept, key);
            });
  }

  private static Cost cost(Kept kept, String key) {
    List<String> open = new ArrayList<>();
    kept.promotions()
        .list(Kept.Filter.application(key).in(PromotionState.openCodes()))
        .forEach(p -> open.add(p.shown()));
    kept.drafts().list(Kept.Filter.application(key)).stream()
        .filter(d -> d.state() == Draft.State.OPEN)
        .forEach(d -> open.add(d.id()));
    List<SiteRecord> sites = kept.sites().list(Kept.Filter.application(key));
    List<Holds> holds =
        sites.stream()
            .filter(r -> r.present() != null)
            .map(r -> new Holds(r.site().toString(), String.valueOf(r.present())))
            .sorted(java.util.Comparator.comparing(Holds::site))
            .toList();
    for (SiteRecord r : sites) {
      if (r.halfWritten()) {
        open.add(r.site() + ", which is half written");
      }
    }
    return new Cost(open, holds, kept.versions().list(key).size());
  }

  /**
   * Takes it out of use; that is final.
   *
   * @param revision of the application that was looked at; null when nobody looked
   * @throws Problem when something of it is still open: it is named, and nothing is changed
   */
  public Application retire(Person by, String key, String reason, @Nullable Integer revision) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, key);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Taking it out of use needs a reason.", "/reason");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Application old = requireInUse(kept, key);
              Problem.requireSeen(revision, old.revision(), key);
              Cost cost = cost(kept, key);
              if (!cost.open().isEmpty()) {
                throw Problem.stopped(
                    "STILL_OPEN",
                    key + " has something open: " + String.join(", ", cost.open()) + ".",
                    "End or withdraw it first");
              }
              Application next =
                  old.retired(new Application.Retired(by.login(), tools.now(), reason));
              if (!kept.applications().update(next)) {
                throw Problem.changedMeanwhile(key);
              }
              kept.note(
                  new Event(
                      by.login(), "application retired", key, null, null, null, null, null, reason),
                  tools.now());
              return kept.applications().find(key).orElseThrow();
            });
  }

  /**
   * The application, if something new may still come of it.
   *
   * @throws Problem when it was taken out of use
   */
  public static Application requireInUse(Kept kept, String key) {
    Application a = kept.application(key);
    Application.Retired gone = a.retired();
    if (gone != null) {
      throw Problem.stopped(
          "RETIRED", key + " was taken out of use by " + gone.by() + ": " + gone.reason() + ".");
    }
    return a;
  }
}
