package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Journal;
import plenzo.core.run.RunState;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.CallOrder.Callee;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** What somebody reads who is woken by a run. */
class NightTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.tell();
    kit.engine()
        .calls()
        .say(
            kit.ines,
            new CallOrder(SITE.stage(), List.of(new Callee("bram", "+47 555 0142", 10)), 0));
  }

  private Night.Told told(long run) {
    return kit.engine().night().tell(kit.ines, run);
  }

  private List<Journal.Holds> holds(long run) {
    return told(run).targets().stream().map(Night.Held::holds).toList();
  }

  private Promotion both() {
    kit.development().row(BAND, row("PEAK", "25.00"));
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.seal("1.1.0");
    return kit.prepare("1.1.0");
  }

  @Test
  void whatIsDoneIsNewEverywhereAndTheWaysBackSayWhatTheyLose() {
    long run = kit.run(both()).number();

    Night.Told told = told(run);
    assertThat(told.run().state()).isEqualTo(RunState.DONE);
    assertThat(holds(run)).containsOnly(Journal.Holds.NEW).hasSize(2);
    assertThat(told.ways()).anyMatch(w -> w.possible() && w.words().startsWith("to 1.0.0: "));
    assertThat(told.users()).startsWith("Users are in");
    assertThat(told.hands())
        .extracting(Night.Hand::login, Night.Hand::how)
        .startsWith(org.assertj.core.groups.Tuple.tuple("bram", "+47 555 0142"));
    assertThat(told.hands()).extracting(Night.Hand::login).contains("ines");
  }

  @Test
  void whatChangedNothingIsOldAndSaysWhoWasCalled() {
    Promotion p = both();
    kit.production().row(BAND, row("PEAK", "99.00"));
    long run = kit.run(p).number();
    kit.tell();

    assertThat(holds(run)).containsOnly(Journal.Holds.OLD);
    Night.Told told = told(run);
    assertThat(told.called()).hasSize(1).allMatch(c -> c.contains("bram not by mail"));
    assertThat(Night.text(told))
        .containsSubsequence(
            "R-" + run + " fares 1.1.0 at production/main: stopped, nothing changed",
            "Users are in",
            "What each target holds:",
            "old: 1.0.0",
            "On: ",
            "Back:",
            "Who may act:",
            "bram: +47 555 0142",
            "Called: CL-1 open");
  }

  @Test
  void whileItIsNotEndedNoWayBackIsPromised() {
    Promotion p = both();
    kit.start(p);

    Night.Told told = told(1);
    assertThat(told.ways()).isEmpty();
    assertThat(told.noWays()).startsWith("R-1 has not ended");
    assertThat(Night.words(Journal.Holds.UNKNOWN, told.run()))
        .isEqualTo("unknown: it has not said yet");
  }

  @Test
  void itIsForWhoMayLookThere() {
    long run = kit.run(both()).number();

    assertThatThrownBy(() -> kit.engine().night().tell(EngineKit.person("odile", Right.AUDIT), run))
        .isInstanceOf(Problem.class);
  }
}
