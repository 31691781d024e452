package plenzo.engine.running;

import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.manual.Handed;
import plenzo.core.manual.Handed.Outcome;
import plenzo.core.may.May;
import plenzo.core.may.RunMay;
import plenzo.core.may.RunMay.Deed;
import plenzo.core.person.Person;
import plenzo.core.person.Role;
import plenzo.core.plan.Plan.Act;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.engine.Tools;

/** How people steer a run: pause it, say what came of work by hand, take it over, let it go on. */
public final class Steering {
  /** Longest note or reason (guess: more is a document, which is given as evidence). */
  private static final int LONGEST = 2000;

  private final Tools tools;
  private final Runs runs;
  private final RunBook book;

  Steering(Tools tools, Runs runs, RunBook book) {
    this.tools = tools;
    this.runs = runs;
    this.book = book;
  }

  /** What the person may do with it now. */
  public RunMay may(Person by, Run run) {
    boolean rollback =
        tools
            .keeper()
            .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
            .map(Promotion::rollback)
            .orElse(false);
    return may(tools, by, run, rollback);
  }

  /**
   * The same where it is known already whether it goes back.
   *
   * @param rollback whether it does
   */
  public static RunMay may(Tools tools, Person by, Run run, boolean rollback) {
    Set<String> roles =
        tools.keeper().read(kept -> kept.roles().all()).stream()
            .map(Role::key)
            .collect(Collectors.toSet());
    return new RunMay(run, by, rollback, roles, tools.everybody());
  }

  /** It pauses before its next step; between targets that switch it does not. */
  public Run pause(Person by, long number, String reason) {
    Run run = able(by, number, Deed.PAUSE);
    text(reason, "Pausing needs a reason.");
    book.askToPause(number, new RunBook.Asked(by.login(), reason));
    tools
        .keeper()
        .write(kept -> kept.note(event(by.login(), "pause asked", run, reason), tools.now()));
    book.say(number, by.login() + " asked to pause: " + reason);
    return book.get(number);
  }

  /** It goes on where it was paused. */
  public Run resume(Person by, long number) {
    able(by, number, Deed.RESUME);
    return goOn(
        by,
        number,
        "run resumed",
        "",
        run -> {
          requirePaused(run);
          return run;
        });
  }

  /**
   * Somebody else answers for it from now on; both names are kept.
   *
   * @param from who was in charge as the person saw it
   */
  public Run takeOver(Person by, long number, String from, String reason) {
    able(by, number, Deed.TAKE_OVER);
    text(reason, "Taking over needs a reason.");
    return book.change(
        number,
        event(by.login(), "run taken over", book.get(number), "from " + from + ": " + reason),
        run -> {
          if (!run.inCharge().equals(from)) {
            throw Problem.changed(
                "TAKEN_OVER",
                run.inCharge()
                    + " is in charge of "
                    + run.shown()
                    + " by now, and "
                    + from
                    + " no more.",
                "plenzo run show " + run.shown());
          }
          return run.takenOver(new Course.Charge(from, by.login(), tools.now(), reason));
        });
  }

  /**
   * Somebody is at a piece of work by hand, so that nobody else begins it.
   *
   * @param from who was at it as the person saw it; null for nobody
   */
  public Run take(Person by, long number, int step, @Nullable String from) {
    Run seen = runs.get(by, number);
    require(seen, may(by, seen).take(step(seen, step)));
    return book.change(
        number,
        event(by.login(), "work by hand taken", seen, words(seen, step)),
        run -> {
          RunStep s = step(run, step);
          Handed handed = s.requireManual();
          if (!Objects.equals(handed.takenBy(), from)) {
            throw Problem.changed(
                "TAKEN",
                handed.takenBy() + " is at step " + step + " by now.",
                "plenzo run show " + run.shown());
          }
          return run.withStep(s.with(handed.takenBy(by.login())));
        });
  }

  /**
   * Work by hand is done; the run goes on when it waits for nothing else.
   *
   * @param note what was done, which may be empty
   */
  public Run done(Person by, long number, int step, String note) {
    return done(by, number, step, note, null);
  }

  /**
   * The same with a file that shows it.
   *
   * @param evidence its number; null for none, where the work asks for none
   */
  public Run done(Person by, long number, int step, String note, @Nullable Long evidence) {
    Run seen = runs.get(by, number);
    RunStep asked = step(seen, step);
    require(seen, may(by, seen).word(asked));
    limit(note);
    if (evidence == null && asked.requireManual().step().proof()) {
      throw Problem.invalid(
          "PROOF", "Step " + step + " is confirmed with a file that shows it.", "/evidence");
    }
    if (evidence != null
        && tools
            .keeper()
            .read(kept -> kept.evidence().find(String.valueOf(evidence)))
            .filter(e -> e.run() == number)
            .isEmpty()) {
      throw Problem.invalid(
          "NOT_ITS_EVIDENCE", "E-" + evidence + " is not about " + seen.shown() + ".", "/evidence");
    }
    return said(by, number, step, Outcome.DONE, note, evidence);
  }

  /** It could not be done: before the switch the run stops, after it the run waits. */
  public Run notDone(Person by, long number, int step, String reason) {
    Run seen = runs.get(by, number);
    require(seen, may(by, seen).word(step(seen, step)));
    text(reason, "What could not be done needs a reason.");
    return said(by, number, step, Outcome.NOT_DONE, reason, null);
  }

  /** The run goes on without it, where the plan allows that. */
  public Run leaveOut(Person by, long number, int step, String reason) {
    Run seen = runs.get(by, number);
    require(seen, may(by, seen).leaveOut(step(seen, step)));
    text(reason, "What is left out needs a reason.");
    return said(by, number, step, Outcome.LEFT_OUT, reason, null);
  }

  /**
   * Ends a run where it stands after its switch, with users out: what is there is read back and
   * recorded, and can be gone back from.
   */
  public Run end(Person by, long number, String reason) {
    able(by, number, Deed.END);
    text(reason, "Ending it here needs a reason.");
    return goOn(
        by,
        number,
        "run ended here",
        reason,
        run -> {
          requirePaused(run);
          return endedHere(run, by.login() + " ended it here: " + reason, tools.now());
        });
  }

  /** What is to come but reading back and recording is left out: nobody is let in. */
  static Run endedHere(Run run, String why, Instant now) {
    Run out = run;
    for (RunStep s : run.steps()) {
      boolean left = s.manual() != null || s.act() == Act.OPEN;
      if (left && !s.state().over()) {
        out = out.withStep(s.to(RunStep.State.LEFT_OUT, now, "Ended before it"));
      } else if (s.act() == Act.ASK_AFTER && s.state() == RunStep.State.RUNNING) {
        Course.Pause pause = run.pause();
        out = out.withStep(s.to(RunStep.State.FAILED, now, pause == null ? why : pause.reason()));
      }
    }
    return look(out, why).endingHere();
  }

  /** Users come in although an answer is not as it should be; that is to be looked at. */
  public Run letIn(Person by, long number, String reason) {
    able(by, number, Deed.LET_IN);
    text(reason, "Letting users in all the same needs a reason.");
    return goOn(
        by,
        number,
        "let in all the same",
        reason,
        run -> {
          requirePaused(run);
          Course.Pause pause = Objects.requireNonNull(run.pause());
          RunStep asked =
              run.steps().get(pause.step() - 1).to(RunStep.State.DONE, tools.now(), pause.reason());
          return look(
              run.withStep(asked).letIn(new Course.LetIn(by.login(), tools.now(), reason)),
              pause.reason() + "; let in all the same by " + by.login() + ": " + reason);
        });
  }

  private Run said(
      Person by, long number, int step, Outcome outcome, String note, @Nullable Long evidence) {
    Handed.Word word = new Handed.Word(outcome, by.login(), tools.now(), note, evidence);
    UnaryOperator<Run> change =
        run -> {
          requirePaused(run);
          RunStep s = step(run, step);
          Handed handed = s.requireManual();
          if (handed.over()) {
            throw Problem.changed(
                "SAID_ALREADY",
                "Step " + step + ": " + Objects.requireNonNull(handed.word()).words() + ".",
                "plenzo run show " + run.shown());
          }
          RunStep with = s.with(handed.said(word));
          return switch (outcome) {
            case DONE -> run.withStep(with.to(RunStep.State.DONE, tools.now(), word.words()));
            case NOT_DONE -> run.withStep(with.to(s.state(), tools.now(), word.words()));
            case LEFT_OUT ->
                look(
                    run.withStep(with.to(RunStep.State.LEFT_OUT, tools.now(), word.words())),
                    handed.step().title() + ": " + word.words());
          };
        };
    Run seen = book.get(number);
    String event =
        switch (outcome) {
          case DONE -> "work by hand done";
          case NOT_DONE -> "work by hand not done";
          case LEFT_OUT -> "work by hand left out";
        };
    String text = words(seen, step) + (note.isBlank() ? "" : ": " + note);
    boolean waits = outcome == Outcome.NOT_DONE && !stops(step(seen, step).act());
    return waits || pausedByPerson(seen)
        ? told(book.change(number, event(by.login(), event, seen, text), change), text)
        : goOn(by, number, event, text, change);
  }

  private Run told(Run run, String text) {
    book.say(run.number(), text);
    return run;
  }

  /** What was not done before the switch ends the run; after it, it waits. */
  private static boolean stops(Act act) {
    return act == Act.BY_HAND_BEFORE || act == Act.BY_HAND_CLOSED;
  }

  private static boolean pausedByPerson(Run run) {
    Course.Pause pause = run.pause();
    return pause != null && pause.why() == Course.Why.PERSON;
  }

  private static Run look(Run run, String what) {
    List<String> all = new java.util.ArrayList<>(run.course().looks());
    all.add(what);
    return run.withLooks(all);
  }

  private static String words(Run run, int step) {
    return "Step " + step + ", " + step(run, step).requireManual().asked().words();
  }

  private Run goOn(Person by, long number, String event, String text, UnaryOperator<Run> change) {
    runs.goOn(
        number,
        () -> {
          Run resumed =
              book.change(
                  number,
                  event(by.login(), event, book.get(number), text),
                  run -> change.apply(run).resumed(tools.now()));
          book.say(number, by.login() + ": " + event + (text.isEmpty() ? "" : ", " + text));
          return resumed;
        });
    return book.get(number);
  }

  /** Somebody else may have been quicker. */
  private static void requirePaused(Run run) {
    if (run.state() != RunState.PAUSED) {
      throw Problem.changed(
          "NOT_PAUSED",
          run.shown() + " is " + run.state().code() + " by now.",
          "plenzo run show " + run.shown());
    }
  }

  private static RunStep step(Run run, int step) {
    if (step < 1 || step > run.steps().size() || run.steps().get(step - 1).manual() == null) {
      throw Problem.notFound("step by hand", run.shown() + " " + step);
    }
    return run.steps().get(step - 1);
  }

  private Run able(Person by, long number, Deed deed) {
    Run run = runs.get(by, number);
    require(run, may(by, run).may(deed));
    return run;
  }

  /**
   * @throws Problem when it may not be done
   */
  static void require(Run run, May may) {
    May.Why why = may.why();
    if (why == null) {
      return;
    }
    String look = "plenzo run show " + run.shown();
    throw switch (why) {
      case RIGHT, ROLE -> may.refused();
      case NO_RETURN ->
          Problem.stopped(
              "NO_RETURN",
              may.words(),
              "plenzo rollback ways " + run.application() + "@" + run.site());
      case NOT_OFFERED -> Problem.stopped("NOT_OFFERED", may.words(), look);
      case SAID_ALREADY -> Problem.stopped("SAID_ALREADY", may.words(), look);
      default ->
          run.state().ended()
              ? Problem.stopped(
                  "RUN_ENDED", run.shown() + " has ended: " + run.state().code() + ".", look)
              : Problem.stopped("RUN_STATE", may.words(), look);
    };
  }

  private static void text(String reason, String needed) {
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", needed, "/reason");
    }
    limit(reason);
  }

  private static void limit(String text) {
    if (text.length() > LONGEST) {
      throw Problem.invalid(
          "TEXT",
          "A note has at most " + LONGEST + " characters; got " + text.length() + ".",
          "/note");
    }
  }

  static Event event(String actor, String what, Run run, String text) {
    return new Event(
        actor,
        what,
        run.application(),
        run.site().stage(),
        run.site().site(),
        run.version(),
        run.promotion(),
        run.number(),
        text);
  }
}
