package plenzo.engine.telling;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.core.telling.Call;
import plenzo.core.telling.Call.State;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.CallOrder.Callee;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Following;
import plenzo.engine.Since;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/**
 * Who is called when something is wrong at a stage: one after the other, by mail without quiet
 * hours, until one says that they come or it is settled. Everything that is wrong is called about
 * once.
 */
public final class Calls {
  /** What calls somebody, by the events of the history. */
  private static final Set<String> WRONG =
      Set.of(
          "half written",
          "run stopped",
          "run put back",
          "going back by itself",
          "not gone back by itself",
          "not opened as a whole",
          "not closed as a whole",
          "scheduled run refused",
          "schedule missed");

  /** Doors that nobody opened for so long, with no run at work (guess). */
  private static final Duration LEFT_CLOSED = Duration.ofMinutes(15);

  /** The service was away for longer: its runs were interrupted (guess). */
  private static final Duration BREAK = Duration.ofMinutes(5);

  /** How often it is looked for what no event says. */
  private static final Duration BETWEEN = Duration.ofMinutes(1);

  private static final String ALIVE = "alive at";

  private final Tools tools;
  private final Deliveries deliveries;
  private final Since since = new Since("called until");

  public Calls(Tools tools, Deliveries deliveries) {
    this.tools = tools;
    this.deliveries = deliveries;
  }

  /** Who is called at a stage; nobody where that was never said. */
  public CallOrder order(Person by, String stage) {
    Rights.require(by, Right.LOOK, stage, Person.ANY);
    return tools
        .keeper()
        .read(
            kept -> {
              Rights.requireStage(kept, stage, "/stage");
              return order(kept, stage);
            });
  }

  private static CallOrder order(Kept kept, String stage) {
    return kept.callOrders().find(stage).orElse(CallOrder.none(stage));
  }

  /** Says who is called at a stage, in order; an empty list calls nobody. */
  public CallOrder say(Person by, CallOrder asked) {
    Rights.require(by, Right.ADMINISTER, asked.stage(), Person.EVERY);
    return tools
        .keeper()
        .write(
            kept -> {
              Rights.requireStage(kept, asked.stage(), "/stage");
              for (Callee c : asked.callees()) {
                kept.people()
                    .find(c.login())
                    .orElseThrow(() -> Problem.notFound("person", c.login()));
              }
              if (kept.callOrders().find(asked.stage()).isEmpty()) {
                kept.callOrders().insert(asked);
              } else if (!kept.callOrders().update(asked)) {
                throw Problem.changed(
                    "CHANGED",
                    "Somebody else changed who is called at " + asked.stage() + " meanwhile.",
                    "Look again, then change it");
              }
              kept.note(
                  new Event(
                      by.login(),
                      "calls ordered",
                      null,
                      asked.stage(),
                      null,
                      null,
                      null,
                      null,
                      asked.callees().isEmpty()
                          ? "nobody is called"
                          : String.join(
                              ", then ",
                              asked.callees().stream()
                                  .map(c -> c.login() + " for " + c.minutes() + " min")
                                  .toList())),
                  tools.now());
              return order(kept, asked.stage());
            });
  }

  /** Those at stages that the person may look at, newest first. */
  public List<Call> list(Person by) {
    return tools.keeper().read(kept -> kept.calls().all()).stream()
        .filter(c -> sees(by, c))
        .toList();
  }

  private static boolean sees(Person by, Call c) {
    return by.may(Right.LOOK, c.stage(), c.application() == null ? Person.ANY : c.application());
  }

  /**
   * Somebody comes: nobody else is called.
   *
   * @param over whether it is settled, and nobody needs to come any more
   */
  public Call answer(Person by, long number, boolean over) {
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Call c =
                  kept.calls()
                      .find(String.valueOf(number))
                      .filter(x -> sees(by, x))
                      .orElseThrow(() -> Problem.notFound("call", "CL-" + number));
              if (c.state() == State.OVER || c.state() == State.TAKEN && !over) {
                throw Problem.stopped(
                    "OVER",
                    c.shown() + " is " + c.state().code() + " by " + c.by() + ".",
                    "plenzo call list");
              }
              Call next = c.end(over ? State.OVER : State.TAKEN, by.login(), tools.now());
              kept.calls().replace(next);
              note(kept, by.login(), next, over ? "call over" : "call taken", next.cause());
              return next;
            });
  }

  /** What the service does every few seconds. */
  public void goOn() {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              List<HistoryEntry> fresh = since.read(kept);
              fresh.forEach(e -> begin(kept, e));
              watch(kept);
              kept.calls().list(Kept.Filter.state(State.OPEN.code())).stream()
                  .filter(c -> c.due(tools.now()))
                  .forEach(c -> next(kept, c));
              return null;
            });
  }

  private void begin(Kept kept, HistoryEntry e) {
    boolean paused = e.event().equals("run paused") && closed(kept, e);
    if (e.stage() == null || !WRONG.contains(e.event()) && !paused) {
      return;
    }
    String about =
        e.run() != null
            ? "run " + e.run() + " " + e.event()
            : e.event()
                + " "
                + e.application()
                + "@"
                + e.stage()
                + "/"
                + e.site()
                + " "
                + e.sequence();
    String words =
        e.event().substring(0, 1).toUpperCase(java.util.Locale.ROOT)
            + e.event().substring(1)
            + (paused ? ", with users out" : "");
    open(kept, e.stage(), e.application(), e.site(), e.run(), words + ": " + e.text(), about);
  }

  /** Whether users are kept out while a run is paused. */
  private static boolean closed(Kept kept, HistoryEntry e) {
    return e.run() != null
        && kept.runs()
            .find(String.valueOf(e.run()))
            .filter(r -> r.usersOutSince().isPresent() && r.usersInAgain().isEmpty())
            .isPresent();
  }

  /** What no event says: time that passed. */
  private void watch(Kept kept) {
    Instant now = tools.now();
    Optional<Instant> last = kept.fact(ALIVE).map(Instant::parse);
    if (last.isPresent() && now.isBefore(last.get().plus(BETWEEN))) {
      return;
    }
    kept.fact(ALIVE, now.toString());
    Instant alive = last.orElse(now);
    boolean away = now.isAfter(alive.plus(BREAK));
    List<Run> open =
        kept.runs().list(Kept.Filter.state(RunState.RUNNING.code(), RunState.PAUSED.code()));
    if (away) {
      for (Run r : open) {
        open(
            kept,
            r.site().stage(),
            r.application(),
            r.site().site(),
            r.number(),
            "The service came back after "
                + Duration.between(alive, now).toMinutes()
                + " min, and "
                + r.shown()
                + " was under way",
            "back " + r.number() + " " + alive);
      }
    }
    for (Run r : open) {
      for (RunStep s : r.steps()) {
        if (s.state() == RunStep.State.RUNNING
            && s.manual() != null
            && s.requireManual().overdue(now)) {
          open(
              kept,
              r.site().stage(),
              r.application(),
              r.site().site(),
              r.number(),
              "Work by hand is overdue in " + r.shown() + ": " + s.name(),
              "overdue " + r.number() + " " + s.number());
        }
      }
    }
    for (CallOrder order : kept.callOrders().all()) {
      for (SiteRecord site : kept.sites().list(Kept.Filter.all().stage(order.stage()))) {
        leftClosed(kept, site, open, now);
      }
    }
  }

  private void leftClosed(Kept kept, SiteRecord site, List<Run> open, Instant now) {
    String by = site.closedBy();
    boolean atWork = open.stream().anyMatch(r -> r.site().equals(site.site()));
    if (by == null || atWork) {
      return;
    }
    Instant since =
        kept
            .history(
                new Kept.HistoryFilter(site.application(), site.site().stage(), null, null, 0, 1))
            .stream()
            .findFirst()
            .map(HistoryEntry::at)
            .orElse(now);
    if (now.isAfter(since.plus(LEFT_CLOSED))) {
      open(
          kept,
          site.site().stage(),
          site.application(),
          site.site().site(),
          null,
          "Users are kept out of " + site.site() + " and nothing runs there: closed by " + by,
          "doors " + site.id() + " " + by);
    }
  }

  private void open(
      Kept kept,
      String stage,
      @Nullable String application,
      @Nullable String site,
      @Nullable Long run,
      String cause,
      String about) {
    CallOrder order = order(kept, stage);
    boolean known =
        order.callees().isEmpty()
            || kept.calls().list(Kept.Filter.all().stage(stage).most(500)).stream()
                .anyMatch(c -> c.about().equals(about));
    if (known) {
      return;
    }
    long number = kept.next("call");
    HistoryEntry said =
        kept.note(
            new Event(
                "plenzo",
                "called",
                application,
                stage,
                site,
                null,
                null,
                run,
                "CL-" + number + ": " + cause),
            tools.now());
    kept.calls()
        .insert(
            new Call(
                number,
                stage,
                application,
                site,
                run,
                cause,
                about,
                said.sequence(),
                tools.now(),
                List.of(),
                tools.now(),
                State.OPEN,
                null,
                null,
                0));
  }

  /** Calls whoever comes next in the list of now. */
  private void next(Kept kept, Call c) {
    List<String> told = c.told().stream().map(Call.Told::login).toList();
    List<Callee> left =
        order(kept, c.stage()).callees().stream().filter(x -> !told.contains(x.login())).toList();
    if (left.isEmpty()) {
      kept.calls().replace(c.calling(new Call.Told("", tools.now(), "nobody is left"), null));
      note(kept, "plenzo", c, "nobody came", c.cause());
      return;
    }
    Callee callee = left.get(0);
    kept.calls()
        .replace(
            c.calling(
                new Call.Told(callee.login(), tools.now(), called(kept, c, callee)),
                tools.now().plus(Duration.ofMinutes(callee.minutes()))));
  }

  private String called(Kept kept, Call c, Callee callee) {
    HistoryEntry entry = kept.history(Kept.HistoryFilter.part(c.entry() + 1, 1)).get(0);
    String mail = kept.followings().find(callee.login()).map(Following::mail).orElse("");
    boolean may = tools.somebody(callee.login()).filter(p -> Notices.mayKnow(p, entry)).isPresent();
    if (!may) {
      return "not told: may not look at it";
    }
    if (mail.isEmpty()) {
      return "not by mail: no address; " + callee.how();
    }
    deliveries.add(kept, Delivery.MAIL + callee.login(), entry, tools.now());
    return "by mail to " + mail;
  }

  private void note(Kept kept, String by, Call c, String event, String text) {
    kept.note(
        new Event(
            by,
            event,
            c.application(),
            c.stage(),
            c.site(),
            null,
            null,
            c.run(),
            c.shown() + ": " + text),
        tools.now());
  }
}
