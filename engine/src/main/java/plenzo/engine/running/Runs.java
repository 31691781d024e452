package plenzo.engine.running;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.Targets;

/** Starting, watching and aborting runs; one runs at a time per site, the others wait in line. */
public final class Runs {
  private final Tools tools;
  private final CaseWork work;
  private final Promotions promotions;
  private final RunBook book;
  private final RunProtocol protocol;
  private final Set<Long> mine = new HashSet<>();
  private volatile Runnable afterEach = () -> {};

  public Runs(
      Tools tools, Targets targets, CaseWork work, Promotions promotions, RunListener listener) {
    this.tools = tools;
    this.work = work;
    this.promotions = promotions;
    this.book = new RunBook(tools, listener);
    this.protocol = new RunProtocol(tools, targets, work, promotions, book);
  }

  /** Queues a run of an agreed promotion, bound to the plan's fingerprint. */
  public Run start(Person by, long number, String expect) {
    String release = promotions.get(by, number).release();
    if (release != null) {
      throw Problem.stopped(
          "IN_RELEASE",
          "P-" + number + " belongs to the release " + release + " and runs with it.",
          "plenzo release show " + release);
    }
    return startMember(by, number, expect);
  }

  /** Called whenever a run of this process has ended, in its thread. */
  public void afterEach(Runnable next) {
    this.afterEach = next;
  }

  /** The same for a member of a release, in the release's turn. */
  public Run startMember(Person by, long number, String expect) {
    Promotion p = promotions.get(by, number);
    Rights.require(by, p.rollback() ? Right.GO_BACK : Right.RUN, p.site().stage(), p.application());
    if (p.state() == PromotionState.RUNNING) {
      throw Problem.changed(
          "RUNNING_ALREADY",
          p.shown() + " runs already.",
          "plenzo run list --promotion " + p.shown());
    }
    if (p.state() != PromotionState.AGREED) {
      List<String> closed =
          p.plan() == null ? List.of("it is " + p.state().code()) : work.gates().closed(p);
      throw Problem.stopped(
          "NOT_AGREED",
          p.shown()
              + " may not run: "
              + String.join("; ", closed.isEmpty() ? List.of("it is " + p.state().code()) : closed)
              + ".",
          "plenzo promotion show " + p.shown());
    }
    Plan plan = p.requirePlan();
    if (!plan.fingerprint().matches(expect)) {
      throw Problem.changed(
          "FINGERPRINT",
          "The plan of "
              + p.shown()
              + " is now "
              + plan.fingerprint().shown()
              + ", not "
              + expect
              + ".",
          "Read what changed: plenzo promotion show " + p.shown());
    }
    List<String> closed = work.gates().closed(p);
    if (!closed.isEmpty()) {
      throw Problem.stopped(
          "GATE_CLOSED",
          p.shown() + " may not run: " + String.join("; ", closed) + ".",
          "plenzo promotion show " + p.shown());
    }
    List<RunStep> steps =
        plan.steps().stream()
            .map(
                s ->
                    new RunStep(
                        s.number(),
                        s.act(),
                        s.holder(),
                        s.name(),
                        RunStep.State.TO_COME,
                        null,
                        null,
                        null))
            .toList();
    Run queued =
        tools
            .keeper()
            .write(
                kept -> {
                  if (!kept.promotions().update(p.change().state(PromotionState.RUNNING).done())) {
                    throw Problem.changed(
                        "CHANGED",
                        p.shown() + " was started or changed by somebody else meanwhile.",
                        "plenzo promotion show " + p.shown());
                  }
                  long next = kept.next("run");
                  Run run =
                      new Run(
                          next,
                          number,
                          p.application(),
                          p.version().text(),
                          p.present() == null ? null : p.present().text(),
                          p.site(),
                          RunState.QUEUED,
                          plan.fingerprint().digest().hex(),
                          by.login(),
                          tools.now(),
                          null,
                          null,
                          null,
                          false,
                          null,
                          steps,
                          0,
                          0,
                          null,
                          null,
                          0);
                  kept.runs().insert(run);
                  kept.note(
                      new Event(
                          by.login(),
                          "run started",
                          p.application(),
                          p.site().stage(),
                          p.site().site(),
                          p.version().text(),
                          number,
                          next,
                          "Plan " + plan.fingerprint().shown()),
                      tools.now());
                  return run;
                });
    pickUp();
    return book.get(queued.number());
  }

  /** Starts every queued run whose site is free. */
  public synchronized void pickUp() {
    Set<String> busy = new HashSet<>();
    book.inState(RunState.RUNNING.code()).forEach(r -> busy.add(r.site().toString()));
    List<Run> queued = book.inState(RunState.QUEUED.code());
    java.util.Collections.reverse(queued);
    for (Run run : queued) {
      if (busy.add(run.site().toString())) {
        Run begun =
            book.change(
                run.number(),
                r ->
                    r.state() == RunState.QUEUED
                        ? r.withState(RunState.RUNNING, tools.now(), null)
                        : r);
        if (begun.state() == RunState.RUNNING) {
          mine.add(run.number());
          tools.background().execute(() -> work(begun));
        }
      }
    }
  }

  private void work(Run run) {
    try {
      protocol.execute(run);
    } finally {
      synchronized (this) {
        mine.remove(run.number());
      }
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
    for (Run run : book.inState(RunState.RUNNING.code())) {
      synchronized (this) {
        if (!mine.add(run.number())) {
          continue;
        }
      }
      try {
        // it may have ended, by its own thread, after it was listed
        Run now = book.get(run.number());
        if (now.state() == RunState.RUNNING) {
          protocol.recover(now, null);
        }
      } catch (TargetFailed | Problem e) {
        open++;
      } finally {
        synchronized (this) {
          mine.remove(run.number());
        }
      }
    }
    pickUp();
    return open;
  }

  public List<Run> list(Person by, @Nullable String application, @Nullable String stage) {
    return tools
        .keeper()
        .read(kept -> kept.runs().list(new Kept.Filter(application, stage, null, null, 1000, 0)))
        .stream()
        .filter(r -> by.may(Right.LOOK, r.site().stage(), r.application()))
        .map(book::live)
        .toList();
  }

  public Run get(Person by, long number) {
    return book.find(number)
        .filter(r -> by.may(Right.LOOK, r.site().stage(), r.application()))
        .orElseThrow(() -> Problem.notFound("run", "R-" + number));
  }

  /** The last megabyte of the run's log. */
  public String log(Person by, long number) {
    get(by, number);
    return protocol.log(number);
  }

  /** Asks to abort; refused once COMMIT was sent. */
  public Run abort(Person by, long number, String reason) {
    Run run = get(by, number);
    Rights.require(by, Right.RUN, run.site().stage(), run.application());
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Aborting needs a reason.", "/reason");
    }
    Run asked =
        book.change(
            number,
            r -> {
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
              return r.withAbort(by.login());
            });
    book.say(number, by.login() + " asked to abort: " + reason);
    if (asked.state() == RunState.QUEUED) {
      protocol.recover(
          book.change(number, r -> r.withState(RunState.RUNNING, tools.now(), null)),
          "Aborted before it began");
    } else {
      protocol.interrupt(number);
    }
    return book.get(number);
  }

  /** Place in line, from 1; 0 when it does not wait. */
  public int place(Run run) {
    if (run.state() != RunState.QUEUED) {
      return 0;
    }
    int place = 1;
    for (Run other : book.inState(RunState.QUEUED.code())) {
      place += other.site().equals(run.site()) && other.number() < run.number() ? 1 : 0;
    }
    return place;
  }

  /** Usual time of each step of the run; empty for the first run at its site. */
  public Map<Integer, Duration> usual(Run run) {
    return usual(run.application(), run.site(), run.number());
  }

  /**
   * Usual time of each step, from the last runs that were applied at the site; empty when there
   * were none.
   *
   * @param except number of a run that does not count, 0 for none
   */
  public Map<Integer, Duration> usual(String application, SiteKey site, long except) {
    Map<Integer, List<Duration>> all = new TreeMap<>();
    tools.keeper().read(kept -> kept.runs().list(Kept.Filter.at(application, site, 20))).stream()
        .filter(r -> r.number() != except && r.state().applied())
        .forEach(
            r -> {
              for (RunStep s : r.steps()) {
                Instant began = s.began();
                Instant ended = s.ended();
                if (began != null && ended != null) {
                  all.computeIfAbsent(s.number(), n -> new ArrayList<>())
                      .add(Duration.between(began, ended));
                }
              }
            });
    Map<Integer, Duration> out = new TreeMap<>();
    all.forEach(
        (step, took) ->
            out.put(
                step, took.stream().reduce(Duration.ZERO, Duration::plus).dividedBy(took.size())));
    return out;
  }
}
