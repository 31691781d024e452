package plenzo.engine.running;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Fingerprint;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memos;
import plenzo.core.keeping.Slice;
import plenzo.core.manual.Asked;
import plenzo.core.may.CaseMay;
import plenzo.core.may.May;
import plenzo.core.may.RunMay;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Load;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.run.Sheet;
import plenzo.core.run.Spans;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Emergencies;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.Targets;

/** Starting, watching and aborting runs; one runs at a time per site, the others wait in line. */
public final class Runs {
  private final Tools tools;

  /** Runs whose times say what is usual. */
  private static final int LAST = 20;

  /** Heads that are read at once. */
  private static final int PART = 200;

  /** By application and site. */
  private final Memos<String, List<Run>> took = new Memos<>(200);

  private final Memos<List<Object>, Slice<RunHead>> lists = new Memos<>(50);

  private final CaseWork work;
  private final Promotions promotions;
  private final Emergencies emergencies;
  private final RunBook book;
  private final Runner runner;
  private final Targets targets;
  private final Steering steering;

  private final AtWork atWork = new AtWork();

  private volatile Runnable afterEach = () -> {};

  public Runs(
      Tools tools,
      Targets targets,
      CaseWork work,
      Promotions promotions,
      Emergencies emergencies,
      RunListener listener) {
    this.emergencies = emergencies;
    this.tools = tools;
    this.work = work;
    this.promotions = promotions;
    this.book = new RunBook(tools, listener);
    this.runner = new Runner(tools, targets, work, promotions, book);
    this.steering = new Steering(tools, this, book);
    this.targets = targets;
  }

  /** Queues a run of an agreed promotion, bound to the plan's fingerprint. */
  public Run start(Person by, long number, String expect) {
    Promotion p = promotions.get(by, number);
    Promotions.require(p, promotions.may(by, p).may(CaseMay.Deed.RUN));
    return queue(by, p, expect);
  }

  /** Called whenever a run of this process has ended, in its thread. */
  public void afterEach(Runnable next) {
    this.afterEach = next;
  }

  /** The same for a member of a release, in the release's turn. */
  public Run startMember(Person by, long number, String expect) {
    Promotion p = promotions.get(by, number);
    May may = promotions.may(by, p).may(CaseMay.Deed.RUN);
    if (may.why() != May.Why.IN_RELEASE) {
      Promotions.require(p, may);
    }
    return queue(by, p, expect);
  }

  /** Goes back where nobody is there to start it; what covers it is judged as for everybody. */
  Run startByItself(Promotion p) {
    return queue("plenzo", p, p.requirePlan().fingerprint().digest().hex());
  }

  private Run queue(Person by, Promotion p, String expect) {
    return queue(by.login(), p, expect);
  }

  private Run queue(String login, Promotion p, String expect) {
    long number = p.number();
    Plan plan = p.requirePlan();
    if (!plan.fingerprint().matches(expect)) {
      throw Problem.changed(
          "FINGERPRINT",
          "The plan of "
              + p.shown()
              + " is now "
              + plan.fingerprint().shown()
              + ", not "
              + Fingerprint.given(expect)
              + ".",
          "Read what changed: plenzo promotion show " + p.shown());
    }
    Promotion agreed = emergencies.begun(promotions.settle(p));
    String passed = emergencies.passed(agreed);
    Run.Goal goal =
        new Run.Goal(
            number,
            p.application(),
            p.version().text(),
            p.present() == null ? null : p.present().text(),
            p.site(),
            plan.fingerprint().digest().hex(),
            targets.all(p.site()).stream().map(targets::place).toList());
    List<RunStep> earlier = lastSteps(p);
    List<RunStep> steps = plan.steps().stream().map(s -> toCome(s, earlier)).toList();
    Run queued =
        tools
            .keeper()
            .write(
                kept -> {
                  if (!kept.promotions()
                      .update(agreed.change().state(PromotionState.RUNNING).done())) {
                    throw Problem.changed(
                        "CHANGED",
                        p.shown() + " was started or changed by somebody else meanwhile.",
                        "plenzo promotion show " + p.shown());
                  }
                  long next = kept.next("run");
                  Run run = Run.queued(next, goal, login, tools.now(), steps);
                  kept.runs().insert(run);
                  kept.note(
                      new Event(
                          login,
                          "run started",
                          p.application(),
                          p.site().stage(),
                          p.site().site(),
                          p.version().text(),
                          number,
                          next,
                          "Plan "
                              + plan.fingerprint().shown()
                              + (passed.isEmpty() ? "" : "; an emergency passes: " + passed)),
                      tools.now());
                  return run;
                });
    pickUp();
    return book.get(queued.number());
  }

  /** Steps of the last run of the same case, of which some were work by hand; none mostly. */
  private List<RunStep> lastSteps(Promotion p) {
    return of(p).stream()
        .filter(r -> r.state() == RunState.STOPPED)
        .findFirst()
        .map(Run::steps)
        .orElse(List.of());
  }

  /** Work by hand that was done before an earlier run of the same case began is not asked again. */
  private static RunStep toCome(Plan.Step s, List<RunStep> earlier) {
    RunStep step = RunStep.toCome(s);
    Asked asked = s.manual();
    if (asked == null || s.act() != Plan.Act.BY_HAND_BEFORE) {
      return step;
    }
    return earlier.stream()
        .filter(e -> e.act() == s.act() && e.state() == RunStep.State.DONE)
        .filter(e -> e.requireManual().asked().equals(asked))
        .findFirst()
        .map(e -> e.at(s.number()))
        .orElse(step);
  }

  /** How people steer runs. */
  public Steering steering() {
    return steering;
  }

  /** Starts every queued run whose site is free. */
  public synchronized void pickUp() {
    Set<String> busy = new HashSet<>();
    for (RunState state : List.of(RunState.RUNNING, RunState.PAUSED)) {
      book.inState(state).stream()
          .filter(Run::holdsSite)
          .forEach(r -> busy.add(r.site().toString()));
    }
    List<Run> queued = book.inState(RunState.QUEUED);
    java.util.Collections.reverse(queued);
    for (Run run : queued) {
      if (busy.add(run.site().toString())) {
        // somebody may have aborted it since it was listed
        AtomicBoolean begins = new AtomicBoolean();
        atWork
            .claim(
                run.number(),
                () ->
                    book.change(
                        run.number(),
                        r -> {
                          begins.set(r.state() == RunState.QUEUED);
                          return begins.get()
                              ? r.withState(RunState.RUNNING, tools.now(), null)
                              : r;
                        }),
                r -> begins.get())
            .ifPresent(this::workOn);
      }
    }
  }

  /**
   * Lets a paused run go on where it stands.
   *
   * @param resumed records it
   */
  void goOn(long number, Supplier<Run> resumed) {
    atWork.claim(number, resumed, run -> true).ifPresent(this::workOn);
  }

  private void workOn(AtWork.Claim claim) {
    tools.background().execute(() -> work(claim));
  }

  private void work(AtWork.Claim claim) {
    try (claim) {
      runner.execute(claim.run());
    } finally {
      pickUp();
      afterEach.run();
    }
  }

  /**
   * Ends runs that nobody works on: after a restart, or because their target could not be asked.
   * Called at start and every few seconds.
   *
   * @return how many could not be settled yet
   */
  public int recover() {
    int open = 0;
    for (Run run : book.inState(RunState.RUNNING)) {
      try {
        recover(run.number());
      } catch (TargetFailed | Problem e) {
        open++;
      } catch (RuntimeException e) {
        // one run that cannot be recovered never keeps another from it (rules M)
        open++;
        System.getLogger(Runs.class.getName())
            .log(System.Logger.Level.ERROR, run.shown() + " cannot be recovered", e);
      }
    }
    afterEach.run();
    pickUp();
    return open;
  }

  private void recover(long number) {
    Optional<AtWork.Claim> left = atWork.leftAlone(number, () -> book.get(number));
    if (left.isPresent()) {
      try (AtWork.Claim claim = left.get()) {
        runner.recover(claim.run());
      }
    }
  }

  /** Those that the person may see, newest first. */
  public Slice<RunHead> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK);
    return lists.get(
        List.of(filter, sight),
        tools.keeper().stamp(),
        () -> tools.keeper().read(kept -> kept.runs().heads(filter, sight)));
  }

  /** The same with everything that is known of them. */
  public Slice<Run> whole(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK);
    return tools.keeper().read(kept -> kept.runs().slice(filter, sight)).map(book::live);
  }

  /** Of one promotion, newest first. */
  public List<Run> of(Promotion p) {
    return tools.keeper().read(kept -> kept.runs().of(p.number()));
  }

  public Run get(Person by, long number) {
    return book.find(number)
        .filter(r -> by.may(Right.LOOK, r.site().stage(), r.application()))
        .orElseThrow(() -> Problem.notFound("run", "R-" + number));
  }

  /** The last megabyte of the run's log. */
  public String log(Person by, long number) {
    get(by, number);
    return book.log(number);
  }

  /**
   * What stood at its site when it had read it back.
   *
   * @throws Problem when it did not come to that
   */
  public Sheet sheet(Person by, long number) {
    Run run = get(by, number);
    return work.sheet(number)
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NOT_READ_BACK",
                    run.shown() + " did not read its site back, so what was there is not known.",
                    "Look at it now: plenzo drift look " + run.application() + "@" + run.site()));
  }

  /** Whether the person may abort it now. */
  public May mayAbort(Person by, Run run) {
    return steering.may(by, run).may(RunMay.Deed.ABORT);
  }

  /** Asks to abort; refused once COMMIT was sent. */
  public Run abort(Person by, long number, String reason) {
    Run run = get(by, number);
    May may = mayAbort(by, run);
    if (may.why() == May.Why.RIGHT) {
      throw may.refused();
    }
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Aborting needs a reason.", "/reason");
    }
    Event asked =
        new Event(
            by.login(),
            "abort asked",
            run.application(),
            run.site().stage(),
            run.site().site(),
            run.version(),
            run.promotion(),
            number,
            reason);
    // somebody else may have let it go on, or it may have begun, since it was looked at
    AtomicReference<RunState> was = new AtomicReference<>();
    Optional<AtWork.Claim> claim =
        atWork.claim(
            number,
            () ->
                book.change(
                    number,
                    asked,
                    r -> {
                      was.set(r.state());
                      return aborted(by, r);
                    }),
            r -> was.get() != RunState.RUNNING);
    book.say(number, by.login() + " asked to abort: " + reason);
    if (claim.isEmpty()) {
      runner.interrupt(number);
    } else if (was.get() == RunState.PAUSED) {
      workOn(claim.get());
    } else {
      try (AtWork.Claim queued = claim.get()) {
        runner.neverBegan(queued.run());
      }
    }
    return book.get(number);
  }

  /** What waits goes on, to its end: it is the run itself that says that nothing was changed. */
  private Run aborted(Person by, Run r) {
    if (r.state().ended()) {
      throw Problem.stopped(
          "RUN_ENDED",
          r.shown() + " has ended: " + r.state().code() + ".",
          "plenzo run show " + r.shown());
    }
    if (r.noReturnAt() != null) {
      throw Problem.stopped(
          "NO_RETURN",
          r.shown() + " is past the point of no return since " + r.noReturnAt() + ".",
          "plenzo rollback ways " + r.application() + "@" + r.site());
    }
    Run asked = r.withAbort(by.login());
    return switch (r.state()) {
      case PAUSED -> asked.resumed(tools.now());
      case QUEUED -> asked.withState(RunState.RUNNING, tools.now(), null);
      default -> asked;
    };
  }

  /** Place in line, from 1; 0 when it does not wait. */
  public int place(Run run) {
    if (run.state() != RunState.QUEUED) {
      return 0;
    }
    int place = 1;
    for (Run other : book.inState(RunState.QUEUED)) {
      place += other.site().equals(run.site()) && other.number() < run.number() ? 1 : 0;
    }
    return place;
  }

  /** What is before a queued run at its site, the next first. */
  public List<Run> before(Run run) {
    if (run.state() != RunState.QUEUED) {
      return List.of();
    }
    List<Run> out = new ArrayList<>();
    for (RunState state : List.of(RunState.RUNNING, RunState.PAUSED, RunState.QUEUED)) {
      book.inState(state).stream()
          .filter(r -> r.site().equals(run.site()) && r.number() != run.number())
          .filter(r -> state == RunState.QUEUED ? r.number() < run.number() : r.holdsSite())
          .sorted(Comparator.comparing(Run::number))
          .forEach(out::add);
    }
    return out;
  }

  /**
   * Whether users are out because of a run.
   *
   * @param until when they were let in again; null while they are out, and where it is not known
   */
  public record UsersOut(boolean now, @Nullable Instant until) {}

  /** A run that ended with users out left it to another one, or to a person, to let them in. */
  public UsersOut usersOut(Run run) {
    if (run.usersOutSince().isEmpty() || run.usersInAgain().isPresent()) {
      return new UsersOut(false, run.usersInAgain().orElse(null));
    }
    if (!run.state().ended()) {
      return new UsersOut(true, null);
    }
    return tools
        .keeper()
        .read(
            kept ->
                kept.sites()
                        .find(run.application() + "@" + run.site())
                        .filter(r -> run.shown().equals(r.closedBy()))
                        .isPresent()
                    ? new UsersOut(true, null)
                    : new UsersOut(
                        false,
                        kept
                            .runs()
                            .list(Kept.Filter.at(run.application(), run.site()).most(LAST))
                            .stream()
                            .filter(r -> r.number() > run.number())
                            .flatMap(r -> r.usersInAgain().stream())
                            .min(Instant::compareTo)
                            .orElse(null)));
  }

  /**
   * Runs that began within a span, newest first, of what the person may see; older ones are not
   * read.
   */
  public List<Run> began(Person by, Instant from, Instant until) {
    return tools
        .keeper()
        .read(
            kept -> {
              List<Run> out = new ArrayList<>();
              long next = 0;
              do {
                Slice<RunHead> part =
                    kept.runs().heads(Kept.Filter.all().part(next, PART), Sight.EVERYWHERE);
                for (RunHead r : part.items()) {
                  Instant began = r.startedAt();
                  if (began != null && began.isBefore(from)) {
                    return out;
                  }
                  if (began != null
                      && began.isBefore(until)
                      && by.may(Right.LOOK, r.site().stage(), r.application())) {
                    kept.runs().find(String.valueOf(r.number())).ifPresent(out::add);
                  }
                }
                next = part.next();
              } while (next != 0);
              return out;
            });
  }

  /** How long such a run takes by those that came through at the run's site before it. */
  public Spans spans(Run run) {
    Load load =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
            .map(p -> Load.of(p.components()))
            .orElse(null);
    return Spans.of(before(run.application(), run.site(), run.number()), load);
  }

  /**
   * How long a promotion's run takes by those that came through at its site; by what it carries
   * alone where none did.
   */
  public Spans spans(Promotion p) {
    Load load = Load.of(p.components());
    Plan plan = p.plan();
    boolean closes = plan != null && plan.steps().stream().anyMatch(s -> s.act() == Plan.Act.CLOSE);
    return Spans.of(before(p.application(), p.site(), 0), load).orBySize(load, closes);
  }

  /**
   * @param except number of a run that does not count, 0 for none
   */
  private List<Run> before(String application, SiteKey site, long except) {
    List<Run> last =
        took.get(
            application + "@" + site,
            tools.keeper().stamp(application),
            () ->
                tools
                    .keeper()
                    .read(kept -> kept.runs().list(Kept.Filter.at(application, site).most(LAST))));
    return last.stream().filter(r -> r.number() != except).toList();
  }
}
