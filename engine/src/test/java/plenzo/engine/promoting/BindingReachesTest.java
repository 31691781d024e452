package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.drift.PutBack;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.version.SemVer;
import plenzo.engine.binding.Bindings;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** A value that a site gives reaches its host, also when no definition changes beside it. */
class BindingReachesTest extends KitTest {

  @BeforeEach
  void world() {
    kit.adopt();
    kit.hosts.at("development").put(RULE, rule("2", "gate"));
    kit.seal("1.1.0");
    bind("https://one.example", 0);
    kit.bring("1.1.0");
  }

  private void bind(String value, int expected) {
    kit.engine()
        .bindings()
        .bind(
            kit.ines,
            new Bindings.Place("fares", "production", "", "gate"),
            value,
            /* secret= */ false,
            null,
            expected);
  }

  private int revision() {
    return kit.engine().bindings().set(kit.ines, "fares", "production").get(0).revision();
  }

  @Test
  void beforeAnythingElseChanges() {
    assertThat(kit.host().inputs).containsEntry("gate", "https://one.example");
    bind("https://two.example", revision());

    Promotion p = kit.prepare("1.1.0");
    assertThat(kit.rules(p)).noneMatch(r -> r.endsWith("nothing-to-do"));
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);

    assertThat(kit.host().inputs).containsEntry("gate", "https://two.example");
  }

  @Test
  void withARunThatChangesRowsAlone() {
    bind("https://two.example", revision());
    kit.sealPeak("1.2.0", "25.00");

    assertThat(kit.bring("1.2.0").state()).isEqualTo(RunState.DONE);

    assertThat(kit.host().inputs).containsEntry("gate", "https://two.example");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
  }

  @Test
  void isNotSaidToBeGivenByARunThatDidNotCome() {
    bind("https://two.example", revision());
    kit.host().script.killAt(At.SWITCH);
    long run = kit.bringUntilKilled("1.1.0");
    kit.restart().recover();
    assertThat(kit.run(run).state()).isEqualTo(RunState.STOPPED);

    assertThat(kit.run(kit.prepare("1.1.0")).state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().inputs).containsEntry("gate", "https://two.example");
  }

  private List<Bindings.Given> given() {
    return kit
        .engine()
        .bindings()
        .list(kit.ines, "fares", EngineKit.SITE, new SemVer("1.1.0"))
        .stream()
        .map(Bindings.State::given)
        .toList();
  }

  /** Values alone are a plan: what gets which, and nothing else moves, drift least of all. */
  @Test
  void byAPlanOfItsOwnThatMovesNothingElse() {
    bind("https://two.example", revision());
    kit.production().row(BAND, row("DAY", "11.00"));
    assertThat(given()).containsExactly(Bindings.Given.WAITING);

    Promotion p = kit.giveValues();

    assertThat(p.gives())
        .singleElement()
        .satisfies(
            g -> {
              assertThat(g.input()).isEqualTo("gate");
              assertThat(g.from()).isEqualTo("production");
              assertThat(g.shown()).isEqualTo("https://two.example");
              assertThat(g.anew()).isTrue();
            });
    assertThat(p.requirePlan().waysBack())
        .singleElement()
        .satisfies(
            w -> {
              assertThat(w.way()).isEqualTo(Plan.Way.EARLIER_VALUES);
              assertThat(w.possible()).isTrue();
            });
    int placements = kit.record().placements().size();
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().inputs).containsEntry("gate", "https://two.example");
    assertThat(kit.production().value(BAND, "DAY", "amount")).isEqualTo("11.00");
    assertThat(given()).containsExactly(Bindings.Given.GIVEN);
    assertThat(kit.record().placements()).as("no version came").hasSize(placements);
    assertThat(kit.record().drift()).as("and what differs is known").isEqualTo(1);
    assertThat(kit.history().get(0).event()).isEqualTo("values given");
    assertThat(kit.way(Plan.Way.EARLIER_VERSION).possible()).isTrue();
  }

  /** The host holds the old password until a run gives it the new one. */
  @Test
  void againWhenTheConnectionThatIsNamedGotAnotherSecret() {
    kit.lend("terminal", "one");
    kit.engine()
        .bindings()
        .bind(
            kit.ines,
            new Bindings.Place("fares", "production", "", "gate"),
            null,
            /* secret= */ false,
            "terminal",
            revision());
    kit.run(kit.giveValues());
    assertThat(kit.host().inputs).containsEntry("gate.secret", "one");
    assertThat(given()).containsExactly(Bindings.Given.GIVEN);

    kit.lend("terminal", "two");

    assertThat(given()).containsExactly(Bindings.Given.WAITING);
    assertThat(kit.run(kit.giveValues()).state()).isEqualTo(RunState.DONE);
    assertThat(kit.host().inputs).containsEntry("gate.secret", "two");
    assertThat(given()).containsExactly(Bindings.Given.GIVEN);
  }

  /** What a connection got after it was taken back is nobody's who had it on loan. */
  @Test
  void isNotGivenOfAConnectionThatIsLentNoMore() {
    kit.lend("terminal", "one");
    kit.engine()
        .bindings()
        .bind(
            kit.ines,
            new Bindings.Place("fares", "production", "", "gate"),
            null,
            /* secret= */ false,
            "terminal",
            revision());
    kit.run(kit.giveValues());

    kit.lend("terminal", "two", List.of());

    assertThat(kit.rules(kit.giveValues())).contains("BLOCKER input-unfit");
    kit.sealPeak("1.2.0", "25.00");
    assertThat(kit.rules(kit.prepare("1.2.0")))
        .as("nor with a version that brings nothing that needs it")
        .contains("BLOCKER input-unfit");
    assertThat(kit.host().inputs).containsEntry("gate.secret", "one");
  }

  @Test
  void nothingIsKeptOfWhatARunWouldHaveGivenThatDidNotCome() {
    bind("https://two.example", revision());
    kit.host().script.killAt(At.SWITCH);
    long run = kit.bringUntilKilled("1.1.0");
    kit.restart().recover();
    assertThat(kit.run(run).state()).isEqualTo(RunState.STOPPED);

    boolean kept = kit.read(k -> k.secrets().find("given/R-" + run).isPresent());
    assertThat(kept).isFalse();
  }

  @Test
  void noPlanOfItsOwnWhereNothingWaits() {
    assertThat(kit.rules(kit.giveValues())).contains("BLOCKER nothing-to-do");
  }

  @Test
  void whatMovedNamesTheInputAndNotItsValue() {
    bind("https://two.example", revision());
    Promotion p = kit.giveValues();
    bind("https://three.example", revision());

    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();

    assertThat(kit.promotion(p.number()).moved()).containsExactly("The value of gate was set anew");
  }

  @Test
  void isNotSaidToBeGivenByAPutBackThatGaveNothing() {
    bind("https://two.example", revision());
    kit.hosts.at("production").put(RULE, rule("7", "gate"));

    assertThat(kit.run(kit.putBack(PutBack.ALL)).state()).isEqualTo(RunState.DONE);

    assertThat(given()).containsExactly(Bindings.Given.WAITING);
    assertThat(kit.host().inputs).containsEntry("gate", "https://one.example");
  }

  @Test
  void andIsNothingToDoOnceItIsThere() {
    Promotion p = kit.prepare("1.1.0");

    assertThat(kit.rules(p)).contains("NOTE nothing-to-do");
  }
}
