package plenzo.engine.waves;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan;
import plenzo.core.probe.WhenFailed;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Waves;
import plenzo.core.promotion.Waves.Between;
import plenzo.core.promotion.Waves.Came;
import plenzo.core.promotion.Waves.State;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.Killed;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** Two sites of a stage, wave after wave. */
class InWavesTest extends KitTest {
  private static final SemVer OLD = new SemVer("1.0.0");
  private static final SemVer NEW = new SemVer("1.1.0");
  private SiteKey south;

  @BeforeEach
  void world() {
    kit.adopt();
    south = kit.site("south");
    kit.matchAt(south);
    kit.sealPeak("1.1.0", "25.00");
  }

  private void asks(Leg leg) {
    kit.asks(leg);
  }

  private InWaves.Standing prepare(Waves.Rules rules, List<List<SiteKey>> waves) {
    long number =
        kit.engine()
            .waves()
            .prepare(
                kit.ines, new InWaves.Asked("fares", NEW, "production", null, waves, rules, ""))
            .waves()
            .number();
    kit.settleDown();
    return standing(number);
  }

  private InWaves.Standing prepare() {
    return prepare(new Waves.Rules(Between.GO_ON, 0, 0), List.of());
  }

  private InWaves.Standing standing(long number) {
    return kit.engine().waves().standing(kit.ines, number);
  }

  private InWaves.Standing start(InWaves.Standing s) {
    kit.engine()
        .waves()
        .start(kit.ines, s.waves().number(), String.valueOf(s.fingerprint().shown()));
    kit.settleDown();
    return standing(s.waves().number());
  }

  private SemVer at(SiteKey site) {
    return kit.record(site).present();
  }

  private static void refused(Runnable act, String code) {
    assertThatThrownBy(act::run)
        .isInstanceOfSatisfying(Problem.class, e -> assertThat(e.code()).isEqualTo(code));
  }

  @Test
  void eachSiteGetsItByARunOfItsOwnOneWaveAfterTheOther() {
    InWaves.Standing s = start(prepare());

    assertThat(s.waves().state()).isEqualTo(State.DONE);
    assertThat(s.waves().sentence()).isEqualTo("2 of 2 sites have 1.1.0.");
    assertThat(s.there()).isEqualTo(2);
    assertThat(at(SITE)).isEqualTo(NEW);
    assertThat(at(south)).isEqualTo(NEW);
    assertThat(s.parts()).allMatch(p -> p.state() == PromotionState.DONE);
  }

  @Test
  void theNextWaveWaitsForAWordWhereThatWasAgreed() {
    InWaves.Standing s = start(prepare(new Waves.Rules(Between.WORD, 0, 0), List.of()));

    assertThat(s.waves().state()).isEqualTo(State.WAITING);
    assertThat(at(SITE)).isEqualTo(NEW);
    assertThat(at(south)).isEqualTo(OLD);
    kit.engine().waves().goOn(kit.ines, s.waves().number());
    kit.settleDown();
    assertThat(standing(s.waves().number()).waves().state()).isEqualTo(State.DONE);
    assertThat(at(south)).isEqualTo(NEW);
    refused(() -> kit.engine().waves().goOn(kit.ines, s.waves().number()), "NOT_OPEN");
  }

  @Test
  void orForSomeMinutesAlsoOverARestart() {
    InWaves.Standing s = start(prepare(new Waves.Rules(Between.GO_ON, 30, 0), List.of()));
    kit.restart().recover();
    assertThat(at(south)).as("not yet").isEqualTo(OLD);

    kit.clock.tick(Duration.ofMinutes(31));
    kit.recover();

    assertThat(standing(s.waves().number()).waves().state()).isEqualTo(State.DONE);
    assertThat(at(south)).isEqualTo(NEW);
  }

  @Test
  void sitesOfOneWaveRunBesideEachOther() {
    InWaves.Standing s =
        prepare(new Waves.Rules(Between.WORD, 0, 0), List.of(List.of(SITE, south)));
    assertThat(start(s).waves().state()).as("nothing is between").isEqualTo(State.DONE);
  }

  @Test
  void nothingMoreIsBegunWhenOneDoesNotComeThrough() {
    InWaves.Standing s = prepare();
    kit.production().script.once(At.SWITCH, () -> kit.production().row(BAND, row("PEAK", "7")));

    InWaves.Standing after = start(s);

    assertThat(after.waves().state()).isEqualTo(State.STOPPED);
    assertThat(after.came()).containsExactly(Came.FAILED, Came.NOT_YET);
    assertThat(after.waves().sentence())
        .isEqualTo(
            "0 of 2 sites have 1.1.0. production/main: R-1 stopped, nothing changed: What the plan"
                + " read has moved: records/fares.band row PEAK. Nothing was changed. Nothing more"
                + " is begun.");
    assertThat(at(south)).isEqualTo(OLD);
    assertThat(after.parts()).as("each site is free again").allMatch(p -> !p.state().open());
  }

  @Test
  void oneMayFailWhereTheRulesAllowIt() {
    InWaves.Standing s = prepare(new Waves.Rules(Between.GO_ON, 0, 1), List.of());
    kit.production().script.once(At.SWITCH, () -> kit.production().row(BAND, row("PEAK", "7")));

    InWaves.Standing after = start(s);

    assertThat(after.waves().state()).isEqualTo(State.DONE);
    assertThat(after.waves().sentence()).startsWith("1 of 2 sites has 1.1.0. production/main: R-1");
    assertThat(at(south)).isEqualTo(NEW);
  }

  /** The north stays, the south goes back by itself. */
  @Test
  void aSiteThatWentBackByItselfDidNotComeThroughAndTheOtherStays() {
    asks(Leg.open("production").failing(WhenFailed.BACK));
    for (String host : List.of("production", "south")) {
      kit.hosts.at(host).answers.put("q", "\"13.80\"");
    }
    kit.probe("quote", "q", /* mustStay= */ true);
    InWaves.Standing s = prepare();
    kit.databases
        .at("south")
        .script
        .once(
            At.SWITCHED,
            () -> {
              kit.hosts.at("south").answers.put("q", "\"138.00\"");
              kit.databases
                  .at("south")
                  .script
                  .once(At.SWITCHED, () -> kit.hosts.at("south").answers.put("q", "\"13.80\""));
            });

    InWaves.Standing after = start(s);

    assertThat(at(SITE)).isEqualTo(NEW);
    assertThat(at(south)).as("back").isEqualTo(OLD);
    assertThat(kit.hosts.at("south").maintenance).isFalse();
    assertThat(after.waves().state()).isEqualTo(State.STOPPED);
    assertThat(after.came()).containsExactly(Came.THERE, Came.FAILED);
    assertThat(after.waves().sentence())
        .startsWith("1 of 2 sites has 1.1.0. production/south:")
        .contains("quote answers otherwise than before")
        .contains("; there is 1.0.0");
  }

  @Test
  void oneSiteGoesBackAloneAfterwards() {
    start(prepare());
    kit.run(kit.back(Plan.Way.BACKUP));
    assertThat(at(SITE)).isEqualTo(OLD);
    assertThat(at(south)).isEqualTo(NEW);
  }

  @Test
  void oneYesIsForAllAndASiteThatMovedAsksAgainWhileTheOthersStand() {
    asks(Leg.open("production").asking(new Leg.Quorum("", 1)));
    InWaves.Standing s = prepare();
    long number = s.waves().number();
    refused(
        () -> kit.engine().waves().start(kit.ines, number, s.fingerprint().shown()), "GATE_CLOSED");
    refused(
        () -> kit.engine().waves().approve(kit.ines, number, true, s.fingerprint().shown(), ""),
        "OWN_PROMOTION");
    refused(
        () -> kit.engine().waves().approve(kit.bram, number, true, "7c1e-90ab-k3mz", ""),
        "FINGERPRINT");
    kit.engine().waves().approve(kit.bram, number, true, s.fingerprint().shown(), "");
    assertThat(standing(number).closed()).isEmpty();

    kit.databases.at("south").row(BAND, row("PEAK", "21.00"));
    Promotion moved = standing(number).parts().get(1);
    kit.engine().promotions().compareAgain(kit.ines, moved.number());
    kit.settleDown();

    InWaves.Standing now = standing(number);
    assertThat(now.fingerprint()).isNotEqualTo(s.fingerprint());
    assertThat(now.parts().get(0).approvals()).allMatch(a -> a.counts());
    assertThat(now.parts().get(1).approvals()).noneMatch(a -> a.counts());
    assertThat(now.closed()).hasSize(1).first().asString().startsWith("production/south");
  }

  @Test
  void itsPromotionsAreNotActedOnAlone() {
    InWaves.Standing s = prepare();
    Promotion p = s.parts().get(0);
    refused(() -> kit.start(p), "IN_RELEASE");
    assertThat(p.waves()).isEqualTo("W-1");
    assertThat(p.release()).isNull();
  }

  @Test
  void aSiteThatCannotBeReachedIsLeftForLaterAndOwed() {
    kit.databases.at("south").script.fallSilent();
    InWaves.Standing s = prepare();
    long number = s.waves().number();
    assertThat(s.fingerprint()).as("one has no plan").isNull();

    kit.engine().waves().leave(kit.ines, number, south, "no line");
    InWaves.Standing left = standing(number);
    assertThat(left.closed()).isEmpty();
    InWaves.Standing after = start(left);

    assertThat(after.waves().state()).isEqualTo(State.DONE);
    assertThat(after.waves().sentence()).isEqualTo("1 of 2 sites has 1.1.0.");
    assertThat(after.owed()).containsExactly(south);
    assertThat(after.waves().left()).extracting(Waves.Left::reason).containsExactly("no line");
    refused(() -> kit.engine().waves().leave(kit.ines, number, SITE, "late"), "NOT_OPEN");

    kit.databases.at("south").script.wake();
    kit.run(kit.prepare("1.1.0", south));
    assertThat(standing(number).owed()).as("it has it by now").isEmpty();
  }

  @ParameterizedTest
  @EnumSource(
      value = At.class,
      names = {"PREPARE", "SWITCH", "SWITCHED"})
  void aKillInTheSecondWaveLeavesEachSiteWhollyOldOrWhollyNew(At at) {
    InWaves.Standing s = prepare();
    kit.databases.at("south").script.killAt(at);
    assertThatThrownBy(() -> start(s)).isInstanceOf(Killed.class);

    kit.restart().recover();
    kit.recover();

    boolean came = at == At.SWITCHED;
    InWaves.Standing after = standing(s.waves().number());
    assertThat(at(SITE)).isEqualTo(NEW);
    assertThat(at(south)).isEqualTo(came ? NEW : OLD);
    assertThat(kit.databases.at("south").value(BAND, "PEAK", "amount"))
        .isEqualTo(came ? "25.00" : "20.00");
    assertThat(after.waves().state()).isEqualTo(came ? State.DONE : State.STOPPED);
    assertThat(kit.hosts.at("south").maintenance).isFalse();
    assertThat(kit.recover()).isZero();
  }

  @Test
  void whatWasLeftWithUsersOutIsUndecidedUntilSomebodyDecides() {
    asks(Leg.open("production").failing(WhenFailed.PAUSE));
    kit.host().answers.put("q", "\"13.80\"");
    kit.probe("quote", "q", /* mustStay= */ true);
    InWaves.Standing s = prepare();
    kit.production().script.once(At.SWITCHED, () -> kit.host().answers.put("q", "\"138.00\""));
    start(s);
    kit.engine().runs().steering().end(kit.ines, 1, "wrong");
    kit.settleDown();
    InWaves.Standing waits = standing(s.waves().number());
    assertThat(waits.waves().state()).isEqualTo(State.RUNNING);
    assertThat(waits.came().get(0)).isEqualTo(Came.NOT_YET);

    kit.run(kit.back(Plan.Way.BACKUP));

    InWaves.Standing after = standing(s.waves().number());
    assertThat(after.waves().state()).isEqualTo(State.STOPPED);
    assertThat(after.there()).isZero();
    assertThat(at(south)).isEqualTo(OLD);
  }

  @Test
  void itIsWithdrawnWithAllItsPromotions() {
    InWaves.Standing s = prepare();
    refused(() -> kit.engine().waves().withdraw(kit.ines, s.waves().number(), " "), "REASON");
    kit.engine().waves().withdraw(kit.ines, s.waves().number(), "not this week");
    InWaves.Standing after = standing(s.waves().number());
    assertThat(after.waves().state()).isEqualTo(State.WITHDRAWN);
    assertThat(after.parts()).allMatch(p -> p.state() == PromotionState.WITHDRAWN);
  }

  @Test
  void wavesAreForSitesOfOneStageThatDoNotHaveItEachOnce() {
    Waves.Rules rules = new Waves.Rules(Between.GO_ON, 0, 0);
    SiteKey nowhere = new SiteKey("production", "west");
    refused(() -> prepare(rules, List.of(List.of(SITE), List.of(SITE))), "TWICE");
    refused(() -> prepare(rules, List.of(List.of(SITE))), "ONE_SITE");
    refused(() -> prepare(rules, List.of(List.of(SITE), List.of(nowhere))), "NO_SUCH_SITE");
    refused(() -> prepare(rules, List.of(List.of(SITE, south), List.of())), "EMPTY");
    kit.bring("1.1.0");
    refused(() -> prepare(rules, List.of()), "ALL_THERE");
  }
}
