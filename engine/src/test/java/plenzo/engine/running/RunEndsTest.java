package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** What a run says in the end is what is there. */
class RunEndsTest extends KitTest {

  @BeforeEach
  void world() {
    kit.adopt();
  }

  private String peak() {
    return String.valueOf(kit.production().value(BAND, "PEAK", "amount"));
  }

  private RunStep step(Run run, String name) {
    return run.steps().stream().filter(s -> s.name().startsWith(name)).findFirst().orElseThrow();
  }

  @Test
  void bringsRowsAndDefinitionsAndSaysSo() {
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(run.sentence()).isEqualTo("1.1.0 is at production/main.");
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("2"));
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.record().condition()).isEqualTo(Condition.GOOD);
    assertThat(kit.host().maintenance).isFalse();
    assertThat(kit.production().prepared()).isFalse();
    assertThat(kit.history().get(0).event()).isEqualTo("run done");
  }

  @Test
  void whatTheSwitchLeftIsLookedAtAgainAfterAKillInBetween() {
    kit.production().unfinished.add("fares.band: 2 rows do not hold band_in");
    kit.sealPeak("1.1.0", "25.00");
    kit.production().script.killAt(At.FINISH);
    long run = kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    assertThat(kit.production().script.calls(At.FINISH)).isEqualTo(2);
    assertThat(peak()).isEqualTo("25.00");
    assertThat(kit.run(run).state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(kit.run(run).sentence()).contains("To look at: fares.band: 2 rows");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
  }

  @Test
  void whatCouldNotBeLookedAtIsSaid() {
    kit.sealPeak("1.1.0", "25.00");
    kit.production().script.loseAt(At.FINISH);

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(run.sentence())
        .contains("To look at: What the switch left to be looked at was not looked at");
    assertThat(step(run, "Read back").note()).startsWith("What is there is what was planned");
  }

  /** Where a kill falls, and what the site must then hold. */
  @ParameterizedTest
  @EnumSource(
      value = At.class,
      names = {"PREPARE", "SWITCH", "SWITCHED"})
  void isWhollyOldOrWhollyNewAfterAKill(At at) {
    kit.sealPeak("1.1.0", "25.00");
    kit.production().script.killAt(at);
    long run = kit.bringUntilKilled("1.1.0");

    assertThat(kit.restart().recover()).isZero();

    boolean there = at == At.SWITCHED;
    assertThat(peak()).isEqualTo(there ? "25.00" : "20.00");
    assertThat(kit.run(run).state()).isEqualTo(there ? RunState.DONE : RunState.STOPPED);
    assertThat(kit.record().present()).isEqualTo(new SemVer(there ? "1.1.0" : "1.0.0"));
    assertThat(kit.host().maintenance).as("everybody is let in").isFalse();
    assertThat(kit.production().prepared()).isFalse();
    assertThat(kit.recover()).as("nothing is left to do").isZero();
  }

  @Test
  void switchesBackWhatHadSwitchedWhenTheNextRefuses() {
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production().script.once(At.SWITCH, () -> kit.production().row(BAND, row("PEAK", "7.00")));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.PUT_BACK);
    assertThat(run.sentence()).contains("records/fares.band row PEAK");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("1"));
    assertThat(peak()).as("the other's value stays").isEqualTo("7.00");
    assertThat(kit.host().maintenance).isFalse();
  }

  @Test
  void isHalfWrittenWhenWhatSwitchedWasTouchedSince() {
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            At.SWITCH,
            () -> {
              kit.host().put(RULE, rule("9"));
              kit.production().row(BAND, row("PEAK", "7.00"));
            });

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.HALF_WRITTEN);
    assertThat(kit.record().condition()).isEqualTo(Condition.HALF_WRITTEN);
    assertThat(kit.record().closedBy())
        .as("maintenance stays on, and that is said")
        .isEqualTo(run.shown());
    assertThat(kit.host().maintenance).isTrue();
    assertThat(run.sentence()).contains("Maintenance stays on");
  }

  /** The outcome is unknown: the switch was done and its answer lost, then nothing answers. */
  private long unknown() {
    kit.sealPeak("1.1.0", "25.00");
    kit.production()
        .script
        .once(
            At.SWITCHED,
            () -> {
              kit.production().script.fallSilent();
              kit.production().script.call(At.LOOK);
            });
    Run run = kit.bring("1.1.0");
    assertThat(run.state()).isEqualTo(RunState.RUNNING);
    assertThat(run.steps()).anyMatch(s -> s.state() == RunStep.State.UNKNOWN);
    return run.number();
  }

  @Nested
  class WhileItsOutcomeIsUnknown {
    @Test
    void itIsSettledByItsOwnPlanWhenATargetHasAnotherName() {
      long run = unknown();
      kit.rename("database", "main-database");
      kit.production().script.wake();

      assertThat(kit.restart().recover()).isZero();

      assertThat(kit.run(run).state()).isEqualTo(RunState.DONE);
      assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
      assertThat(peak()).isEqualTo("25.00");
    }

    @Test
    void theSetUpThatItStandsOnStays() {
      unknown();
      Stage old = kit.engine().stages().get(kit.ines, SITE.stage());

      assertThatThrownBy(
              () ->
                  kit.engine()
                      .stages()
                      .save(
                          kit.ines,
                          EngineKit.with(old, List.of(old.sites().get(0).targets().get(1)))))
          .isInstanceOfSatisfying(
              Problem.class, e -> assertThat(e.code()).isEqualTo("RUN_STANDS_ON_IT"));
      assertThatThrownBy(
              () ->
                  kit.engine()
                      .connections()
                      .save(
                          kit.ines,
                          EngineKit.connection(
                              "production",
                              "database",
                              "postgresql",
                              "elsewhere",
                              kit.read(k -> k.connections().find("production/database"))
                                  .orElseThrow()
                                  .revision()),
                          null))
          .isInstanceOfSatisfying(
              Problem.class, e -> assertThat(e.code()).isEqualTo("RUN_STANDS_ON_IT"));
    }

    @Test
    void oneThatCannotBeRecoveredKeepsNoOtherFromIt() {
      long run = unknown();
      // records of an earlier Plenzo may hold a set-up that it let go
      kit.write(
          kept -> {
            Stage old = kept.stages().find("production").orElseThrow();
            kept.stages()
                .replace(EngineKit.with(old, List.of(old.sites().get(0).targets().get(1))));
            return null;
          });
      kit.production().script.wake();

      assertThat(kit.restart().recover()).isEqualTo(1);
      assertThat(kit.run(run).state()).as("never guessed").isEqualTo(RunState.RUNNING);
      assertThat(kit.run(run).steps())
          .anyMatch(
              s ->
                  s.state() == RunStep.State.UNKNOWN
                      && String.valueOf(s.note()).contains("production/main/database"));
    }

    @Test
    void anotherTargetThatAnswersIsNotBelieved() {
      long run = unknown();
      kit.production().script.wake();
      kit.write(
          kept -> {
            var c = kept.connections().find("production/database").orElseThrow();
            var other = EngineKit.connection("production", "database", "postgresql", "development");
            kept.connections()
                .replace(
                    new plenzo.core.stage.Connection(
                        other.stage(),
                        other.name(),
                        other.sort(),
                        other.host(),
                        other.port(),
                        other.database(),
                        "",
                        other.account(),
                        "disable",
                        java.util.Map.of(),
                        List.of(),
                        true,
                        c.secretSetAt(),
                        c.secretSetBy(),
                        c.test(),
                        c.revision()));
            return null;
          });

      assertThat(kit.restart().recover()).isEqualTo(1);
      assertThat(kit.run(run).state()).isEqualTo(RunState.RUNNING);
    }
  }

  @Nested
  class WithRecordsOfAnEarlierDay {
    private Path earlier;

    @BeforeEach
    void runOnceMoreThanTheyKnow() {
      kit.sealPeak("1.1.0", "25.00");
      kit.prepare("1.1.0");
      earlier = kit.copyOfRecords(folder.resolve("earlier.mv.db"));
      kit.run(kit.promotion(1));
      kit.restart(earlier);
    }

    @Test
    void nothingIsPreparedOrStartedThere() {
      Promotion p = kit.promotion(1);
      assertThat(p.state()).as("as it was that day").isEqualTo(PromotionState.AGREED);

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.STOPPED);
      assertThat(run.sentence()).contains("Nothing was changed");
      assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
      assertThat(kit.rules(kit.promotion(1))).contains("BLOCKER records-older");
    }

    @Test
    void aLookSaysSo() {
      assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).older()).isEqualTo(1);
      assertThat(kit.history().get(0).event()).isEqualTo("records are older");
    }

    @Test
    void oneWhoAnswersForItCatchesUp() {
      kit.engine().recordsAge().catchUp(kit.ines);

      assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).older()).isZero();
      kit.engine().promotions().compareAgain(kit.ines, 1);
      kit.settleDown();
      assertThat(kit.rules(kit.promotion(1))).doesNotContain("BLOCKER records-older");
      Run run = kit.run(kit.promotion(1));
      assertThat(run.number()).as("numbers go on behind what ran").isEqualTo(2);
    }
  }

  @Test
  void aRunOfTheSameNumberWithAnotherPlanIsNotTakenForItsOwn() {
    // somebody else's run R-1 was there: its mark is in the target, and no record knows it
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            At.SWITCH,
            () -> {
              kit.production().marks.foreign(1, "f".repeat(64));
              throw new plenzo.engine.kit.Killed("in the switch");
            });
    kit.start(p);
    try {
      kit.settleDown();
    } catch (plenzo.engine.kit.Killed e) {
      kit.restart();
    }

    assertThat(kit.recover()).isZero();

    assertThat(kit.run(1).state()).isEqualTo(RunState.STOPPED);
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
    assertThat(peak()).isEqualTo("20.00");
  }

  @Nested
  class Answers {
    @BeforeEach
    void question() {
      kit.probe("quote", "q", /* mustStay= */ true);
      kit.host().answers.put("q", "{\"amount\":\"13.80\"}");
    }

    @Test
    void areAsExpectedWhenBothWereGivenAndEqual() {
      kit.sealPeak("1.1.0", "25.00");
      Run run = kit.bring("1.1.0");

      assertThat(run.state()).isEqualTo(RunState.DONE);
      assertThat(step(run, "Ask after").note()).isEqualTo("The answer is as expected");
    }

    /** What changes nothing cannot change an answer, and none was asked for before it. */
    @Test
    void areNotAskedForWhenNothingChanges() {
      kit.seal("1.1.0");

      Run run = kit.bring("1.1.0");

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(step(run, "Ask before").state()).isEqualTo(RunStep.State.LEFT_OUT);
      assertThat(step(run, "Ask after").state()).isEqualTo(RunStep.State.LEFT_OUT);
      assertThat(step(run, "Read back").state()).isEqualTo(RunStep.State.DONE);
    }

    @Test
    void areComparedWithThoseOfBeforeAKill() {
      kit.sealPeak("1.1.0", "25.00");
      kit.production().script.killAt(At.SWITCHED);
      long number = kit.bringUntilKilled("1.1.0");
      kit.host().answers.put("q", "{\"amount\":\"138.00\"}");

      kit.restart().recover();

      Run run = kit.run(number);
      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence())
          .contains("answers otherwise than before: amount")
          .as("answers are values")
          .doesNotContain("13.80")
          .doesNotContain("138.00");
      assertThat(run.answers().before().get("quote").text()).contains("13.80");
      assertThat(run.answers().after().get("quote").text()).contains("138.00");
      assertThat(kit.engine().runs().log(kit.ines, number))
          .contains("Asked \"quote\": answered")
          .doesNotContain("138.00");
    }

    @Test
    void thatWereNotGivenBeforeAreNotExpected() {
      kit.host().answers.remove("q");
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production()
          .script
          .once(At.SWITCH, () -> kit.host().answers.put("q", "{\"amount\":\"13.80\"}"));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence()).contains("was not answered before");
    }

    @Test
    void thatAreNotGivenAfterAreSomethingToLookAt() {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production().script.once(At.SWITCH, () -> kit.host().answers.remove("q"));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence()).contains("quote was not answered");
    }
  }

  @Nested
  class ReadBack {
    @Test
    void thatCannotBeDoneIsNobodysWriting() {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production().script.once(At.SWITCHED, () -> kit.production().script.loseAt(At.LOOK));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence())
          .contains("The site could not be read back")
          .contains("was not compared")
          .doesNotContain("wrote");
      assertThat(kit.record().condition()).isEqualTo(Condition.NOT_REACHABLE);
    }

    @Test
    void namesWhatWasChangedAfterTheSwitch() {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production()
          .script
          .once(At.SWITCHED, () -> kit.production().row(BAND, row("PEAK", "99.00")));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence()).contains("records/fares.band: 1 row").contains("changed after it");
      assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
    }

    @Test
    void namesWhatElseStandsThereOtherwiseThanForeseen() {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production()
          .script
          .once(
              At.SWITCHED,
              () ->
                  kit.production()
                      .uncarried(
                          new plenzo.core.inventory.Uncarried(
                              plenzo.core.inventory.Uncarried.Sort.TRIGGER,
                              "audit",
                              plenzo.core.component.TableName.of(BAND),
                              "t")));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(run.sentence())
          .contains("trigger audit of fares.band is there and was not foreseen");
    }

    @Test
    void leavesAlonePeoplesRowsThatThePlanDidNotTouch() {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production()
          .script
          .once(At.SWITCHED, () -> kit.production().row(BAND, row("NIGHT", "5.00")));

      Run run = kit.run(p);

      assertThat(run.state()).isEqualTo(RunState.DONE);
      assertThat(kit.record().condition()).isEqualTo(Condition.GOOD);
    }
  }

  @Test
  void keepsTheDriftThatItFindsAndThatThePlanLeft() {
    kit.production().row(BAND, row("DAY", "11.00"));
    kit.engine().drift().look(kit.ines, "fares", SITE);
    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
    kit.sealPeak("1.1.0", "25.00");

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).as("the plan said that it stays").isEqualTo(RunState.DONE);
    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
    assertThat(kit.record().drift()).isEqualTo(1);
    assertThat(kit.record().look().examples()).containsExactly("records/fares.band#row/\"DAY\"");
  }

  @Test
  void aLookThatCannotReachTheSiteSaysSo() {
    kit.production().script.fallSilent();

    kit.engine().drift().look(kit.ines, "fares", SITE);

    assertThat(kit.record().condition()).isEqualTo(Condition.NOT_REACHABLE);
    assertThat(kit.record().look().reachable()).isFalse();
  }

  @Test
  void abortingStopsItUnchanged() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(At.PREPARE, () -> kit.engine().runs().abort(kit.ines, 1, "second thoughts"));

    Run run = kit.run(p);

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).isEqualTo("Aborted by ines; nothing was changed.");
    assertThat(peak()).isEqualTo("20.00");
    assertThat(kit.production().prepared()).isFalse();
  }

  @Test
  void letsEverybodyInAgainAlsoWhenTheHostIsSilentAtFirst() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            At.SWITCH,
            () -> {
              kit.production().row(BAND, row("PEAK", "7.00"));
              kit.host().script.fallSilent();
            });

    Run run = kit.run(p);

    assertThat(run.state()).as("not ended while people are shut out").isEqualTo(RunState.RUNNING);
    kit.host().script.wake();
    assertThat(kit.recover()).isZero();
    assertThat(kit.run(run.number()).state()).isEqualTo(RunState.STOPPED);
    assertThat(kit.host().maintenance).isFalse();
  }
}
