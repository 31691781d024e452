package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** What is said of a promotion beside what it does: notes, and the versions that come along. */
public final class Notes {
  /** Versions in between that are named one by one (guess: more are read in the version list). */
  private static final int MOST = 50;

  private final Tools tools;
  private final Promotions promotions;

  public Notes(Tools tools, Promotions promotions) {
    this.tools = tools;
    this.promotions = promotions;
  }

  /**
   * Writes other notes, until the run starts. The history keeps both; they are no part of what is
   * agreed.
   */
  public Promotion write(Person by, long number, String text) {
    Promotion p = promotions.get(by, number);
    Rights.require(by, Right.PREPARE, p.site().stage(), p.application());
    if (!p.state().open() || p.state() == PromotionState.RUNNING) {
      throw Problem.stopped(
          "NOT_OPEN", p.shown() + " is " + p.state().code() + ": its notes stay as they are.");
    }
    tools
        .keeper()
        .write(
            kept -> {
              Promotions.update(kept, p.change().notes(text.strip()).done());
              return kept.note(
                  Promotions.event(
                      by,
                      "notes changed",
                      p,
                      "Now: "
                          + text.strip()
                          + "\nBefore: "
                          + (p.notes().isEmpty() ? "none" : p.notes())),
                  tools.now());
            });
    return promotions.get(by, number);
  }

  /** What a promotion of the version was said to bring to the stage before; empty when nothing. */
  static String carried(Kept kept, Promotion.Goal goal) {
    Kept.Filter same = new Kept.Filter(goal.application(), null, null, List.of(), 0, MOST);
    return kept.promotions().list(same).stream()
        .filter(p -> p.brings() && p.version().equals(goal.version()))
        .map(Promotion::notes)
        .filter(n -> !n.isBlank())
        .findFirst()
        .orElse("");
  }

  /**
   * The version that comes and those between it and what both sides have in common, newest first;
   * of a long line the newest {@value #MOST}.
   */
  public List<VersionHead> brought(Promotion p) {
    List<VersionHead> out = new ArrayList<>();
    SemVer at = p.brings() ? p.version() : null;
    while (at != null && !at.equals(p.base()) && out.size() < MOST) {
      String id = p.application() + "@" + at;
      VersionHead head = tools.keeper().read(kept -> kept.versions().head(id)).orElse(null);
      if (head == null) {
        break;
      }
      out.add(head);
      at = head.parent();
    }
    return out;
  }
}
