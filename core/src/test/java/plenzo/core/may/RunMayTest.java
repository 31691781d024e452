package plenzo.core.may;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.manual.Asked;
import plenzo.core.manual.Handed;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.may.May.Why;
import plenzo.core.may.RunMay.Deed;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteKey;

/** Who may steer a run, and when. */
class RunMayTest {
  private static final Instant NOW = Instant.parse("2027-03-01T08:00:00Z");
  private static final Person INES = person("ines", Right.RUN);
  private static final Person TOVE = person("tove", Right.GO_BACK);
  private static final Person DESK =
      person("desk", Right.LOOK)
          .withRoles(List.of(new Person.Held("desk", List.of(Right.LOOK), "production", "*")));

  private static Person person(String login, Right... rights) {
    return Person.invited(login, login, "", false)
        .withGrants(
            List.of(rights).stream().map(r -> new Person.Grant(r, "production", "fares")).toList());
  }

  private static RunStep step(int n, Act act, RunStep.State state, @Nullable ManualStep work) {
    return new RunStep(
        n,
        act,
        null,
        "Step",
        state,
        null,
        null,
        null,
        work == null ? null : Handed.of(new Asked(work, "P-1")));
  }

  private static Run run(@Nullable Instant noReturn, RunStep... steps) {
    Run queued =
        Run.queued(
            5,
            new Run.Goal(
                7, "fares", "2.6.1", "2.6.0", new SiteKey("production", "north"), "ab", List.of()),
            "ines",
            NOW,
            List.of(steps));
    return queued.withState(RunState.RUNNING, NOW, null).withNoReturn(noReturn);
  }

  private static Run waiting(@Nullable Instant noReturn, Course.Why why, RunStep... steps) {
    return run(noReturn, steps).paused(new Course.Pause(why, 2, "ines", NOW, "why"));
  }

  private static RunMay may(Run run, Person by) {
    return new RunMay(run, by, /* rollback= */ false, Set.of("desk"), List.of(INES, TOVE, DESK));
  }

  private static final RunStep LOOKED = step(1, Act.LOOK_AGAIN, RunStep.State.DONE, null);

  private static RunStep work(String who, boolean optional) {
    return step(
        2,
        Act.BY_HAND_CLOSED,
        RunStep.State.RUNNING,
        new ManualStep(When.CLOSED, who, "Tell the desk", "", 0, false, optional));
  }

  @ParameterizedTest
  @CsvSource({
    "PAUSE,     RUN,     ines",
    "RESUME,    RUN,     ines",
    "TAKE_OVER, RUN,     ines",
    "ABORT,     RUN,     ines",
    "END,       GO_BACK, tove"
  })
  void eachAsksForItsRight(Deed deed, Right right, String who) {
    Run at = deed == Deed.PAUSE ? run(null, LOOKED) : waiting(null, Course.Why.PERSON, LOOKED);
    May no = may(at, DESK).may(deed);

    assertThat(no.why()).isEqualTo(Why.RIGHT);
    assertThat(no.words()).contains("\"" + right.code() + "\"");
    assertThat(no.who()).containsExactly(who);
  }

  @Test
  void aRollbackIsSteeredByThoseWhoMayGoBack() {
    Run run = run(null, LOOKED);
    RunMay back = new RunMay(run, TOVE, /* rollback= */ true, Set.of(), List.of(TOVE));
    assertThat(back.may(Deed.PAUSE).allowed()).isTrue();
    assertThat(may(run, TOVE).may(Deed.PAUSE).allowed()).isFalse();
  }

  @Test
  void onlyWhatRunsIsPausedAndOnlyWhatIsPausedGoesOn() {
    Run running = run(null, LOOKED);
    Run paused = waiting(null, Course.Why.PERSON, LOOKED);
    assertThat(may(running, INES).may(Deed.PAUSE).allowed()).isTrue();
    assertThat(may(running, INES).may(Deed.RESUME).words()).isEqualTo("It is not paused.");
    assertThat(may(paused, INES).may(Deed.PAUSE).words()).isEqualTo("It is paused already.");
    assertThat(may(paused, INES).may(Deed.RESUME).allowed()).isTrue();
  }

  @Test
  void whatWaitsForAWordDoesNotSimplyGoOn() {
    Run paused = waiting(null, Course.Why.BY_HAND, LOOKED, work("", false));
    assertThat(may(paused, INES).may(Deed.RESUME).words())
        .isEqualTo("It waits for step 2, and goes on when that is done.");
  }

  @Test
  void itIsEndedHereOnlyBetweenItsSwitchAndItsRecord() {
    assertThat(may(waiting(null, Course.Why.PERSON, LOOKED), TOVE).may(Deed.END).words())
        .isEqualTo("It has changed nothing yet: abort it.");
    assertThat(may(waiting(NOW, Course.Why.PERSON, LOOKED), TOVE).may(Deed.END).allowed()).isTrue();
    Run recorded =
        waiting(NOW, Course.Why.PERSON, LOOKED, step(2, Act.RECORD, RunStep.State.DONE, null));
    assertThat(may(recorded, TOVE).may(Deed.END).words()).contains("go back from it as it is");
    assertThat(recorded.holdsSite()).as("another run may begin there").isFalse();
    assertThat(waiting(NOW, Course.Why.PERSON, LOOKED).holdsSite()).isTrue();
  }

  @Test
  void nobodyTakesOverWhatTheyAnswerForAlready() {
    assertThat(may(run(null, LOOKED), INES).may(Deed.TAKE_OVER).why()).isEqualTo(Why.SAID_ALREADY);
  }

  @Test
  void holdersOfTheRoleSayWhatCameOfItAndNobodyElse() {
    RunStep work = work("desk", false);
    Run paused = waiting(null, Course.Why.BY_HAND, LOOKED, work);

    assertThat(may(paused, DESK).word(work).allowed()).isTrue();
    May no = may(paused, INES).word(work);
    assertThat(no.why()).isEqualTo(Why.ROLE);
    assertThat(no.who()).containsExactly("desk");
    assertThat(may(paused, INES).who(work)).containsExactly("desk");
  }

  @Test
  void workOfARoleThatIsNoneAnyMoreIsWhoeversWhoMayRun() {
    RunStep work = work("gone", false);
    Run paused = waiting(null, Course.Why.BY_HAND, LOOKED, work);
    assertThat(may(paused, INES).word(work).allowed()).isTrue();
    assertThat(may(paused, INES).who(work)).containsExactly("ines");
    assertThat(may(paused, DESK).word(work).why()).isEqualTo(Why.RIGHT);
  }

  @Test
  void aWordIsSaidOnlyWhileTheRunWaitsForIt() {
    RunStep work = work("desk", false);
    assertThat(may(run(null, LOOKED, work), DESK).word(work).words())
        .isEqualTo("The run does not wait for it now.");
    assertThat(may(run(null, LOOKED, work), DESK).take(work).allowed())
        .as("it can be begun early")
        .isTrue();
    RunStep done =
        work.with(
            work.requireManual().said(new Handed.Word(Handed.Outcome.DONE, "desk", NOW, "", null)));
    Run paused = waiting(null, Course.Why.BY_HAND, LOOKED, done);
    assertThat(may(paused, DESK).word(done).words()).isEqualTo("Done by desk.");
  }

  @Test
  void itIsLeftOutWhereThePlanLetsItByWhoMayRun() {
    RunStep must = work("desk", false);
    RunStep can = work("desk", true);
    assertThat(may(waiting(null, Course.Why.BY_HAND, LOOKED, must), INES).leaveOut(must).why())
        .isEqualTo(Why.NOT_OFFERED);
    Run paused = waiting(null, Course.Why.BY_HAND, LOOKED, can);
    assertThat(may(paused, INES).leaveOut(can).allowed()).isTrue();
    assertThat(may(paused, DESK).leaveOut(can).why()).isEqualTo(Why.RIGHT);
  }
}
