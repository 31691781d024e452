package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.row;

import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.history.HistoryEntry;
import plenzo.core.probe.Probe;
import plenzo.core.probe.Probe.Sort;
import plenzo.core.probe.WhenFailed;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Leg;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.Killed;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** What answers say before anybody is let in, and what a run does then. */
class ProbesTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.host().answers.put("q", "\"13.80\"");
    kit.probe("quote", "q", /* mustStay= */ true);
  }

  private void whenFailed(WhenFailed does) {
    kit.asks(Leg.open("production").failing(does));
  }

  /** The version comes, and the host answers otherwise from its switch on. */
  private Promotion prepared() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production().script.once(At.SWITCHED, () -> kit.host().answers.put("q", "\"138.00\""));
    return p;
  }

  /** The same, and the host answers as before again once it is gone back from. */
  private Promotion preparedToGoBack() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            At.SWITCHED,
            () -> {
              kit.host().answers.put("q", "\"138.00\"");
              kit.production()
                  .script
                  .once(At.SWITCHED, () -> kit.host().answers.put("q", "\"13.80\""));
            });
    return p;
  }

  private String peak() {
    return String.valueOf(kit.production().value(BAND, "PEAK", "amount"));
  }

  private static RunStep step(Run run, String name) {
    return run.steps().stream().filter(s -> s.name().equals(name)).findFirst().orElseThrow();
  }

  private Run last() {
    return kit.engine()
        .runs()
        .whole(kit.ines, plenzo.core.keeping.Kept.Filter.application("fares"))
        .items()
        .get(0);
  }

  @Test
  void lookLetsUsersInAndSaysSo() {
    Run run = kit.run(prepared());

    assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    assertThat(run.sentence()).contains("quote answers otherwise than before");
    assertThat(kit.host().maintenance).isFalse();
  }

  @Nested
  class ThatPause {
    private Run paused() {
      whenFailed(WhenFailed.PAUSE);
      return kit.run(prepared());
    }

    @Test
    void keepUsersOutAndCall() {
      Run run = paused();

      assertThat(run.state()).isEqualTo(RunState.PAUSED);
      assertThat(run.pause().why()).isEqualTo(Course.Why.ANSWERS);
      assertThat(run.pause().reason()).contains("quote answers otherwise than before");
      assertThat(kit.host().maintenance).isTrue();
      assertThat(kit.engine().standing().waiting(kit.ines))
          .anyMatch(w -> w.what().equals("let in or go back") && w.link().equals(run.shown()));
    }

    @Test
    void areAskedAgainWhenItGoesOn() {
      Run run = paused();
      kit.engine().runs().steering().resume(kit.ines, run.number());
      kit.settleDown();
      assertThat(kit.run(run.number()).state()).as("still not right").isEqualTo(RunState.PAUSED);

      kit.host().answers.put("q", "\"13.80\"");
      kit.engine().runs().steering().resume(kit.ines, run.number());
      kit.settleDown();

      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE);
      assertThat(kit.host().maintenance).isFalse();
    }

    @Test
    void areAskedNoMoreWhenAPersonLetsUsersIn() {
      Run run = paused();
      kit.engine().runs().steering().letIn(kit.bram, run.number(), "agreed with the desk");
      kit.settleDown();
      Run done = kit.run(run.number());

      assertThat(done.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(done.sentence())
          .contains("quote answers otherwise", "let in all the same by bram: agreed with the desk");
      assertThat(kit.host().maintenance).isFalse();
      assertThat(kit.record().condition()).isEqualTo(Condition.TO_LOOK_AT);
    }

    @Test
    void surviveARestart() {
      Run run = paused();
      kit.restart().recover();
      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.PAUSED);
      kit.engine().runs().steering().letIn(kit.bram, run.number(), "yes");
      kit.settleDown();
      assertThat(kit.run(run.number()).state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    }

    @Test
    void nobodyIsLetInWhereNoAnswerIsTheReason() {
      Run run = paused();
      kit.engine().runs().steering().end(kit.ines, run.number(), "back");
      kit.settleDown();
      assertThatThrownBy(() -> kit.engine().runs().steering().letIn(kit.bram, run.number(), "late"))
          .isInstanceOfSatisfying(
              Problem.class, e -> assertThat(e.code() + e.getMessage()).startsWith("RUN_ENDED"));
    }
  }

  @Nested
  class ThatGoBack {
    @BeforeEach
    void back() {
      whenFailed(WhenFailed.BACK);
    }

    private void isBack(Run from) {
      assertThat(from.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(step(from, "Open").state()).isEqualTo(RunStep.State.LEFT_OUT);
      Run back = last();
      Runs.UsersOut out = kit.engine().runs().usersOut(from);
      assertThat(out.now()).as("let in by the run that went back").isFalse();
      assertThat(out.until()).isEqualTo(back.usersInAgain().orElseThrow());
      assertThat(back.startedBy()).isEqualTo("plenzo");
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(peak()).isEqualTo("20.00");
      assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
      assertThat(kit.record().condition()).isEqualTo(Condition.ROLLED_BACK);
      assertThat(kit.host().maintenance).as("users are in again").isFalse();
      assertThat(kit.history())
          .extracting(HistoryEntry::event)
          .contains("going back by itself", "rollback prepared", "rolled back");
    }

    @Test
    void bringTheEarlierVersionBackBeforeAnybodyIsLetIn() {
      Run from = kit.run(preparedToGoBack());

      isBack(kit.run(from.number()));
    }

    /** The service dies where the way back prepares, switches, or has switched. */
    @ParameterizedTest
    @EnumSource(
        value = At.class,
        names = {"PREPARE", "SWITCH", "SWITCHED"})
    void isWhollyThereOrWhollyBackWhenTheServiceIsKilledInTheMiddle(At at) {
      kit.sealPeak("1.1.0", "25.00");
      Promotion p = kit.prepare("1.1.0");
      kit.production()
          .script
          .once(
              At.SWITCHED,
              () -> {
                kit.host().answers.put("q", "\"138.00\"");
                kit.production().script.killAt(at);
              });
      Run run = kit.start(p);
      assertThatThrownBy(kit::settleDown).isInstanceOf(Killed.class);
      kit.host().answers.put("q", "\"13.80\"");

      kit.restart().recover();

      Run back = last();
      boolean came = back.state() == RunState.DONE;
      assertThat(back.number()).isGreaterThan(run.number());
      assertThat(came).as(back.sentence()).isEqualTo(at == At.SWITCHED);
      assertThat(peak()).isEqualTo(came ? "20.00" : "25.00");
      assertThat(kit.record().present()).isEqualTo(new SemVer(came ? "1.0.0" : "1.1.0"));
      assertThat(kit.recover()).as("nothing is left to do").isZero();
      assertThat(last().number()).as("and nothing begins anew").isEqualTo(back.number());
    }

    @Test
    void isDoneByTheNextServiceWhenThisOneDiesBeforeTheWayBackIsOpened() {
      Run run = kit.start(preparedToGoBack());
      kit.host()
          .script
          .once(At.PROBE, () -> {}) // before
          .once(At.PROBE, () -> kit.production().script.killAt(At.LOOK));

      assertThatThrownBy(kit::settleDown).isInstanceOf(Killed.class);
      assertThat(last().number()).as("no way back was opened yet").isEqualTo(run.number());
      kit.restart().recover();

      isBack(kit.run(run.number()));
    }

    @Test
    void leaveItToPeopleWhereRowsWouldBeLostThatNoYesCovers() {
      Promotion p = prepared();
      kit.host()
          .script
          .once(At.PROBE, () -> {}) // before
          .once(At.PROBE, () -> kit.production().row(BAND, row("PEAK", "26.00")));

      Run run = kit.run(p);
      Run from = kit.run(run.number());

      assertThat(last().number()).as("nothing went back").isEqualTo(run.number());
      assertThat(from.sentence()).contains("Could not go back by itself:");
      assertThat(kit.engine().runs().usersOut(from)).isEqualTo(new Runs.UsersOut(true, null));
      assertThat(peak()).isEqualTo("26.00");
      assertThat(kit.host().maintenance).as("nobody is let in").isTrue();
      assertThat(kit.record().closedBy()).isEqualTo(run.shown());
    }

    @Test
    void aWayBackNeverGoesBackByItself() {
      Run from = kit.run(prepared());
      kit.settleDown(); // the answer stays otherwise after it, too
      Run back = last();

      assertThat(back.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
      assertThat(back.sentence())
          .as("compared with the answer of before the run that it takes back")
          .contains("quote answers otherwise than before");
      assertThat(back.number()).isEqualTo(from.number() + 1);
      assertThat(peak()).isEqualTo("20.00");
    }
  }

  @Test
  void whatAFailedAnswerDoesIsCoveredByAYesAndTheQuestionsWithIt() {
    whenFailed(WhenFailed.BACK);
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    String plan = p.requirePlan().fingerprint().shown();
    kit.probe("other", "r", /* mustStay= */ false);
    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();

    assertThat(kit.promotion(p.number()).requirePlan().fingerprint().shown()).isNotEqualTo(plan);
  }

  /** What is asked, what is expected, and whether the run has something to look at. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      value = {
        "QUERY | fares.band PEAK amount | '\"25.00\"' | false",
        "QUERY | fares.band PEAK amount | '\"20.00\"' | true",
        "QUERY | fares.band NONE amount | '\"1\"'     | true",
        "PAGE  | https://{site}.example/{stage} | ok  | false",
        "PAGE  | https://{site}.example/{stage} | bad | true",
        "PAGE  | https://elsewhere.example      | ok  | true",
        "FILE  | fares/a.txt                    | ok  | false"
      })
  void questionsGoToDatabasesAndPagesToo(
      Sort sort, String question, @Nullable String expected, boolean looks) {
    kit.pages.put("https://main.example/production", "<p>ok</p>");
    kit.probe(new Probe("other", question, /* mustStay= */ false, sort, expected));
    kit.sealPeak("1.1.0", "25.00");

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(looks ? RunState.DONE_TO_LOOK_AT : RunState.DONE);
    if (looks) {
      assertThat(run.sentence()).contains("other ");
    }
    boolean asked = sort != Sort.FILE; // the site has no directory
    assertThat(run.answers().after().containsKey("other")).isEqualTo(asked);
  }
}
