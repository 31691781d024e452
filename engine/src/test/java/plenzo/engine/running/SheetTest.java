package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.inventory.Uncarried;
import plenzo.core.person.Right;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.Sheet;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** What stands at a site after a run, written down from the look that read it back. */
class SheetTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealPeak("1.1.0", "25.00");
  }

  private Sheet sheet(Run run) {
    return kit.engine().runs().sheet(kit.ines, run.number());
  }

  private static Sheet.Line line(Sheet s, String component) {
    return s.lines().stream()
        .filter(l -> l.component().equals(component))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void saysOfEachComponentWhatWasPlannedAndWhatIsThere() {
    Sheet s = sheet(kit.bring("1.1.0"));

    assertThat(s.asPlanned()).isTrue();
    assertThat(s.lines())
        .extracting(Sheet.Line::component)
        .containsExactly("records/" + BAND, RULE);
    Sheet.Line band = line(s, "records/" + BAND);
    assertThat(band.planned()).isEqualTo("1 changed");
    assertThat(band.found()).isEqualTo("2 rows");
    assertThat(band.where()).isEqualTo("production/main database");
    assertThat(band.asPlanned()).isTrue();
    assertThat(line(s, RULE).planned()).isEqualTo("changed");
    assertThat(line(s, RULE).found()).isEqualTo("there");
    assertThat(line(s, RULE).active()).as("a rule is on or off").isNotNull();
  }

  @Test
  void whatSomebodyWroteBehindTheSwitchStandsAtItsComponent() {
    kit.production()
        .script
        .once(At.SWITCHED, () -> kit.production().row(BAND, row("PEAK", "99.00")));

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE_TO_LOOK_AT);
    Sheet s = sheet(run);
    assertThat(s.asPlanned()).isFalse();
    assertThat(line(s, "records/" + BAND).asPlanned()).isFalse();
    assertThat(line(s, RULE).asPlanned()).isTrue();
  }

  @Test
  void whatIsNotCarriedIsNamed() {
    kit.production().uncarried(new Uncarried(Uncarried.Sort.VIEW, "fares.cheap", null, "digest"));
    kit.engine().promotions().compareAgain(kit.ines, kit.prepare("1.1.0").number());
    kit.settleDown();

    Sheet s = sheet(kit.run(kit.promotion(1)));

    assertThat(s.uncarried()).containsExactly("view fares.cheap");
  }

  @Test
  void ofASiteThatCouldNotBeReadBackThereIsNone() {
    kit.production().script.once(At.SWITCHED, () -> kit.host().script.fallSilent());
    Run run = kit.bring("1.1.0");
    kit.host().script.wake();

    assertThatThrownBy(() -> sheet(run))
        .hasMessageContaining(run.shown() + " did not read its site back");
  }

  @Test
  void isForThoseWhoMayLookThere() {
    Run run = kit.bring("1.1.0");

    assertThatThrownBy(
            () -> kit.engine().runs().sheet(EngineKit.person("odile", Right.AUDIT), run.number()))
        .hasMessageContaining("no run");
  }
}
