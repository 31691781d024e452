package plenzo.engine.timing;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Errand;
import plenzo.core.calendar.Errand.State;
import plenzo.core.gate.Blockers;
import plenzo.core.gate.Gate;
import plenzo.core.gate.Rejected;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.TakenAway;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Onward;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Runs;

/**
 * Versions on their way without anybody starting that: a promotion is prepared as the person by
 * whose rights it goes, waits for its gates as any other, and runs where the leg says so. What
 * takes something away, or what a rule holds, is left to people; what fails stops and is said.
 */
public final class Errands {
  private final Tools tools;
  private final Promotions promotions;
  private final Runs runs;

  public Errands(Tools tools, Promotions promotions, Runs runs) {
    this.tools = tools;
    this.promotions = promotions;
    this.runs = runs;
  }

  /**
   * What is to go where, and why.
   *
   * @param after number of a run that must end well before; null for none
   */
  public record Asked(
      String cause,
      @Nullable Long after,
      String path,
      String application,
      SemVer version,
      SiteKey site,
      Onward.How how,
      String by) {}

  /** Those that the person may see, newest first. */
  public List<Errand> list(Person by, Kept.Filter filter) {
    return tools.keeper().read(kept -> kept.errands().list(filter)).stream()
        .filter(e -> by.may(Right.LOOK, e.site().stage(), e.application()))
        .toList();
  }

  /**
   * Sends a version on its way, unless one is on its way to the site already.
   *
   * @return false where nothing is done
   */
  boolean send(Kept kept, Asked asked) {
    boolean gone =
        kept.applications().find(asked.application()).filter(a -> a.retired() == null).isEmpty();
    List<Errand> underWay = underWay(kept, asked);
    boolean first =
        underWay.stream()
            .allMatch(
                e -> e.run() == null && new SemVer(e.version()).compareTo(asked.version()) < 0);
    if (gone || !first) {
      return false;
    }
    for (Errand e : underWay) {
      ended(kept, e.end(State.STOPPED, asked.version() + " goes instead."));
    }
    Errand made =
        new Errand(
            kept.next("errand"),
            asked.cause(),
            asked.after(),
            asked.path(),
            asked.application(),
            asked.version().text(),
            asked.site(),
            asked.how(),
            asked.by(),
            tools.now(),
            State.WAITING,
            null,
            null,
            "",
            0);
    kept.errands().insert(made);
    note(kept, made, "sent on its way", made.cause());
    return true;
  }

  private static List<Errand> underWay(Kept kept, Asked asked) {
    return kept
        .errands()
        .list(
            Kept.Filter.application(asked.application())
                .stage(asked.site().stage())
                .in(List.of(State.WAITING.code())))
        .stream()
        .filter(e -> e.site().equals(asked.site()))
        .toList();
  }

  /** What the service does every few seconds. */
  public void goOn() {
    for (Errand e :
        tools.keeper().read(kept -> kept.errands().list(Kept.Filter.state(State.WAITING.code())))) {
      try {
        goOn(e);
      } catch (RuntimeException x) {
        // one that cannot go on never keeps another from it (rules M)
        System.getLogger(Errands.class.getName())
            .log(System.Logger.Level.ERROR, e.shown() + " cannot go on", x);
      }
    }
  }

  private void goOn(Errand e) {
    try {
      if (e.run() != null) {
        ran(e, e.run());
      } else if (e.promotion() == null) {
        prepare(e);
      } else {
        wait(e, e.promotion());
      }
    } catch (Problem | TargetFailed x) {
      end(e, State.STOPPED, String.valueOf(x.getMessage()));
    }
  }

  /** Whether the run that brought it to the stage before is still under way. */
  private boolean under(Errand e) {
    Run before =
        e.after() == null
            ? null
            : tools.keeper().read(kept -> kept.runs().find(String.valueOf(e.after()))).orElse(null);
    if (before == null || before.state() == RunState.DONE) {
      return false;
    }
    if (before.state().ended()) {
      end(e, State.STOPPED, before.shown() + ": " + before.state().code() + ".");
    }
    return true;
  }

  private void prepare(Errand e) {
    if (under(e)) {
      return;
    }
    Person by = person(e);
    SemVer version = new SemVer(e.version());
    // by people, or by a call that was killed before this was written down
    Optional<Promotion> there =
        tools
            .keeper()
            .read(
                kept ->
                    kept
                        .promotions()
                        .list(
                            Kept.Filter.application(e.application())
                                .stage(e.site().stage())
                                .in(PromotionState.openCodes()))
                        .stream()
                        .filter(p -> p.site().equals(e.site()) && p.brings())
                        .filter(p -> p.version().equals(version))
                        .findFirst());
    if (there.isPresent()) {
      write(e.prepared(there.get().number()));
      return;
    }
    Promotion p = promotions.prepare(by, e.application(), version, e.site(), e.path(), "");
    write(e.prepared(p.number()));
  }

  private void wait(Errand e, long number) {
    Promotion p =
        tools.keeper().read(kept -> kept.promotions().find(String.valueOf(number))).orElseThrow();
    switch (p.state()) {
      case PREPARING -> {}
      case RUNNING, DONE -> runOf(p).ifPresent(r -> write(e.started(r.number())));
      case FAILED, WITHDRAWN, OVERTAKEN ->
          end(
              e,
              State.STOPPED,
              p.shown()
                  + " is "
                  + p.state().code()
                  + (p.sentence() == null || p.sentence().isBlank() ? "" : ": " + p.sentence()));
      default -> gates(e, p);
    }
  }

  private Optional<Run> runOf(Promotion p) {
    return runs.of(p).stream().findFirst();
  }

  private void gates(Errand e, Promotion p) {
    List<Gate> open = promotions.gates(p).open();
    String people = forPeople(p, open);
    if (!people.isEmpty()) {
      end(e, State.STOPPED, people);
    } else if (e.how() == Onward.How.PREPARED) {
      end(
          e,
          State.DONE,
          p.shown() + " is prepared" + (open.isEmpty() ? "." : " and waits: " + words(open)));
    } else if (open.isEmpty()) {
      Run run = runs.start(person(e), p.number(), p.requirePlan().fingerprint().digest().hex());
      write(e.started(run.number()));
    } else if (e.forgotten(tools.now())) {
      end(
          e,
          State.STOPPED,
          "Nobody opened in " + Errand.PATIENCE.toDays() + " days: " + words(open));
    } else if (!e.sentence().equals(words(open))) {
      write(e.waits(words(open)));
    }
  }

  private static String words(List<Gate> open) {
    return String.join("; ", open.stream().map(Gate::words).toList());
  }

  /** What nobody may decide but people; empty where there is nothing. */
  private static String forPeople(Promotion p, List<Gate> open) {
    List<String> out = new ArrayList<>();
    open.stream()
        .filter(g -> g instanceof Blockers || g instanceof Rejected)
        .forEach(g -> out.add(g.words()));
    List<String> away = TakenAway.by(p);
    if (!away.isEmpty()) {
      out.add("its run takes away " + String.join("; ", away));
    }
    return out.isEmpty() ? "" : p.shown() + " is left to people: " + String.join("; ", out);
  }

  private void ran(Errand e, long number) {
    Run run = tools.keeper().read(kept -> kept.runs().find(String.valueOf(number))).orElseThrow();
    if (!run.state().ended()) {
      return;
    }
    boolean good = run.state() == RunState.DONE;
    end(
        e,
        good ? State.DONE : State.STOPPED,
        run.shown() + ": " + run.state().code() + (good ? "" : ". " + said(run)));
  }

  private static String said(Run run) {
    return run.sentence() == null ? "" : run.sentence();
  }

  private Person person(Errand e) {
    return tools
        .somebody(e.by())
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NOBODY",
                    e.by() + ", by whose rights it goes, is kept out by now.",
                    "Say on the path's leg anew that versions go on by themselves"));
  }

  /** Ends one on a person's word; a promotion that was prepared stays as it is. */
  public Errand stop(Person by, long number) {
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Errand e =
                  kept.errands()
                      .find(String.valueOf(number))
                      .filter(x -> by.may(Right.LOOK, x.site().stage(), x.application()))
                      .orElseThrow(() -> Problem.notFound("errand", "ER-" + number));
              Rights.require(by, Right.PREPARE, e.site().stage(), e.application());
              if (e.state() != State.WAITING) {
                throw Problem.stopped(
                    "OVER", e.shown() + " is " + e.state().code() + ".", "plenzo errand list");
              }
              Errand next = e.end(State.STOPPED, "Stopped by " + by.login());
              ended(kept, next);
              return next;
            });
  }

  private void write(Errand next) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              if (still(kept, next)) {
                kept.errands().replace(next);
              }
              return null;
            });
  }

  /** Whether nobody ended it meanwhile. */
  private static boolean still(Kept kept, Errand e) {
    return kept.errands()
        .find(String.valueOf(e.number()))
        .filter(x -> x.state() == State.WAITING)
        .isPresent();
  }

  private void end(Errand e, State how, String sentence) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              if (still(kept, e)) {
                ended(kept, e.end(how, sentence));
              }
              return null;
            });
  }

  private void ended(Kept kept, Errand e) {
    kept.errands().replace(e);
    note(kept, e, e.state() == State.DONE ? "errand done" : "errand stopped", e.sentence());
  }

  private void note(Kept kept, Errand e, String event, String text) {
    kept.note(
        new Event(
            "plenzo",
            event,
            e.application(),
            e.site().stage(),
            e.site().site(),
            e.version(),
            e.promotion(),
            e.run(),
            e.shown() + " for " + e.by() + ": " + text),
        tools.now());
  }
}
