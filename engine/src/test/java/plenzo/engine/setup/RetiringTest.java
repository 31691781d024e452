package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;

import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.drift.PutBack;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Way;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** An application is taken out of use for good; nothing of it is removed. */
class RetiringTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
  }

  private void retire() {
    kit.engine().retiring().retire(kit.ines, "fares", "Replaced", null);
  }

  private static void refused(ThrowingCallable act, String code) {
    assertThatThrownBy(act)
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo(code));
  }

  @Test
  void saysWhatStaysBeforeIt() {
    Retiring.Cost cost = kit.engine().retiring().cost(kit.ines, "fares");

    assertThat(cost.open()).isEmpty();
    assertThat(cost.holds()).containsExactly(new Retiring.Holds(SITE.toString(), "1.1.0"));
    assertThat(cost.versions()).isEqualTo(2);
  }

  @Test
  void waitsUntilWhatIsOpenIsOver() {
    String draft = kit.engine().drafts().start(kit.ines, "fares", new SemVer("1.1.0")).id();
    Promotion p = kit.prepare("1.0.0");

    assertThat(kit.engine().retiring().cost(kit.ines, "fares").open())
        .containsExactlyInAnyOrder(draft, p.shown());
    refused(this::retire, "STILL_OPEN");
    assertThat(kit.engine().applications().get(kit.ines, "fares").retired()).isNull();
  }

  @Test
  void nothingNewComesOfItAfterwards() {
    retire();

    assertThat(kit.history().get(0).event()).isEqualTo("application retired");
    assertThat(kit.history().get(0).text()).isEqualTo("Replaced");
    SemVer newest = new SemVer("1.1.0");
    SiteKey site = SITE;
    Person ines = kit.ines;
    refused(() -> kit.engine().drafts().start(ines, "fares", newest), "RETIRED");
    refused(() -> kit.engine().promotions().prepare(ines, "fares", newest, site, ""), "RETIRED");
    refused(
        () -> kit.engine().promotions().putBack(ines, "fares", site, PutBack.ALL, ""), "RETIRED");
    refused(() -> kit.engine().promotions().giveValues(ines, "fares", site, ""), "RETIRED");
    refused(() -> kit.engine().adoption().match(ines, "fares", site, newest), "RETIRED");
    refused(this::retire, "RETIRED");
  }

  /** There is always a way back while the target can be reached. */
  @Test
  void oneStillGoesBack() {
    retire();

    assertThat(kit.run(kit.back(Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
  }

  @Test
  void itStandsInNoLineAndCanBeRead() {
    retire();

    assertThat(kit.engine().standing().lines(kit.ines)).isEmpty();
    int versions = kit.read(kept -> kept.versions().list("fares").size());
    assertThat(versions).isEqualTo(2);
  }

  @Test
  void needsTheRightToAdministerAndAReason() {
    refused(
        () ->
            kit.engine()
                .retiring()
                .retire(EngineKit.person("tove", Right.LOOK), "fares", "Replaced", null),
        "NOT_ALLOWED");
    refused(() -> kit.engine().retiring().retire(kit.ines, "fares", " ", null), "REASON");
  }
}
