package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.Kind.Holder;
import plenzo.core.manual.Asked;
import plenzo.core.manual.Handed;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.plan.Plan.Act;
import plenzo.core.stage.SiteKey;

/** What earlier runs say of how long another one may take. */
class SpansTest {
  private static final Instant BEGAN = Instant.parse("2027-03-01T08:00:00Z");

  private final List<RunStep> steps = new ArrayList<>();

  private SpansTest took(Act act, @Nullable Holder holder, int seconds) {
    return took(act, holder, seconds, RunStep.State.DONE, null);
  }

  private SpansTest took(
      Act act,
      @Nullable Holder holder,
      int seconds,
      RunStep.State state,
      @Nullable ManualStep work) {
    steps.add(
        new RunStep(
            steps.size() + 1,
            act,
            holder,
            "Step",
            state,
            BEGAN,
            state == RunStep.State.LEFT_OUT ? null : BEGAN.plusSeconds(seconds),
            null,
            work == null ? null : Handed.of(new Asked(work, "P-1"))));
    return this;
  }

  private Run run(RunState... through) {
    Run run =
        Run.queued(
            1,
            new Run.Goal(1, "fares", "2", "1", new SiteKey("production", "north"), "ab", List.of()),
            "ines",
            BEGAN,
            List.copyOf(steps));
    for (RunState s : through) {
      run = run.withState(s, BEGAN, null);
    }
    steps.clear();
    return run;
  }

  private Run done() {
    return run(RunState.RUNNING, RunState.DONE);
  }

  private Run whole(int looking, int closing, int switching, int opening) {
    return took(Act.LOOK_AGAIN, null, looking)
        .took(Act.CLOSE, Holder.HOST, closing)
        .took(Act.SWITCH, Holder.DATABASE, switching)
        .took(Act.OPEN, Holder.HOST, opening)
        .took(Act.RECORD, null, 1)
        .done();
  }

  @Test
  void sayTheShortestAndTheLongestOfTheWholeAndOfUsersOut() {
    Spans spans = Spans.of(List.of(whole(100, 1, 2, 3), whole(10, 4, 5, 6)));

    assertThat(spans.whole())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(26), Duration.ofSeconds(107), 2));
    assertThat(spans.usersOut())
        .isEqualTo(new Spans.Span(Duration.ofSeconds(6), Duration.ofSeconds(15), 2));
  }

  @Test
  void countOnlyRunsThatCameThrough() {
    took(Act.LOOK_AGAIN, null, 500);
    Run stopped = run(RunState.RUNNING, RunState.STOPPED);

    assertThat(Spans.of(List.of(stopped)).whole()).isNull();
    assertThat(Spans.of(List.of(stopped)).usualWhole()).isNull();
  }

  @Test
  void doNotCountWhatPeopleTook() {
    ManualStep work = ManualStep.of(When.SWITCHED, "", "Ring");
    Run run =
        took(Act.CLOSE, Holder.HOST, 1)
            .took(Act.BY_HAND_SWITCHED, null, 5000, RunStep.State.DONE, work)
            .took(Act.OPEN, Holder.HOST, 1)
            .done();

    assertThat(Spans.of(List.of(run)).usersOut().most()).isEqualTo(Duration.ofSeconds(2));
  }

  @Test
  void sayNothingOfUsersOutWhereNobodyWasLetInAgain() {
    Run run =
        took(Act.CLOSE, Holder.HOST, 1)
            .took(Act.OPEN, Holder.HOST, 0, RunStep.State.LEFT_OUT, null)
            .done();
    assertThat(Spans.of(List.of(run)).usersOut()).isNull();
    assertThat(run.usersOutSince()).contains(BEGAN);
    assertThat(run.usersInAgain()).as("still out").isEmpty();
  }

  @Test
  void knowAStepByItsSortWhereverItStands() {
    Spans spans = Spans.of(List.of(whole(100, 1, 2, 3)));
    RunStep elsewhere =
        new RunStep(
            9,
            Act.SWITCH,
            Holder.DATABASE,
            "Switch",
            RunStep.State.TO_COME,
            null,
            null,
            null,
            null);
    RunStep otherTarget =
        new RunStep(
            9, Act.SWITCH, Holder.HOST, "Switch", RunStep.State.TO_COME, null, null, null, null);

    assertThat(spans.usual(elsewhere)).isEqualTo(Duration.ofSeconds(2));
    assertThat(spans.usual(otherTarget)).isNull();
  }

  @Test
  void aRunThatStoppedLetEverybodyInWhenItEnded() {
    took(Act.CLOSE, Holder.HOST, 1);
    assertThat(run(RunState.RUNNING, RunState.STOPPED).usersInAgain()).contains(BEGAN);
  }
}
