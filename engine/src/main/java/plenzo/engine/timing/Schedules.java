package plenzo.engine.timing;

import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Openings;
import plenzo.core.calendar.Schedule;
import plenzo.core.calendar.Schedule.State;
import plenzo.core.gate.Gate;
import plenzo.core.gate.NotNow;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.may.CaseMay;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Stage;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Gates;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Runs;

/**
 * Runs that start by themselves. One is bound to the plan that was agreed; before its time it is
 * looked at again and what moved is said; at its time it starts as the person who scheduled it, by
 * their rights of then, or is refused with the reason. What was missed while the service was not
 * there is said and never caught up.
 */
public final class Schedules {
  /** Of what moved, so much is said. */
  private static final int SAID = 3;

  private final Tools tools;
  private final Promotions promotions;
  private final Runs runs;

  public Schedules(Tools tools, Promotions promotions, Runs runs) {
    this.tools = tools;
    this.promotions = promotions;
    this.runs = runs;
  }

  /** Those that the person may see, the newest first. */
  public List<Schedule> list(Person by, Kept.Filter filter) {
    return tools.keeper().read(kept -> kept.schedules().list(filter)).stream()
        .filter(s -> by.may(Right.LOOK, s.site().stage(), s.application()))
        .toList();
  }

  /** The one of a promotion that waits; null where none does. */
  public @Nullable Schedule waiting(long promotion) {
    return tools
        .keeper()
        .read(kept -> kept.schedules().list(Kept.Filter.state(State.WAITING.code())))
        .stream()
        .filter(s -> s.promotion() == promotion)
        .findFirst()
        .orElse(null);
  }

  /** When a promotion's run may start next, by the calendar of its stage. */
  public @Nullable Instant next(Promotion p) {
    return openings(p).next(tools.now()).orElse(null);
  }

  /** Why an application may not come to a stage at a time; empty when it may. */
  public Optional<Openings.Closed> closed(String stage, String application, Instant at) {
    return tools
        .keeper()
        .read(kept -> kept.stages().find(stage))
        .flatMap(s -> Gates.openings(tools, s, application).closed(at));
  }

  private Openings openings(Promotion p) {
    return Gates.openings(tools, promotions.stage(p), p.application());
  }

  /**
   * Lets a promotion's run start at a time.
   *
   * @param at null for the first moment at which the stage's calendar lets it
   * @param after number of a promotion whose run must be done before, with {@code at} null; null
   *     where none must
   * @param expect fingerprint of the plan, as it was read
   * @throws Problem when another gate than the calendar is closed, the stage is closed then, a yes
   *     is too old by then, or the other promotion is over
   */
  public Schedule add(
      Person by, long promotion, @Nullable Instant at, @Nullable Long after, String expect) {
    Promotion p = promotions.get(by, promotion);
    Rights.require(by, Right.RUN, p.site().stage(), p.application());
    requireAble(by, p);
    if (!p.requirePlan().fingerprint().matches(expect)) {
      throw Problem.changed(
          "FINGERPRINT",
          "The plan of " + p.shown() + " is now " + p.requirePlan().fingerprint().shown() + ".",
          "Read what changed: plenzo promotion show " + p.shown());
    }
    Instant time = after == null ? time(p, at) : tools.now();
    if (after != null) {
      requireToCome(by, p, after);
    }
    return tools
        .keeper()
        .write(
            kept -> {
              kept.schedules().list(Kept.Filter.state(State.WAITING.code())).stream()
                  .filter(s -> s.promotion() == promotion)
                  .findFirst()
                  .ifPresent(
                      s -> {
                        throw Problem.stopped(
                            "SCHEDULED_ALREADY",
                            p.shown() + " is scheduled already: " + s.shown() + ".",
                            "plenzo schedule withdraw " + s.shown());
                      });
              Schedule made =
                  new Schedule(
                      kept.next("schedule"),
                      promotion,
                      p.application(),
                      p.version().text(),
                      p.site(),
                      p.requirePlan().fingerprint().digest().hex(),
                      time,
                      by.login(),
                      tools.now(),
                      State.WAITING,
                      tools.now(),
                      "",
                      null,
                      after,
                      0);
              kept.schedules().insert(made);
              note(kept, by.login(), made, "run scheduled", made.shown() + " " + made.words());
              return made;
            });
  }

  /** The same at a time. */
  public Schedule add(Person by, long promotion, @Nullable Instant at, String expect) {
    return add(by, promotion, at, null, expect);
  }

  /** What it is to wait for is not over, and does not wait for it in turn. */
  private void requireToCome(Person by, Promotion p, long after) {
    Promotion other = promotions.get(by, after);
    if (other.number() == p.number()) {
      throw Problem.invalid("AFTER", "A run cannot wait for itself.", "/after");
    }
    if (!other.state().open() || other.state() == PromotionState.FAILED) {
      throw Problem.stopped(
          "AFTER_OVER",
          other.shown() + " is " + other.state().code() + " already.",
          "Start " + p.shown() + " now, or at a time");
    }
    Set<Long> seen = new HashSet<>(Set.of(p.number()));
    Long next = after;
    while (next != null) {
      if (!seen.add(next)) {
        throw Problem.invalid(
            "AFTER", other.shown() + " waits for the run of " + p.shown() + " itself.", "/after");
      }
      Schedule waits = waiting(next);
      next = waits == null ? null : waits.after();
    }
  }

  /** May start but for the calendar. */
  private void requireAble(Person by, Promotion p) {
    May may = promotions.may(by, p).may(CaseMay.Deed.RUN);
    if (may.allowed()) {
      return;
    }
    boolean onlyTime =
        may.why() == May.Why.GATES
            && promotions.gates(p).open().stream().allMatch(g -> g instanceof NotNow);
    if (!onlyTime) {
      Promotions.require(p, may);
    }
  }

  private Instant time(Promotion p, @Nullable Instant asked) {
    Instant now = tools.now();
    Stage stage = promotions.stage(p);
    Openings openings = openings(p);
    if (asked == null) {
      return openings
          .next(now)
          .orElseThrow(
              () ->
                  Problem.stopped(
                      "NO_OPENING",
                      "No time is in sight at which " + stage.name() + " is open.",
                      "plenzo calendar --stage " + stage.key()));
    }
    if (!asked.isAfter(now) || asked.isAfter(now.plus(Schedule.AHEAD))) {
      throw Problem.invalid(
          "TIME",
          "A run is scheduled for a time to come, "
              + Schedule.AHEAD.toDays()
              + " days ahead at most.",
          "/at");
    }
    if (!p.bringsBack()) {
      openings
          .closed(asked)
          .ifPresent(
              c -> {
                throw Problem.stopped(
                    "CLOSED_THEN",
                    "Then " + c.why() + ".",
                    c.opens() == null
                        ? "plenzo calendar --stage " + stage.key()
                        : "Schedule it for " + openings.said(c.opens()));
              });
    }
    requireYesThen(p, asked, openings);
    return asked;
  }

  /** A yes that is too old by then would let it be refused at night. */
  private void requireYesThen(Promotion p, Instant at, Openings openings) {
    Leg leg = promotions.leg(p);
    if (leg.approvalDays() == 0) {
      return;
    }
    p.approvals().stream()
        .filter(Promotion.Approval::counts)
        .map(a -> a.at().plus(Duration.ofDays(leg.approvalDays())))
        .min(Instant::compareTo)
        .filter(end -> !at.isBefore(end))
        .ifPresent(
            end -> {
              throw Problem.stopped(
                  "YES_TOO_OLD_THEN",
                  "A yes to it counts until " + openings.said(end) + " only.",
                  "Choose an earlier time, or let it be said anew");
            });
  }

  /** Takes it back; the promotion stays as it is. */
  public Schedule withdraw(Person by, long number) {
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Schedule s =
                  kept.schedules()
                      .find(String.valueOf(number))
                      .filter(x -> by.may(Right.LOOK, x.site().stage(), x.application()))
                      .orElseThrow(() -> Problem.notFound("schedule", "SC-" + number));
              Rights.require(by, Right.RUN, s.site().stage(), s.application());
              if (s.state() != State.WAITING) {
                throw Problem.stopped(
                    "OVER", s.shown() + " is " + s.state().code() + ".", "plenzo schedule list");
              }
              Schedule next = s.end(State.WITHDRAWN, "Withdrawn by " + by.login(), null);
              kept.schedules().replace(next);
              note(kept, by.login(), s, "schedule withdrawn", s.shown());
              return next;
            });
  }

  /**
   * What the service does every few seconds: looks before, starts what is due, says what was
   * missed.
   */
  public void goOn() {
    for (Schedule s :
        tools
            .keeper()
            .read(kept -> kept.schedules().list(Kept.Filter.state(State.WAITING.code())))) {
      Instant now = tools.now();
      if (s.after() != null) {
        goOn(s, s.after(), now);
      } else if (s.missed(now)) {
        end(
            s,
            State.MISSED,
            "The service was not there at its time; it is not caught up.",
            null,
            "schedule missed");
      } else if (s.due(now)) {
        start(s);
      } else if (s.wantsLook(now)) {
        look(s);
      }
    }
  }

  /** Starts when the other's run is done; a run that failed stops what waits for it. */
  private void goOn(Schedule s, long after, Instant now) {
    Promotion other =
        tools.keeper().read(kept -> kept.promotions().find(String.valueOf(after))).orElse(null);
    Run last =
        other == null
            ? null
            : runs.of(other).stream()
                .filter(r -> !r.queuedAt().isBefore(s.made()))
                .findFirst()
                .orElse(null);
    if (other != null && other.state() == PromotionState.DONE) {
      start(s);
    } else if (other == null || !other.state().open()) {
      refuse(s, "P-" + after + " is " + (other == null ? "gone" : other.state().code()) + ".");
    } else if (last != null && last.state().ended()) {
      refuse(s, last.shown() + " of P-" + after + " ended: " + last.state().code() + ".");
    } else if (s.forgotten(now)) {
      refuse(s, "P-" + after + " did not run in " + Schedule.AHEAD.toDays() + " days.");
    } else if (s.wantsLook(now)) {
      look(s);
    }
  }

  private void refuse(Schedule s, String why) {
    end(s, State.REFUSED, why, null, "scheduled run refused");
  }

  /** Compares once more at its time: what moved meanwhile refuses it before anything begins. */
  private void start(Schedule s) {
    String found = found(s, /* atItsTime= */ true);
    if (!found.isEmpty()) {
      refuse(s, found.substring(0, 1).toUpperCase(Locale.ROOT) + found.substring(1) + ".");
      return;
    }
    try {
      Person by = person(s);
      Run run = runs.start(by, s.promotion(), s.fingerprint());
      end(s, State.STARTED, "Started " + run.shown(), run.number(), "scheduled run started");
    } catch (Problem e) {
      refuse(s, String.valueOf(e.getMessage()));
    }
  }

  private Person person(Schedule s) {
    return tools
        .somebody(s.by())
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NOBODY",
                    s.by() + ", who scheduled it, is kept out by now.",
                    "Schedule it anew"));
  }

  /** Compares again, and says what would refuse it. */
  private void look(Schedule s) {
    String why = found(s, /* atItsTime= */ false);
    String found = why.isEmpty() ? "" : "As it is, it will be refused: " + why;
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Schedule now = kept.schedules().find(String.valueOf(s.number())).orElseThrow();
              if (now.state() != State.WAITING) {
                return null;
              }
              kept.schedules().replace(now.looked(tools.now(), found));
              if (!found.isEmpty() && !found.equals(now.sentence())) {
                note(kept, "plenzo", now, "schedule moved", now.shown() + ": " + found);
              }
              return null;
            });
  }

  /** What would refuse it; empty where nothing would. */
  private String found(Schedule s, boolean atItsTime) {
    Promotion stands =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(s.promotion())))
            .orElse(null);
    if (stands == null || !stands.state().stands()) {
      // what is closed, runs or is worked out is not compared again
      return "P-" + s.promotion() + " is " + (stands == null ? "gone" : stands.state().code());
    }
    try {
      Promotion p = promotions.compareNow(s.promotion());
      if (!p.requirePlan().fingerprint().digest().hex().equals(s.fingerprint())) {
        return "its plan is another now"
            + (p.moved().isEmpty()
                ? ""
                : ": "
                    + String.join("; ", p.moved().stream().limit(SAID).toList())
                    + (p.moved().size() > SAID ? " and more" : ""));
      }
      List<Gate> open =
          promotions.gates(p).open().stream()
              .filter(g -> atItsTime || !(g instanceof NotNow))
              .toList();
      if (!open.isEmpty()) {
        return String.join("; ", open.stream().map(Gate::words).toList());
      }
      Openings.Closed then =
          atItsTime || p.bringsBack() || s.after() != null
              ? null
              : openings(p).closed(s.at()).orElse(null);
      return then == null ? "" : "then " + then.why();
    } catch (Problem | TargetFailed e) {
      return "it could not be looked at: " + e.getMessage();
    }
  }

  private void end(Schedule s, State how, String sentence, @Nullable Long run, String event) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Schedule now = kept.schedules().find(String.valueOf(s.number())).orElseThrow();
              Schedule ended = now.end(how, sentence, run);
              kept.schedules().replace(ended);
              note(
                  kept,
                  how == State.STARTED ? s.by() : "plenzo",
                  ended,
                  event,
                  s.shown() + ": " + sentence);
              return null;
            });
  }

  private void note(Kept kept, String by, Schedule s, String event, String text) {
    kept.note(
        new Event(
            by,
            event,
            s.application(),
            s.site().stage(),
            s.site().site(),
            s.version(),
            s.promotion(),
            s.run(),
            text),
        tools.now());
  }
}
