package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Leg;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** A run waits for what people do, whatever becomes of the service meanwhile. */
class ByHandTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
  }

  private static ManualStep desk(When when) {
    return ManualStep.of(when, "", "Tell the desk\nby telephone");
  }

  private Run begin(ManualStep... steps) {
    kit.development().row(BAND, row("PEAK", "25.00"));
    kit.sealFrom("1.1.0", null, List.of(steps));
    return kit.bring("1.1.0");
  }

  private Run done(Run run, int step) {
    kit.engine().runs().steering().done(kit.bram, run.number(), step, "called at nine");
    kit.settleDown();
    return kit.run(run.number());
  }

  private static RunStep byHand(Run run) {
    return run.steps().stream().filter(s -> s.manual() != null).findFirst().orElseThrow();
  }

  private String peak() {
    return String.valueOf(kit.production().value(BAND, "PEAK", "amount"));
  }

  private static void refused(Runnable act, String code) {
    assertThatThrownBy(act::run)
        .isInstanceOfSatisfying(Problem.class, e -> assertThat(e.code()).isEqualTo(code));
  }

  @ParameterizedTest
  @EnumSource(When.class)
  void waitsWhereItStandsAndGoesOn(When when) {
    Run waiting = begin(desk(when));

    assertThat(waiting.state()).isEqualTo(RunState.PAUSED);
    assertThat(byHand(waiting).requireManual().since()).isNotNull();
    boolean switched = when == When.SWITCHED || when == When.AFTER;
    boolean closed = when == When.CLOSED || when == When.SWITCHED;
    assertThat(peak()).isEqualTo(switched ? "25.00" : "20.00");
    assertThat(kit.host().maintenance).as("users are out").isEqualTo(closed);
    assertThat(kit.record().present())
        .isEqualTo(new SemVer(when == When.AFTER ? "1.1.0" : "1.0.0"));

    Run run = done(waiting, byHand(waiting).number());

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(byHand(run).note()).isEqualTo("Done by bram: called at nine");
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.production().prepared()).isFalse();
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.promotion(run.promotion()).state()).isEqualTo(PromotionState.DONE);
  }

  @ParameterizedTest
  @EnumSource(When.class)
  void aRestartChangesNothingOfIt(When when) {
    Run waiting = begin(desk(when));

    assertThat(kit.restart().recover()).isZero();

    Run again = kit.run(waiting.number());
    assertThat(again.state()).isEqualTo(RunState.PAUSED);
    assertThat(again.steps()).isEqualTo(waiting.steps());
    assertThat(again.course()).isEqualTo(waiting.course());
    assertThat(done(waiting, byHand(waiting).number()).state()).isEqualTo(RunState.DONE);
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.recover()).as("nothing is left to do").isZero();
  }

  @Test
  void eachIsAskedInItsTurnAndThoseOfOnePlaceTogether() {
    Run run =
        begin(
            ManualStep.of(When.AFTER, "", "Last"),
            ManualStep.of(When.BEFORE, "", "First"),
            ManualStep.of(When.BEFORE, "", "Second"));

    assertThat(run.steps().get(0).requireManual().step().title()).isEqualTo("First");
    assertThat(run.steps().get(1).requireManual().since()).as("both at once").isNotNull();
    assertThat(done(run, 2).state()).as("the first is still to come").isEqualTo(RunState.PAUSED);
    Run last = done(kit.run(run.number()), 1);
    assertThat(last.state()).isEqualTo(RunState.PAUSED);
    refused(() -> done(last, 1), "RUN_STATE");

    assertThat(done(last, last.steps().size()).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void stepsOfSkippedVersionsAddUpWithTheirOrigin() {
    kit.sealFrom("1.1.0", null, List.of(ManualStep.of(When.AFTER, "", "Of the skipped one")));
    kit.development().row(BAND, row("PEAK", "25.00"));
    kit.sealFrom("1.2.0", "1.1.0", List.of(ManualStep.of(When.AFTER, "", "Of the newest")));
    kit.engine()
        .paths()
        .change(
            kit.ines,
            new plenzo.core.stage.Path(
                "ordinary",
                "Ordinary",
                "development",
                List.of(
                    Leg.open("production")
                        .by(List.of(ManualStep.of(When.BEFORE, "", "Whenever one comes")))),
                kit.engine().paths().list().get(0).revision()));

    Promotion p = kit.prepare("1.2.0");

    assertThat(p.requirePlan().manual())
        .extracting(m -> m.words())
        .containsExactly(
            "Whenever one comes (path ordinary)",
            "Of the skipped one (fares@1.1.0)",
            "Of the newest (fares@1.2.0)");
  }

  @Test
  void aCaseMayAskForMoreAndAYesToThePlanWithoutItFalls() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.engine()
        .promotions()
        .approve(kit.bram, p.number(), true, p.requirePlan().fingerprint().shown(), "");

    Promotion now =
        kit.engine().promotions().byHand(kit.ines, p.number(), List.of(desk(When.BEFORE)));

    assertThat(now.approvals()).allMatch(a -> a.voidBecause() != null);
    assertThat(now.moved()).contains("To be done by hand now: Tell the desk (P-1)");
    assertThat(now.requirePlan().fingerprint()).isNotEqualTo(p.requirePlan().fingerprint());
    Promotion less = kit.engine().promotions().byHand(kit.ines, p.number(), List.of());
    assertThat(less.requirePlan().fingerprint())
        .as("without it the plan is what it was")
        .isEqualTo(p.requirePlan().fingerprint());
  }

  @Nested
  class ThatCouldNotBeDone {
    private Run said(Run run) {
      kit.engine()
          .runs()
          .steering()
          .notDone(kit.bram, run.number(), byHand(run).number(), "nobody answers");
      kit.settleDown();
      return kit.run(run.number());
    }

    @ParameterizedTest
    @EnumSource(
        value = When.class,
        names = {"BEFORE", "CLOSED"})
    void stopsTheRunWhileNothingIsChanged(When when) {
      Run run = said(begin(desk(when)));

      assertThat(run.state()).isEqualTo(RunState.STOPPED);
      assertThat(run.sentence()).contains("Tell the desk", "bram", "nobody answers");
      assertThat(peak()).isEqualTo("20.00");
      assertThat(kit.host().maintenance).isFalse();
      assertThat(kit.production().prepared()).isFalse();
    }

    @Test
    void keepsTheDoorsClosedOnceItHasSwitched() {
      Run run = said(begin(desk(When.SWITCHED)));

      assertThat(run.state()).isEqualTo(RunState.PAUSED);
      assertThat(kit.host().maintenance).isTrue();
      assertThat(byHand(run).note()).isEqualTo("Could not be done, says bram: nobody answers");
      assertThat(done(run, byHand(run).number()).state())
          .as("later it can")
          .isEqualTo(RunState.DONE);
    }
  }

  @Test
  void isLeftOutOnlyWhereThePlanAllowsItAndThatIsToLookAt() {
    ManualStep must = desk(When.AFTER);
    ManualStep may = new ManualStep(When.AFTER, "", "Hang up the notice", "", 0, false, true);
    Run run = begin(must, may);
    int first = byHand(run).number();
    refused(
        () -> kit.engine().runs().steering().leaveOut(kit.ines, run.number(), first, "no time"),
        "NOT_OFFERED");

    kit.engine().runs().steering().leaveOut(kit.ines, run.number(), first + 1, "no paper");
    kit.settleDown();
    Run out = done(kit.run(run.number()), first);

    assertThat(out.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(out.sentence()).contains("Hang up the notice: Left out by ines: no paper");
    assertThat(kit.record().lastPlacement().orElseThrow().toLookAt()).isNotNull();
  }

  @Test
  void onlyHoldersOfItsRoleSayThatItIsDone() {
    kit.write(
        kept -> {
          kept.roles().insert(new Role("desk", "Desk", List.of(Right.LOOK), 0));
          kept.people()
              .insert(
                  Person.invited("tove", "Tove", "", false)
                      .withRoles(
                          List.of(
                              new Person.Held("desk", List.of(Right.LOOK), "production", "*"))));
          return null;
        });
    Run run = begin(ManualStep.of(When.BEFORE, "desk", "Tell the north"));
    refused(() -> done(run, 1), "NOT_ALLOWED");

    Person tove = kit.read(kept -> kept.people().find("tove")).orElseThrow();
    kit.engine().runs().steering().done(tove, run.number(), 1, "");
    kit.settleDown();

    assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void isOverdueAfterItsTime() {
    Run run = begin(new ManualStep(When.BEFORE, "", "Soon", "", 30, false, false));
    var handed = byHand(run).requireManual();

    assertThat(handed.overdue(kit.clock.instant())).isFalse();
    kit.clock.tick(Duration.ofMinutes(31));
    assertThat(handed.overdue(kit.clock.instant())).isTrue();
  }

  @Test
  void whatWasDoneBeforeAStoppedRunIsNotAskedAgain() {
    Run first = begin(desk(When.BEFORE));
    kit.production().script.once(At.PREPARE, () -> kit.production().row(BAND, row("PEAK", "7")));
    Run stopped = done(first, 1);
    assertThat(stopped.state()).isEqualTo(RunState.STOPPED);
    kit.production().row(BAND, row("PEAK", "20.00"));
    kit.engine().promotions().compareAgain(kit.ines, 1);
    kit.settleDown();

    Run second = kit.run(kit.promotion(1));

    assertThat(second.state()).isEqualTo(RunState.DONE);
    assertThat(second.steps().get(0).note()).isEqualTo("Done by bram: called at nine");
  }

  @Nested
  class APausedRun {
    private Run paused(When when) {
      return begin(desk(when));
    }

    @ParameterizedTest
    @EnumSource(
        value = When.class,
        names = {"BEFORE", "CLOSED"})
    void isAbortedWithoutTraceBeforeItsSwitch(When when) {
      Run run = paused(when);

      kit.engine().runs().abort(kit.ines, run.number(), "not today");
      kit.settleDown();

      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.STOPPED);
      assertThat(kit.run(run.number()).sentence()).startsWith("Aborted by ines");
      assertThat(peak()).isEqualTo("20.00");
      assertThat(kit.host().maintenance).isFalse();
    }

    @Test
    void isNotAbortedAfterItButEndedWithUsersOut() {
      Run run = paused(When.SWITCHED);
      refused(() -> kit.engine().runs().abort(kit.ines, run.number(), "no"), "NO_RETURN");

      kit.engine().runs().steering().end(kit.ines, run.number(), "the desk is not reached");
      kit.settleDown();
      Run ended = kit.run(run.number());

      assertThat(ended.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(ended.sentence()).contains("ines ended it here: the desk is not reached");
      assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
      assertThat(kit.host().maintenance).as("nobody is let in").isTrue();
      assertThat(kit.record().closedBy()).isEqualTo(ended.shown());
    }

    @Test
    void isGoneBackFromOnceItEndedAndThenEverybodyIsLetIn() {
      Run run = paused(When.SWITCHED);
      kit.engine().runs().steering().end(kit.ines, run.number(), "back");
      kit.settleDown();

      Run back = kit.run(kit.back(Plan.Way.BACKUP));

      assertThat(back.state()).isEqualTo(RunState.DONE);
      assertThat(peak()).isEqualTo("20.00");
      assertThat(kit.host().maintenance).isFalse();
      assertThat(kit.record().closedBy()).isNull();
    }

    @Test
    void keepsOthersWaitingUntilWhatItBringsIsRecorded() {
      Run run = paused(When.BEFORE);
      assertThat(kit.ways()).allMatch(w -> !w.possible() && w.why().contains("is paused there"));
      kit.development().row(BAND, row("DAY", "11.00"));
      kit.sealFrom("1.2.0", "1.1.0", List.of());
      Promotion next = kit.prepare("1.2.0");

      Run waits = kit.start(next);
      kit.settleDown();

      assertThat(kit.run(waits.number()).state()).isEqualTo(RunState.QUEUED);
      done(run, 1);
      assertThat(kit.run(waits.number()).state()).as("its turn came").isNotEqualTo(RunState.QUEUED);
    }

    @Test
    void looksAgainBeforeItGoesOn() {
      Run run = paused(When.CLOSED);
      kit.production().row(BAND, row("PEAK", "7.00"));

      Run stopped = done(run, byHand(run).number());

      assertThat(stopped.state()).isEqualTo(RunState.STOPPED);
      assertThat(stopped.sentence()).contains("moved since the plan was agreed");
      assertThat(peak()).isEqualTo("7.00");
      assertThat(kit.host().maintenance).isFalse();
    }

    @Test
    void isTakenOverAndBothNamesStay() {
      Run run = paused(When.BEFORE);

      Run taken =
          kit.engine().runs().steering().takeOver(kit.bram, run.number(), "ines", "she sleeps");

      assertThat(taken.inCharge()).isEqualTo("bram");
      assertThat(taken.startedBy()).isEqualTo("ines");
      assertThat(taken.course().charges())
          .extracting(Course.Charge::reason)
          .containsExactly("she sleeps");
      refused(
          () -> kit.engine().runs().steering().takeOver(kit.ines, run.number(), "ines", "mine"),
          "TAKEN_OVER");
    }

    @Test
    void twoWhoTakeAStepDoNotBothGetIt() {
      Run run = paused(When.BEFORE);
      kit.engine().runs().steering().take(kit.bram, run.number(), 1, null);

      refused(() -> kit.engine().runs().steering().take(kit.ines, run.number(), 1, null), "TAKEN");

      assertThat(byHand(kit.run(run.number())).requireManual().takenBy()).isEqualTo("bram");
    }
  }

  @Nested
  class PausedByAPerson {
    private Run started() {
      kit.sealPeak("1.1.0", "25.00");
      return kit.start(kit.prepare("1.1.0"));
    }

    @Test
    void waitsBeforeItsNextStepAndGoesOn() {
      Run run = started();
      kit.engine().runs().steering().pause(kit.bram, run.number(), "the desk calls");
      kit.settleDown();
      Run paused = kit.run(run.number());

      assertThat(paused.state()).isEqualTo(RunState.PAUSED);
      assertThat(paused.pause().by()).isEqualTo("bram");
      kit.engine().runs().steering().resume(kit.ines, run.number());
      kit.settleDown();
      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
      assertThat(peak()).isEqualTo("25.00");
      refused(() -> kit.engine().runs().steering().resume(kit.ines, run.number()), "RUN_ENDED");
    }

    @Test
    void twoWhoLetItGoOnAreOne() {
      Run run = started();
      kit.engine().runs().steering().pause(kit.bram, run.number(), "wait");
      kit.settleDown();
      kit.engine().runs().steering().resume(kit.ines, run.number());

      refused(() -> kit.engine().runs().steering().resume(kit.bram, run.number()), "RUN_STATE");
      kit.settleDown();

      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
    }

    @Test
    void neverBetweenTargetsThatSwitch() {
      kit.hosts.at("development").put(RULE, rule("2"));
      Run run = started();
      kit.host()
          .script
          .once(
              At.SWITCHED,
              () -> kit.engine().runs().steering().pause(kit.bram, run.number(), "now"));
      kit.settleDown();
      Run paused = kit.run(run.number());

      assertThat(peak()).as("both have switched").isEqualTo("25.00");
      assertThat(paused.state()).isEqualTo(RunState.PAUSED);
      kit.engine().runs().steering().resume(kit.ines, run.number());
      kit.settleDown();
      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
      assertThat(kit.host().maintenance).isFalse();
    }
  }
}
