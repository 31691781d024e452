package plenzo.engine.rehearsing;

import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.function.LongFunction;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.CaseMay;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.plan.Plan.Act;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.rehearsal.Rehearsal.Result;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Targets;
import plenzo.engine.underway.Work;

/** Plans carried out on copies: started, followed and stopped. The site itself is only read. */
public final class Rehearsals {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final Drafts drafts;
  private final Promotions promotions;
  private final Rehearsing rehearsing;
  private final Set<Long> stopping = ConcurrentHashMap.newKeySet();

  /** Those that this process began; no other will come back to them. */
  private final Set<Long> own = ConcurrentHashMap.newKeySet();

  public Rehearsals(
      Tools tools, Targets targets, CaseWork work, Promotions promotions, Drafts drafts) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.drafts = drafts;
    this.promotions = promotions;
    this.rehearsing = new Rehearsing(tools, targets, work);
  }

  /**
   * Begins one, in the background.
   *
   * @throws Problem when nothing of the plan can be rehearsed, or one of it goes on
   */
  public Rehearsal start(Person by, long promotion) {
    Promotion p = promotions.get(by, promotion);
    Promotions.require(p, promotions.may(by, p).may(CaseMay.Deed.REHEARSE));
    rehearsing.require(p);
    return begun(
        by,
        p.shown(),
        kept -> of(kept, p),
        number ->
            Rehearsal.of(
                number,
                p.number(),
                p.application(),
                p.version(),
                p.site(),
                p.requirePlan().fingerprint().digest().hex(),
                by.login(),
                tools.now()));
  }

  /**
   * Begins one in the background, unless one of the same goes on.
   *
   * @param of what is carried out, for people
   */
  private Rehearsal begun(
      Person by, String of, Function<Kept, List<Rehearsal>> before, LongFunction<Rehearsal> made) {
    Rehearsal begun =
        tools
            .keeper()
            .write(
                kept -> {
                  before.apply(kept).stream()
                      .filter(r -> !r.over())
                      .findFirst()
                      .ifPresent(
                          r -> {
                            throw Problem.stopped(
                                "REHEARSED_NOW",
                                r.shown() + " of " + of + " is going on.",
                                "plenzo rehearsal show " + r.shown());
                          });
                  Rehearsal next = made.apply(kept.next("rehearsal"));
                  own.add(next.number()); // before anybody can read it
                  kept.rehearsals().insert(next);
                  note(
                      kept,
                      next,
                      by.login(),
                      next.draft() == null ? "rehearsal started" : "draft tried",
                      next.draft() == null ? next.shown() : next.shown() + " of " + of);
                  return next;
                });
    tools.background().execute(() -> carryOut(begun.number(), by));
    return begun;
  }

  /**
   * Tries a draft before it is sealed, in the background: what sealing would make of it is compared
   * with a site, planned, and the plan carried out on copies.
   *
   * @throws Problem when it is closed, the site is of no such stage, or a trial of it goes on
   */
  public Rehearsal tryDraft(Person by, String id, SiteKey site) {
    Draft draft = drafts.get(by, id);
    Rights.require(by, Right.AUTHOR, Person.ANY, draft.application());
    Rights.require(by, Right.PREPARE, site.stage(), draft.application());
    work.paths().requireLeg(draft.application(), site, null);
    SemVer number = drafts.proposed(draft);
    return begun(
        by,
        id,
        kept -> ofDraft(kept, draft),
        next -> Rehearsal.of(next, id, draft.application(), number, site, by.login(), tools.now()));
  }

  private static List<Rehearsal> ofDraft(Kept kept, Draft draft) {
    return kept.rehearsals().list(Kept.Filter.application(draft.application())).stream()
        .filter(r -> draft.id().equals(r.draft()))
        .toList();
  }

  /** Those of a draft, newest first. */
  public List<Rehearsal> of(Person by, String id) {
    Draft draft = drafts.get(by, id);
    return tools.keeper().read(kept -> ofDraft(kept, draft)).stream()
        .filter(r -> by.may(Right.LOOK, r.site().stage(), r.application()))
        .toList();
  }

  /** What a draft would do at the site, and that on copies. */
  private Rehearsing.Outcome tried(Rehearsal r, String draft, Person by) {
    Followed book = new Followed(r.number());
    book.change(x -> x.begin("Read " + draft + " as it would be sealed", null, tools.now()));
    Version trial = drafts.trial(by, draft);
    book.change(x -> x.done(Words.count(trial.entries().size(), "component"), tools.now()));
    CaseWork with = work.with(trial);
    Promotion p =
        Promotion.opened(
            0,
            Promotion.Goal.of(r.application(), trial.number(), r.site()),
            new Promotion.Prepared(by.login(), tools.now(), ""));
    book.change(x -> x.begin("Compare with " + r.site(), Act.LOOK_AGAIN, tools.now()));
    CaseWork.Outcome out = with.work(p);
    book.change(x -> x.done(out.delta().words(), tools.now()));
    try {
      requireFree(r, draft, out);
      book.change(x -> x.of(out.plan()));
      Rehearsing there = new Rehearsing(tools, targets, with);
      Promotion planned = with.apply(p, out);
      there.require(planned);
      return there.carryOut(r.of(out.plan()), planned, book, out);
    } finally {
      with.comparer().files().remove(out.compared().id());
    }
  }

  private static void requireFree(Rehearsal r, String draft, CaseWork.Outcome out) {
    List<String> blockers =
        out.findings().stream()
            .filter(f -> f.severity() == Finding.Severity.BLOCKER)
            .map(Finding::sentence)
            .toList();
    if (!blockers.isEmpty()) {
      throw Problem.stopped(
          "BLOCKED",
          Words.count(blockers.size(), "blocker")
              + " at "
              + r.site()
              + ": "
              + String.join(" ", blockers),
          "plenzo draft show " + draft);
    }
  }

  private static List<Rehearsal> of(Kept kept, Promotion p) {
    return kept.rehearsals().list(Kept.Filter.at(p.application(), p.site())).stream()
        .filter(r -> r.promotion() == p.number())
        .toList();
  }

  private void note(Kept kept, Rehearsal r, String by, String what, String text) {
    kept.note(
        new Event(
            by,
            what,
            r.application(),
            r.site().stage(),
            r.site().site(),
            r.version().text(),
            r.draft() == null ? r.promotion() : null,
            null,
            text),
        tools.now());
  }

  /** How a rehearsal that goes on is written down and stopped. */
  private final class Followed implements Rehearsing.Book {
    private final long number;

    Followed(long number) {
      this.number = number;
    }

    @Override
    public void change(UnaryOperator<Rehearsal> how) {
      Rehearsals.this.change(number, how);
    }

    @Override
    public void alive() {
      if (stopping.contains(number)) {
        throw new Stopped();
      }
    }
  }

  /** A person stopped it. */
  private static final class Stopped extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Stopped() {
      super("stopped");
    }
  }

  private Rehearsal change(long number, UnaryOperator<Rehearsal> how) {
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Rehearsal now = kept.rehearsals().find(String.valueOf(number)).orElseThrow();
              kept.rehearsals().replace(how.apply(now));
              return now;
            });
  }

  private void carryOut(long number, Person by) {
    Rehearsal r = find(number);
    if (r == null || r.over()) {
      return;
    }
    String draft = r.draft();
    try {
      Rehearsing.Outcome out =
          tools
              .underway()
              .during(
                  Work.Act.REHEARSE,
                  by.login(),
                  draft == null ? "promotion/P-" + r.promotion() : "draft/" + draft,
                  r.application(),
                  () -> draft == null ? planned(r) : tried(r, draft, by));
      end(r, out.result(), out.sentence());
    } catch (Stopped | Problem | TargetFailed | SwitchRefused e) {
      boolean stopped = e instanceof Stopped || stopping.contains(number);
      end(
          r,
          stopped ? Result.STOPPED : Result.FAILED,
          stopped ? "It was stopped; nothing at " + r.site() + " was changed." : words(e));
    } catch (RuntimeException e) {
      System.getLogger(Rehearsals.class.getName())
          .log(System.Logger.Level.ERROR, r.shown() + " failed", e);
      end(r, Result.FAILED, "Plenzo could not go on: " + e.getMessage());
    } finally {
      stopping.remove(number);
    }
  }

  private Rehearsing.Outcome planned(Rehearsal r) {
    Promotion p =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(r.promotion())))
            .orElseThrow();
    return rehearsing.carryOut(r, p, new Followed(r.number()));
  }

  private static String words(RuntimeException e) {
    String said = String.valueOf(e.getMessage());
    String whole =
        e instanceof SwitchRefused refused && !refused.details().isEmpty()
            ? said + ": " + String.join("; ", refused.details())
            : said;
    return whole.endsWith(".") ? whole : whole + ".";
  }

  private void end(Rehearsal r, Result how, String sentence) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Rehearsal now = kept.rehearsals().find(String.valueOf(r.number())).orElseThrow();
              kept.rehearsals().replace(now.end(how, sentence, tools.now()));
              note(kept, r, r.by(), "rehearsal ended", r.shown() + ": " + sentence);
              return null;
            });
    // where no gate waits for it, the case is left as it is
    promotions.judgeAgain(
        all ->
            all.stream()
                .filter(p -> p.number() == r.promotion() && work.paths().leg(p).asksRehearsal())
                .toList());
  }

  /** Stops one that goes on, at its next act; its copies go. */
  public Rehearsal stop(Person by, long number) {
    Rehearsal r = get(by, number);
    Rights.require(by, Right.PREPARE, r.site().stage(), r.application());
    if (r.over()) {
      throw Problem.stopped(
          "NOT_GOING_ON", r.shown() + " is over.", "plenzo rehearsal show " + r.shown());
    }
    stopping.add(number);
    return r;
  }

  /** Whether the person may stop it now. */
  public boolean mayStop(Person by, Rehearsal r) {
    return !r.over() && by.may(Right.PREPARE, r.site().stage(), r.application());
  }

  /** Whether its promotion has the plan that it carried out. */
  public boolean ofThisPlan(Rehearsal r) {
    return tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(r.promotion())))
        .map(Promotion::plan)
        .filter(r::isOf)
        .isPresent();
  }

  /** What the service left when it ended: it did not go on, and its copies go. */
  public void resume() {
    for (Rehearsal r :
        tools
            .keeper()
            .read(kept -> kept.rehearsals().list(Kept.Filter.state(Result.GOING_ON.code())))) {
      if (own.contains(r.number())) {
        continue; // it was begun while this service starts
      }
      String left = rehearsing.clear(r);
      end(
          r,
          Result.STOPPED,
          "The service ended while it was going on; nothing at "
              + r.site()
              + " was changed."
              + (left.isEmpty() ? "" : " " + left));
    }
  }

  private @Nullable Rehearsal find(long number) {
    return tools.keeper().read(kept -> kept.rehearsals().find(String.valueOf(number))).orElse(null);
  }

  public Rehearsal get(Person by, long number) {
    Rehearsal r = find(number);
    if (r == null || !by.may(Right.LOOK, r.site().stage(), r.application())) {
      throw Problem.notFound("rehearsal", Rehearsal.shown(number));
    }
    return Objects.requireNonNull(r);
  }

  /** Those that the person may see, newest first. */
  public Slice<Rehearsal> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK);
    return tools.keeper().read(kept -> kept.rehearsals().slice(filter, sight));
  }

  /** Of one promotion, newest first. */
  public List<Rehearsal> of(Person by, long promotion) {
    Promotion p = promotions.get(by, promotion);
    return tools.keeper().read(kept -> of(kept, p));
  }
}
