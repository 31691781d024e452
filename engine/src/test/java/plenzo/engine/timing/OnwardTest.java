package plenzo.engine.timing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.calendar.Errand;
import plenzo.core.calendar.Repeat;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Onward;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Versions that go on without anybody starting that: link by link, and again and again. */
class OnwardTest extends KitTest {
  private static final Onward RUN = new Onward(Onward.How.RUN, "somebody else");
  private static final Onward PREPARED = new Onward(Onward.How.PREPARED, "somebody else");

  @BeforeEach
  void world() {
    kit.adopt();
    due(); // what was before the chain began to read is followed by nothing
  }

  /** What the service does every few seconds, until nothing more comes of it. */
  private void due() {
    for (int i = 0; i < 6; i++) {
      kit.startWhatIsDue();
      kit.settleDown();
    }
  }

  private void goes(@Nullable Onward onward) {
    kit.asks(Leg.open(SITE.stage()).onward(onward));
  }

  private List<Errand> errands() {
    return kit.engine().errands().list(kit.ines, Kept.Filter.all());
  }

  private Errand errand() {
    return errands().get(0);
  }

  private @Nullable SemVer at(SiteKey site) {
    return kit.record(site).present();
  }

  private List<String> events() {
    return kit.history().stream().map(h -> h.event()).toList();
  }

  @Test
  void nothingGoesWhereNobodySaidSo() {
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(errands()).isEmpty();
    assertThat(at(SITE)).hasToString("1.0.0");
  }

  @Test
  void aSealedVersionRunsAtTheFirstStageByTheRightsOfWhoeverSaidSo() {
    goes(RUN);
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(errand().state()).as(errand().sentence()).isEqualTo(Errand.State.DONE);
    assertThat(errand().by()).as("not who was named in the request").isEqualTo("ines");
    assertThat(errand().cause()).isEqualTo("1.1.0 was sealed");
    assertThat(at(SITE)).hasToString("1.1.0");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(events()).contains("sent on its way", "errand done");
  }

  @Test
  void orIsPreparedAlone() {
    goes(PREPARED);
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(errand().state()).isEqualTo(Errand.State.DONE);
    assertThat(errand().sentence()).isEqualTo("P-1 is prepared.");
    assertThat(kit.promotion(1).preparedBy()).isEqualTo("ines");
    assertThat(at(SITE)).hasToString("1.0.0");
  }

  @Test
  void itWaitsForAYesAndRunsThen() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)).onward(RUN));
    kit.sealPeak("1.1.0", "25.00");
    due();
    assertThat(errand().state()).isEqualTo(Errand.State.WAITING);
    assertThat(errand().sentence()).contains("approval");
    assertThat(at(SITE)).hasToString("1.0.0");

    Promotion p = kit.promotion(1);
    kit.engine().promotions().approve(kit.bram, 1, true, p.requirePlan().fingerprint().shown(), "");
    due();

    assertThat(errand().state()).isEqualTo(Errand.State.DONE);
    assertThat(at(SITE)).hasToString("1.1.0");
  }

  @Test
  void aNoStopsItAndSoDoesNobodysYes() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)).onward(RUN));
    kit.sealPeak("1.1.0", "25.00");
    due();
    kit.engine()
        .promotions()
        .approve(
            kit.bram, 1, false, kit.promotion(1).requirePlan().fingerprint().shown(), "Not now");
    due();
    assertThat(errand().state()).isEqualTo(Errand.State.STOPPED);
    assertThat(errand().sentence()).startsWith("P-1 is left to people");

    kit.engine().promotions().withdraw(kit.ines, 1, "Another one comes");
    kit.sealPeak("1.2.0", "26.00");
    due();
    assertThat(errand().state()).isEqualTo(Errand.State.WAITING);
    kit.clock.tick(Errand.PATIENCE.plusDays(1));
    due();
    assertThat(errand().state()).isEqualTo(Errand.State.STOPPED);
    assertThat(errand().sentence()).startsWith("Nobody opened in 30 days");
  }

  @Test
  void whatTakesSomethingAwayIsLeftToPeople() {
    goes(RUN);
    kit.development().gone(BAND, "PEAK");
    kit.seal("1.1.0", EngineKit.ALL.toArray(String[]::new));
    due();

    assertThat(errand().state()).isEqualTo(Errand.State.STOPPED);
    assertThat(errand().sentence()).startsWith("P-1 is left to people: its run takes away");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(events()).contains("errand stopped");
  }

  @Test
  void whatMovedThereIsLeftToPeople() {
    goes(RUN);
    kit.production().row(BAND, row("PEAK", "99.00"));
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(errand().state()).isEqualTo(Errand.State.STOPPED);
    assertThat(errand().sentence()).startsWith("P-1 is left to people");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("99.00");
  }

  @Test
  void linkByLinkItComesToTheNextStage() {
    SiteKey live = kit.stageAfter("live", Stage.Role.TEST, Leg.open("live").onward(RUN));
    kit.matchAt(live);
    goes0(RUN);
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(at(SITE)).hasToString("1.1.0");
    assertThat(at(live)).hasToString("1.1.0");
    assertThat(errands())
        .extracting(Errand::cause)
        .containsExactly("1.1.0 came to production/main", "1.1.0 was sealed");
  }

  /** The first leg goes on; the others stay as they are. */
  private void goes0(Onward onward) {
    var path = kit.engine().paths().list().get(0);
    List<Leg> legs = new java.util.ArrayList<>(path.legs());
    legs.set(0, legs.get(0).onward(onward));
    kit.engine()
        .paths()
        .change(
            kit.ines, new plenzo.core.stage.Path(path.key(), path.name(), path.source(), legs, 0));
  }

  @Test
  void whereAGoodVerdictIsAskedItGoesWhenThatIsGiven() {
    SiteKey live =
        kit.stageAfter("live", Stage.Role.TEST, Leg.open("live").judged(true).onward(RUN));
    kit.matchAt(live);
    kit.sealPeak("1.1.0", "25.00");
    kit.run(kit.prepare("1.1.0"));
    due();
    assertThat(errands()).isEmpty();

    kit.engine()
        .verdicts()
        .judge(kit.bram, "fares", SITE, new SemVer("1.1.0"), false, "The lamp is red");
    due();
    assertThat(errands()).isEmpty();

    kit.engine()
        .verdicts()
        .judge(kit.bram, "fares", SITE, new SemVer("1.1.0"), true, "Now it is green");
    due();
    assertThat(at(live)).hasToString("1.1.0");
    assertThat(errand().cause()).isEqualTo("1.1.0 was judged good at production/main");
  }

  @Test
  void itOutlivesAKillBetweenAnyTwoSteps() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)).onward(RUN));
    kit.sealPeak("1.1.0", "25.00");
    kit.restart();
    kit.startWhatIsDue();
    kit.restart();
    kit.engine().promotions().resume();
    due();
    assertThat(kit.<Integer>read(kept -> kept.promotions().all().size())).isEqualTo(1);
    kit.engine()
        .promotions()
        .approve(kit.bram, 1, true, kit.promotion(1).requirePlan().fingerprint().shown(), "");
    kit.startWhatIsDue();
    kit.restart();
    kit.recover();
    due();

    assertThat(kit.<Integer>read(kept -> kept.runs().of(1).size())).isEqualTo(1);
    assertThat(errands()).hasSize(1);
    assertThat(errand().state()).isNotEqualTo(Errand.State.WAITING);
  }

  @Test
  void whoIsKeptOutByNowLetsNothingGo() {
    goes(RUN);
    kit.engine()
        .people()
        .change(kit.bram, "ines", new plenzo.engine.people.People.Facts(null, true, null), null);
    kit.sealPeak("1.1.0", "25.00");
    due();

    assertThat(errand0().state()).isEqualTo(Errand.State.STOPPED);
    assertThat(errand0().sentence()).contains("ines, by whose rights it goes, is kept out");
    assertThat(at(SITE)).hasToString("1.0.0");
  }

  private Errand errand0() {
    return kit.engine().errands().list(kit.bram, Kept.Filter.all()).get(0);
  }

  @Test
  void aNewerOneGoesInsteadOfOneThatWaitsAndNobodyGoesOnWithWhatWasStopped() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)).onward(RUN));
    kit.sealPeak("1.1.0", "25.00");
    due();
    kit.sealPeak("1.2.0", "26.00");
    due();
    assertThat(errands()).extracting(Errand::version).containsExactly("1.2.0", "1.1.0");
    assertThat(errands().get(1).sentence()).isEqualTo("1.2.0 goes instead.");
    assertThat(errand().promotion()).isEqualTo(2);

    Errand stopped = kit.engine().errands().stop(kit.bram, errand().number());
    assertThat(stopped.sentence()).isEqualTo("Stopped by bram");
    assertThatThrownBy(() -> kit.engine().errands().stop(kit.bram, stopped.number()))
        .hasMessageContaining("ER-2 is stopped");
    assertThatThrownBy(
            () ->
                kit.engine().errands().stop(EngineKit.person("edda", Right.LOOK), stopped.number()))
        .isInstanceOf(Problem.class);
    due();
    assertThat(errand().sentence()).as("nobody goes on with it").isEqualTo("Stopped by bram");
  }

  // --- again and again -----------------------------------------------------------------------

  private Repeat repeat(String rule) {
    return kit.engine()
        .repeats()
        .add(kit.ines, new Repeats.Asked("fares", SITE.stage(), null, rule, null));
  }

  private Repeat repeat() {
    return kit.engine().repeats().list(kit.ines, Kept.Filter.all()).get(0);
  }

  private void comesUp() {
    kit.clock.tick(Duration.between(kit.clock.instant(), repeat().next()));
    due();
  }

  @Test
  void theNewestVersionGoesEachNight() {
    kit.sealPeak("1.1.0", "24.00");
    kit.sealPeak("1.2.0", "25.00");
    repeat("FREQ=DAILY;BYHOUR=2;BYMINUTE=0");
    due();
    assertThat(errands()).as("not before its time").isEmpty();

    comesUp();
    assertThat(at(SITE)).hasToString("1.2.0");
    assertThat(errand().cause()).isEqualTo("RP-1");
    assertThat(repeat().sentence()).isEqualTo("1.2.0 is on its way to 1 of 1 site.");

    comesUp();
    assertThat(errands()).hasSize(1);
    assertThat(repeat().sentence())
        .isEqualTo(
            "Nothing goes: 1.2.0, the newest that was sealed: every site of production has it or one is"
                + " on its way.");
    assertThat(repeat().state()).isEqualTo(Repeat.State.ACTIVE);
  }

  @Test
  void aNightThatWasMissedIsSaidAndNotCaughtUp() {
    kit.sealPeak("1.1.0", "25.00");
    repeat("FREQ=DAILY;BYHOUR=2;BYMINUTE=0");
    kit.clock.tick(Duration.between(kit.clock.instant(), repeat().next()).plusMinutes(11));
    kit.restart();
    due();

    assertThat(errands()).isEmpty();
    assertThat(repeat().sentence()).startsWith("It was missed");
    assertThat(events()).contains("repeat missed");
    assertThat(repeat().next()).isAfter(kit.clock.instant());
    comesUp();
    assertThat(at(SITE)).hasToString("1.1.0");
  }

  @Test
  void itEndsWithItsLastTimeOrByAWord() {
    repeat("FREQ=DAILY;BYHOUR=2;BYMINUTE=0;COUNT=1");
    comesUp();
    assertThat(repeat().state()).isEqualTo(Repeat.State.OVER);
    assertThat(events()).contains("repeat over");

    Repeat second = repeat("FREQ=DAILY");
    kit.engine().repeats().end(kit.ines, second.number());
    assertThat(repeat().state()).isEqualTo(Repeat.State.ENDED);
    assertThatThrownBy(() -> kit.engine().repeats().end(kit.ines, second.number()))
        .hasMessageContaining("RP-2 is ended");
  }

  @Test
  void productionIsLeftAloneUnlessItsLegSaysSo() {
    Leg leg = Leg.open("live").asking(new Leg.Quorum("", 1));
    assertThatThrownBy(() -> kit.stageAfter("live", Stage.Role.PRODUCTION, leg))
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.code()).isEqualTo("SECOND_PERSON"));
    kit.engine().proposals().agree(kit.bram, 1, "");
    Repeats.Asked asked = new Repeats.Asked("fares", "live", null, "FREQ=DAILY", null);

    assertThatThrownBy(() -> kit.engine().repeats().add(kit.ines, asked))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("BY_HAND"));
  }

  @Test
  void whoMayNotRunThereRepeatsNothing() {
    assertThatThrownBy(
            () ->
                kit.engine()
                    .repeats()
                    .add(
                        EngineKit.person("edda", Right.LOOK, Right.PREPARE),
                        new Repeats.Asked("fares", SITE.stage(), null, "FREQ=DAILY", null)))
        .isInstanceOf(Problem.class);
  }
}
