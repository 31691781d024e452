package plenzo.core.may;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import plenzo.core.manual.Handed;
import plenzo.core.manual.ManualStep;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;

/** What a person may do with a run as it stands. */
public final class RunMay {
  private final Run run;
  private final Person by;
  private final Right right;
  private final Set<String> roles;
  private final Collection<Person> everybody;

  /**
   * @param rollback whether it goes back, which asks for a right of its own
   * @param roles keys of the roles that there are: work by hand of a role that is none any more is
   *     whoever's who may run there
   * @param everybody to say who can, where the person cannot
   */
  public RunMay(
      Run run, Person by, boolean rollback, Set<String> roles, Collection<Person> everybody) {
    this.run = run;
    this.by = by;
    this.right = rollback ? Right.GO_BACK : Right.RUN;
    this.roles = roles;
    this.everybody = everybody;
  }

  /** The acts. */
  public enum Deed {
    ABORT,
    PAUSE,
    RESUME,
    TAKE_OVER,
    /** Let users in although an answer is not as it should be. */
    LET_IN,
    /** End a paused run where it stands, with users out. */
    END;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  public Map<Deed, May> all() {
    return May.all(Deed.class, this::may);
  }

  /** Whether the act can be done now. */
  public May may(Deed deed) {
    return switch (deed) {
      case ABORT -> May.first(this::open, this::returns, () -> right(right));
      case PAUSE -> May.first(() -> right(right), this::running);
      case RESUME -> May.first(() -> right(right), this::paused, this::waitsForNoWord);
      case TAKE_OVER -> May.first(() -> right(right), this::open, this::notInCharge);
      case LET_IN -> May.first(() -> right(right), this::paused, this::waitsForAnswers);
      case END -> May.first(() -> right(Right.GO_BACK), this::paused, this::switched);
    };
  }

  /** Whether the person may say what came of work by hand. */
  public May word(RunStep step) {
    return May.first(() -> asks(step), () -> hands(step.requireManual().step()));
  }

  /** Whether the person may say that they are at it; not asked yet, it can be begun early. */
  public May take(RunStep step) {
    return May.first(this::open, () -> notOver(step), () -> hands(step.requireManual().step()));
  }

  /** Whether the person may let the run go on without it. */
  public May leaveOut(RunStep step) {
    return May.first(
        () -> asks(step),
        () ->
            step.requireManual().step().mayBeLeftOut()
                ? May.YES
                : May.no(Why.NOT_OFFERED, "The plan does not let it be left out."),
        () -> right(right));
  }

  private May right(Right wanted) {
    return May.byRight(by, wanted, run.site().stage(), run.application(), everybody);
  }

  /** Holders of its role at the site; where it names none, whoever may run there. */
  private May hands(ManualStep work) {
    String role = work.who();
    if (role.isEmpty() || !roles.contains(role)) {
      return right(right);
    }
    return holds(by, role)
        ? May.YES
        : May.no(
            Why.ROLE,
            by.login() + " does not hold the role \"" + role + "\" at " + run.site() + ".",
            holders(role));
  }

  private List<String> holders(String role) {
    return everybody.stream().filter(p -> holds(p, role)).map(Person::login).sorted().toList();
  }

  private boolean holds(Person person, String role) {
    return person.rolesAt(run.site().stage(), run.application()).contains(role);
  }

  private May open() {
    return run.state().ended() ? May.no(Why.STATE, "It has ended.") : May.YES;
  }

  private May running() {
    return run.state() == RunState.RUNNING || run.state() == RunState.QUEUED
        ? May.YES
        : run.state() == RunState.PAUSED
            ? May.no(Why.STATE, "It is paused already.")
            : May.no(Why.STATE, "It has ended.");
  }

  private May paused() {
    return run.state() == RunState.PAUSED
        ? May.YES
        : May.no(Why.STATE, run.state().ended() ? "It has ended." : "It is not paused.");
  }

  private May waitsForNoWord() {
    Course.Pause pause = run.pause();
    return pause != null && pause.why() == Course.Why.BY_HAND
        ? May.no(
            Why.STATE, "It waits for step " + pause.step() + ", and goes on when that is done.")
        : May.YES;
  }

  private May waitsForAnswers() {
    Course.Pause pause = run.pause();
    return pause != null && pause.why() == Course.Why.ANSWERS
        ? May.YES
        : May.no(Why.STATE, "It does not wait because of an answer.");
  }

  private May returns() {
    return run.noReturnAt() == null
        ? May.YES
        : May.no(Why.NO_RETURN, "It is past the point of no return; it can only be rolled back.");
  }

  private May switched() {
    if (run.recorded()) {
      return May.no(Why.STATE, "What it brings is there and recorded: go back from it as it is.");
    }
    return run.noReturnAt() == null
        ? May.no(Why.STATE, "It has changed nothing yet: abort it.")
        : May.YES;
  }

  private May notInCharge() {
    return run.inCharge().equals(by.login())
        ? May.no(Why.SAID_ALREADY, "You are in charge of it already.")
        : May.YES;
  }

  private May asks(RunStep step) {
    Course.Pause pause = run.pause();
    boolean asked =
        step.manual() != null
            && pause != null
            && run.steps().get(pause.step() - 1).act() == step.act();
    return !asked ? May.no(Why.STATE, "The run does not wait for it now.") : notOver(step);
  }

  private static May notOver(RunStep step) {
    Handed handed = step.manual();
    if (handed == null) {
      return May.no(Why.STATE, "Plenzo does it.");
    }
    Handed.Word word = handed.word();
    return word != null && handed.over() ? May.no(Why.STATE, word.words() + ".") : May.YES;
  }

  /** Who is asked for the word about a step. */
  public List<String> who(RunStep step) {
    ManualStep work = step.requireManual().step();
    return roles.contains(work.who())
        ? holders(work.who())
        : May.who(right, run.site().stage(), run.application(), everybody);
  }
}
