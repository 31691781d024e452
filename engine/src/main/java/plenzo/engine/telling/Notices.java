package plenzo.engine.telling;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Following;
import plenzo.core.telling.Letter;
import plenzo.core.telling.News;
import plenzo.core.telling.Webhook;
import plenzo.engine.Tools;
import plenzo.engine.looking.History;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Targets;

/**
 * What each person is told of: the history, as far as they may see it and follow it. Nothing is
 * copied for anybody, so what somebody may no longer look at is no longer told to them.
 */
public final class Notices {
  /** Entries that are read for one answer at most. */
  private static final int MOST = 4_000;

  private static final int PART = 400;

  private final Tools tools;
  private final History history;
  private final Targets targets;

  public Notices(Tools tools, History history, Targets targets) {
    this.tools = tools;
    this.history = history;
    this.targets = targets;
  }

  /**
   * What is new.
   *
   * @param more whether there may be more than were counted
   * @param urgent whether something among them is
   */
  public record Fresh(int count, boolean more, boolean urgent) {}

  /** What the person follows. */
  public Following following(Person by) {
    return tools
        .keeper()
        .read(kept -> kept.followings().find(by.login()))
        .orElse(Following.usual(by.login()));
  }

  /** Says what one follows; what was seen stays. */
  public Following follow(Person by, Following asked) {
    if (!asked.login().equals(by.login())) {
      throw new IllegalArgumentException("Each says for themselves what they follow");
    }
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              asked.stages().forEach(s -> Rights.requireStage(kept, s, "/stages"));
              asked
                  .applications()
                  .forEach(a -> Rights.requireApplication(kept, a, "/applications"));
              Following next = following(by).instead(asked);
              save(kept, next);
              return next;
            });
  }

  private static void save(Kept kept, Following next) {
    if (kept.followings().find(next.login()).isPresent()) {
      kept.followings().replace(next);
    } else {
      kept.followings().insert(next);
    }
  }

  /**
   * The news, newest first.
   *
   * @param before a sequence number, 0 for the newest
   */
  public Slice<HistoryEntry> list(Person by, long before, int limit) {
    Following f = following(by);
    List<HistoryEntry> out = new ArrayList<>();
    long from = before;
    for (int read = 0; read < MOST; read += PART) {
      Slice<HistoryEntry> part = history.list(by, Kept.HistoryFilter.part(from, PART));
      for (HistoryEntry e : part.items()) {
        if (f.wants(e)) {
          out.add(e);
          if (out.size() == limit) {
            return new Slice<>(out, e.sequence());
          }
        }
      }
      from = part.next();
      if (from == 0) {
        return Slice.whole(out);
      }
    }
    return new Slice<>(out, from);
  }

  /** How many came since the person looked last. */
  public Fresh fresh(Person by) {
    Following f = following(by);
    int count = 0;
    boolean urgent = false;
    long from = 0;
    for (int read = 0; read < MOST; read += PART) {
      Slice<HistoryEntry> part = history.list(by, Kept.HistoryFilter.part(from, PART));
      for (HistoryEntry e : part.items()) {
        if (e.sequence() <= f.seen()) {
          return new Fresh(count, false, urgent);
        }
        if (f.wants(e)) {
          count++;
          urgent |= News.about(e.event()) == News.URGENT;
        }
      }
      from = part.next();
      if (from == 0) {
        return new Fresh(count, false, urgent);
      }
    }
    return new Fresh(count, true, urgent);
  }

  /** The person has seen everything up to an entry. */
  public void saw(Person by, long entry) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              long newest = kept.head().number();
              save(kept, following(by).saw(Math.min(entry, newest)));
              return null;
            });
  }

  /**
   * Sends the person a letter now, so that they see whether it arrives.
   *
   * @throws Problem when they named no address, or the mail server did not take it
   */
  public String tryMail(Person by) {
    String to = following(by).mail();
    if (to.isEmpty()) {
      throw Problem.stopped(
          "NO_ADDRESS", "You named no mail address.", "plenzo notice follow --mail ADDRESS");
    }
    try {
      targets.mail(
          new Letter(
              to,
              "Plenzo reaches you",
              "You asked for this letter at " + tools.now() + " (UTC).\n",
              tools.newId()));
    } catch (TargetFailed e) {
      throw Problem.stopped(
          "NOT_SENT",
          "The letter to " + to + " was not taken: " + e.getMessage(),
          "Ask who runs the service: plenzo.mail and plenzo.destinations in its configuration");
    }
    return to;
  }

  /** Whether a person may be told of an entry: as in the history. */
  static boolean mayKnow(Person p, HistoryEntry e) {
    if (e.event().equals(Webhook.GIVEN_UP)) {
      return false;
    }
    if (e.stage() == null && e.application() == null) {
      return p.may(Right.AUDIT, Person.EVERY, Person.EVERY);
    }
    return p.may(
        Right.LOOK,
        e.stage() == null ? Person.ANY : e.stage(),
        e.application() == null ? Person.ANY : e.application());
  }
}
