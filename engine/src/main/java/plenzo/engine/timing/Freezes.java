package plenzo.engine.timing;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Schedule;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** Spans in which no version goes to a stage. Going back is never held. */
public final class Freezes {
  private final Tools tools;
  private final Consumer<Stage> afterChange;

  /**
   * @param afterChange lets open promotions to the stage be judged again
   */
  public Freezes(Tools tools, Consumer<Stage> afterChange) {
    this.tools = tools;
    this.afterChange = afterChange;
  }

  /** What somebody asks for. */
  public record Asked(
      String stage, Instant from, Instant until, String reason, List<String> except) {}

  /**
   * What a freeze holds.
   *
   * @param promotions open ones that do not run yet
   * @param schedules runs that would start within it, and will be refused
   */
  public record Holds(List<Promotion> promotions, List<Schedule> schedules) {}

  /** Those of stages that the person may see, the newest first. */
  public List<Freeze> list(Person by, @Nullable String stage) {
    return tools.keeper().read(kept -> kept.freezes().list(Kept.Filter.all().stage(stage))).stream()
        .filter(f -> by.may(Right.LOOK, f.stage(), Person.ANY))
        .toList();
  }

  /** What it would hold of what the person may see; nothing is changed. */
  public Holds holds(Person by, Asked asked) {
    Holds all = tools.keeper().read(kept -> holds(kept, made(kept, by, asked, /* number= */ 0)));
    return new Holds(
        all.promotions().stream()
            .filter(p -> by.may(Right.LOOK, p.site().stage(), p.application()))
            .toList(),
        all.schedules().stream()
            .filter(s -> by.may(Right.LOOK, s.site().stage(), s.application()))
            .toList());
  }

  private static Holds holds(Kept kept, Freeze f) {
    List<Promotion> promotions =
        kept.promotions().list(Kept.Filter.all().in(PromotionState.standing())).stream()
            .filter(p -> p.site().stage().equals(f.stage()) && !p.bringsBack())
            .filter(p -> !f.except().contains(p.application()))
            .toList();
    List<Schedule> schedules =
        kept.schedules().list(Kept.Filter.state(Schedule.State.WAITING.code())).stream()
            .filter(s -> s.site().stage().equals(f.stage()) && f.holds(s.application(), s.at()))
            .sorted(Comparator.comparing(Schedule::at))
            .toList();
    return new Holds(promotions, schedules);
  }

  private Freeze made(Kept kept, Person by, Asked asked, long number) {
    kept.stages()
        .find(asked.stage())
        .filter(s -> by.may(Right.LOOK, s.key(), Person.ANY))
        .orElseThrow(() -> Problem.notFound("stage", asked.stage()));
    Instant now = tools.now();
    if (!asked.until().isAfter(now)) {
      throw Problem.invalid("PAST", "A freeze ends in the future.", "/until");
    }
    List<String> known = new ArrayList<>();
    kept.applications().all().forEach(a -> known.add(a.key()));
    for (String except : asked.except()) {
      if (!known.contains(except)) {
        throw Problem.notFound("application", except);
      }
    }
    return new Freeze(
        number,
        asked.stage(),
        asked.from(),
        asked.until(),
        asked.reason(),
        asked.except(),
        by.login(),
        now,
        /* lifted= */ null,
        0);
  }

  /** Freezes a stage. */
  public Freeze add(Person by, Asked asked) {
    Rights.require(by, Right.ADMINISTER, asked.stage(), Person.EVERY);
    Freeze made =
        tools
            .keeper()
            .write(
                kept -> {
                  Freeze f = made(kept, by, asked, kept.next("freeze"));
                  kept.freezes().insert(f);
                  kept.note(
                      event(
                          by,
                          "stage frozen",
                          f,
                          f.shown() + " " + f.from() + " to " + f.until() + ": " + f.reason()),
                      tools.now());
                  return f;
                });
    changed(made);
    return made;
  }

  /**
   * Ends one before its time.
   *
   * @throws Problem when it is over
   */
  public Freeze lift(Person by, long number, String reason) {
    Freeze lifted =
        tools
            .keeper()
            .writeAgain(
                kept -> {
                  Freeze f = find(kept, by, number);
                  Rights.require(by, Right.ADMINISTER, f.stage(), Person.EVERY);
                  if (f.over(tools.now())) {
                    throw Problem.stopped(
                        "OVER", f.shown() + " is over.", "plenzo freeze list " + f.stage());
                  }
                  if (reason.isBlank()) {
                    throw Problem.invalid("REASON", "A freeze is lifted with a reason.", "/reason");
                  }
                  Freeze next = f.lift(new Freeze.Lifted(by.login(), tools.now(), reason.strip()));
                  kept.freezes().replace(next);
                  kept.note(
                      event(by, "freeze lifted", f, f.shown() + ": " + reason.strip()),
                      tools.now());
                  return next;
                });
    changed(lifted);
    return lifted;
  }

  private static Freeze find(Kept kept, Person by, long number) {
    return kept.freezes()
        .find(String.valueOf(number))
        .filter(f -> by.may(Right.LOOK, f.stage(), Person.ANY))
        .orElseThrow(() -> Problem.notFound("freeze", "FZ-" + number));
  }

  private void changed(Freeze f) {
    tools.keeper().read(kept -> kept.stages().find(f.stage())).ifPresent(afterChange);
  }

  private static Event event(Person by, String what, Freeze f, String text) {
    return new Event(by.login(), what, null, f.stage(), null, null, null, null, text);
  }
}
