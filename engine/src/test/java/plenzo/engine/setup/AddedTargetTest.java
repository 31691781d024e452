package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** A site gets another target after a version was recorded there. */
class AddedTargetTest extends KitTest {
  @BeforeEach
  void adoptWithoutAHost() {
    Stage.Site whole = site();
    change(whole.targets().stream().filter(t -> !t.key().equals("host")).toList());
    kit.adopt("table/" + EngineKit.BAND, "records/" + EngineKit.BAND);
    change(whole.targets().stream().map(t -> t.key().equals("host") ? fresh(t) : t).toList());
    kit.engine().connections().testSite(kit.ines, SITE);
  }

  private static Stage.Target fresh(Stage.Target t) {
    return new Stage.Target(
        null, t.key(), t.sort(), t.schemas(), t.looking(), t.changing(), t.scratch());
  }

  private Stage.Site site() {
    return kit.engine().stages().get(kit.ines, SITE.stage()).site(SITE.site()).orElseThrow();
  }

  private void change(List<Stage.Target> targets) {
    kit.engine().stages().changeSite(kit.ines, SITE.stage(), new Stage.Site(SITE.site(), targets));
  }

  private Promotion prepared() {
    kit.sealPeak("1.1.0", "22.00");
    return kit.prepare("1.1.0");
  }

  @Test
  void hasNoMarkerAndTheFindingSaysWhatGivesItOne() {
    Promotion p = prepared();

    assertThat(kit.rules(p)).contains("BLOCKER wrong-identity");
    assertThat(p.findings())
        .filteredOn(f -> f.rule().equals("wrong-identity"))
        .extracting(Finding::advice)
        .singleElement()
        .asString()
        .contains("plenzo app match fares --site " + SITE);
  }

  @Test
  void isMarkedByMatchingWithWhatIsRecordedAndTakesAVersionThen() {
    var before = kit.record().placements();

    kit.engine().adoption().match(kit.ines, "fares", SITE, new SemVer("1.0.0"));

    assertThat(kit.record().placements()).isEqualTo(before);
    assertThat(kit.history().get(0).text()).contains("1.0.0 was recorded already");
    Promotion p = prepared();
    assertThat(kit.rules(p)).doesNotContain("BLOCKER wrong-identity");
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void anotherVersionThanTheRecordedOneIsRefusedAndMarksNothing() {
    kit.sealPeak("1.1.0", "22.00");

    assertThatThrownBy(
            () -> kit.engine().adoption().match(kit.ines, "fares", SITE, new SemVer("1.1.0")))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("already, with 1.0.0");
    assertThat(kit.rules(kit.prepare("1.1.0"))).contains("BLOCKER wrong-identity");
  }
}
